import { answering, numberParameter, requireProbe } from '../../../server/requests'
import { longPoll } from '../../../server/long-poll'
import { database } from '@/store/database'
import { assignments, assignmentsTag, holdLocations } from '@/store/probes'

export const dynamic = 'force-dynamic'

/** What a probe has to do; with `If-None-Match` it waits for a change. The poll keeps the leases of its locations. */
export const GET = answering(async (request) => {
  const probe = await requireProbe(request)
  const version = request.headers.get('hemeron-probe') ?? ''
  const known = request.headers.get('if-none-match')
  const held = await longPoll(request, known ? numberParameter(new URL(request.url), 'wait', 0, 0, 25) : 0, 250, async () => {
    const held = await holdLocations(database(), probe, version, Date.now())
    return known === (await assignmentsTag(database(), held)) ? undefined : held
  })
  if (!held) return new Response(null, { status: 304 })
  const found = await assignments(database(), probe.id, held, Date.now())
  return Response.json(found, { headers: { etag: found.etag } })
})
