import { answering, readBody } from '../../../server/requests'
import { readLink, takeByLink } from '../../../server/take-link'
import { HemeronError } from '@/core/problems'
import { addEvent } from '@/store/incidents'
import { database } from '@/store/database'
import { readDelivery, replaceBy, standInFor } from '@/store/delivering'
import { note } from '@/store/live'

export const dynamic = 'force-dynamic'

/**
 * What happens in a call, as its gateway tells it: `{"event": "key", "key": "1"}` takes the incident, `{"event": "unanswered"}`
 * has another channel stand in. The answer may say something to be read into the call.
 */
export const POST = answering<{ params: Promise<{ token: string }> }>(async (request, { params }) => {
  const now = Date.now()
  const linked = await readLink((await params).token, now)
  if ('wrong' in linked) throw new HemeronError('not-found', linked.wrong)
  const { event, key } = await readBody(request)
  if (event === 'key') return Response.json({ say: key === '1' ? await takeByLink(linked, now) : 'To take it, press 1.' })
  if (event !== 'unanswered') return Response.json({})
  const call = await readDelivery(database(), linked.delivery.id)
  const other = call && linked.incident.closedAt === null ? await standInFor(database(), call) : undefined
  if (call && other && (await replaceBy(database(), call, other, 'nobody answered the phone', now))) {
    await addEvent(database(), linked.incident.id, { at: now, kind: 'not-told', title: `${other.name} stands in for ${call.channelName}`, detail: 'nobody answered the phone' })
    await note(database(), [{ topic: 'incident', subject: linked.incident.id }, { topic: 'delivery', subject: call.id }], now)
  }
  return Response.json({})
})
