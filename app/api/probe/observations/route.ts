import { answering, readJson, requireProbe } from '../../../server/requests'
import { HemeronError } from '@/core/problems'
import { readObservations } from '@/core/observation-schema'
import { database } from '@/store/database'
import { acceptObservations } from '@/store/probes'

export const dynamic = 'force-dynamic'

/** Takes a batch of observations. A 204 means that they are stored for good; sending them again changes nothing. */
export const POST = answering(async (request) => {
  const probe = await requireProbe(request)
  const read = readObservations(await readJson(request))
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  const own = read.observations.filter((each) => probe.locations.includes(each.location))
  await acceptObservations(database(), own, Date.now())
  return new Response(null, { status: 204 })
})
