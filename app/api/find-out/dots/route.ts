import { answering } from '../../../server/requests'
import { askedWorld, triesOf } from '../../../server/asked-world'
import { columnFor } from '../../../server/find-out'
import { personOfRequest } from '../../../server/session'
import { dotsOf, encodeDots, thinDots } from '@/core/findout/dots'
import { rangeOf } from '@/core/findout/question'
import { readQuestion } from '@/core/findout/question-address'
import { HemeronError } from '@/core/problems'

export const dynamic = 'force-dynamic'

/** Every single try of a question, as bytes for the chart. `groups` names the groups in the order of their colours. */
export const GET = answering(async (request) => {
  if (!(await personOfRequest())) throw new HemeronError('not-signed-in')
  const url = new URL(request.url)
  const now = Number(url.searchParams.get('now')) || Date.now()
  const world = await askedWorld()
  const asked = Object.fromEntries([...new Set(url.searchParams.keys())].map((name) => [name, url.searchParams.getAll(name)]))
  const { question } = readQuestion(asked, world.zone, now)
  const range = rangeOf(question, now)
  const { tries } = await triesOf(question, world, range, 'answer')
  const groups = (url.searchParams.get('groups') ?? '').split('\n')
  return new Response(encodeDots(thinDots(dotsOf(tries, columnFor(tries, question.by), groups, question.metric, range.from), range.to - range.from)), { headers: { 'content-type': 'application/octet-stream', 'cache-control': 'private, max-age=60' } })
})
