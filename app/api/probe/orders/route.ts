import { answering, numberParameter, requireProbe } from '../../../server/requests'
import { longPoll } from '../../../server/long-poll'
import { database } from '@/store/database'
import { holdLocations, takeOrders, type Held } from '@/store/probes'

export const dynamic = 'force-dynamic'

/** Runs and tries that somebody asked for at the probe's locations; waits until there are any. */
export const GET = answering(async (request) => {
  const probe = await requireProbe(request)
  const wait = numberParameter(new URL(request.url), 'wait', 0, 0, 25)
  let held: Held = []
  let heldAt = 0
  const orders = await longPoll(request, wait, 100, async () => {
    if (Date.now() - heldAt > 5000) {
      held = await holdLocations(database(), probe, request.headers.get('hemeron-probe') ?? '', Date.now())
      heldAt = Date.now()
    }
    const found = await takeOrders(database(), probe.id, held, Date.now())
    return found.runs.length + found.tries.length > 0 ? found : undefined
  })
  return Response.json(orders ?? { runs: [], tries: [] })
})
