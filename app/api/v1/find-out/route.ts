import { askedWorld } from '../../../server/asked-world'
import { findOut, whyStandsOut } from '../../../server/find-out'
import { questionOut } from '../../../server/question-out'
import { answering, requireToken } from '../../../server/requests'
import { namedIn } from '@/core/findout/question'
import { readQuestion } from '@/core/findout/question-address'
import { HemeronError } from '@/core/problems'

export const dynamic = 'force-dynamic'

/** The answer to a question, written as in the address of Find out, and what sets its stretch apart. What cannot be read is refused. */
export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  const { searchParams } = new URL(request.url)
  const now = Date.now()
  const world = await askedWorld()
  const { question, misread } = readQuestion(Object.fromEntries([...new Set(searchParams.keys())].map((name) => [name, searchParams.getAll(name)])), world.zone, now)
  const gone = namedIn(question).filter((each) => !world.names.about.has(each))
  const problems = [...misread.map(({ part, found, expected }) => ({ path: part, found: `"${found}"`, expected })), ...gone.map((each) => ({ path: 'for', found: `"${each.slice(0, 80)}"`, expected: 'a check or a service that exists' }))]
  if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
  const found = await findOut(question, world, now)
  return Response.json(questionOut(question, found, await whyStandsOut(question, world, found), world, now))
})
