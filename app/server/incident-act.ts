import { answering, readBody, requireToken } from './requests'
import { incidentOut } from './representations'
import { parseDuration } from '@/core/definitions/duration'
import { HemeronError } from '@/core/problems'
import type { IncidentAct } from '@/core/incidents/incident'
import { database } from '@/store/database'
import { actOnIncident } from '@/store/incident-acts'
import { listEvents, listParts } from '@/store/incidents'
import { listPeople } from '@/store/people'

/**
 * The route of one act on an incident: `{ "text": … }` where words belong to it, `{ "to": key of a person }` for a hand-over,
 * `{ "for": "30m" }` to hold it off, `{ "tell": ["person/…"] }` to call others in, `{ "into": number }` to join it to another one.
 */
export function incidentAct(act: IncidentAct) {
  return answering<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
    const person = await requireToken(request, 'respond')
    const body = await readBody(request)
    const to = body.to === undefined ? undefined : (await listPeople(database())).find((each) => each.key === body.to || each.mail === body.to)?.id
    const lasts = body.for === undefined ? undefined : parseDuration(String(body.for))
    if (body.for !== undefined && lasts === undefined) throw new HemeronError('bad-document', undefined, [{ path: 'for', found: `"${String(body.for).slice(0, 50)}"`, expected: 'a duration such as 30m' }])
    const incident = await actOnIncident(database(), Number((await params).id), act, person, {
      ...(typeof body.text === 'string' ? { text: body.text } : {}), ...(to === undefined ? {} : { to }), ...(typeof body.into === 'number' ? { into: body.into } : {}),
      ...(body.tell === undefined ? {} : { tell: [body.tell].flat().map(String) }), ...(lasts === undefined ? {} : { until: Date.now() + lasts })
    }, Date.now())
    return Response.json(incidentOut(incident, await listEvents(database(), incident.id), await listParts(database(), incident.id)))
  })
}
