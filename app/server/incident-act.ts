import { answering, readBody, requireToken } from './requests'
import { incidentOut } from './representations'
import type { IncidentAct } from '@/core/incidents/incident'
import { database } from '@/store/database'
import { actOnIncident, listEvents } from '@/store/incidents'
import { listPeople } from '@/store/people'

/** The route of one act on an incident: `{ "text": … }` where words belong to it, `{ "to": key of a person }` for a hand-over. */
export function incidentAct(act: IncidentAct) {
  return answering<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
    const person = await requireToken(request, 'respond')
    const body = await readBody(request)
    const to = body.to === undefined ? undefined : (await listPeople(database())).find((each) => each.key === body.to || each.mail === body.to)?.id
    const incident = await actOnIncident(database(), Number((await params).id), act, person, {
      ...(typeof body.text === 'string' ? { text: body.text } : {}), ...(to === undefined ? {} : { to })
    }, Date.now())
    return Response.json(incidentOut(incident, await listEvents(database(), incident.id)))
  })
}
