import { answering, readJson, requireProbe } from '../../../server/requests'
import { HemeronError } from '@/core/problems'
import { readObservations } from '@/core/observation-schema'
import { database } from '@/store/database'
import { answerTries } from '@/store/probes'

export const dynamic = 'force-dynamic'

/** Takes the answers to tries. */
export const POST = answering(async (request) => {
  const probe = await requireProbe(request)
  const body = await readJson(request)
  if (!Array.isArray(body)) throw new HemeronError('bad-request', 'Expected a list of answers.')
  const answers = body as { id?: unknown; location?: unknown; observation?: unknown }[]
  const read = readObservations(answers.map((each) => each.observation))
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  const own = answers.map((each, index) => ({ id: String(each.id), location: Number(each.location), observation: read.observations[index]! })).filter((each) => probe.locations.includes(each.location))
  await answerTries(database(), own)
  return new Response(null, { status: 204 })
})
