import { answering, requireToken } from '../../../../server/requests'
import { incidentOut } from '../../../../server/representations'
import { database } from '@/store/database'
import { listEvents, listParts, requireIncident } from '@/store/incidents'

export const dynamic = 'force-dynamic'

export const GET = answering<{ params: Promise<{ id: string }> }>(async (request, { params }) => {
  await requireToken(request, 'read')
  const incident = await requireIncident(database(), Number((await params).id))
  return Response.json(incidentOut(incident, await listEvents(database(), incident.id), await listParts(database(), incident.id)))
})
