import { answering, readJson, requireToken } from '../../../server/requests'
import { serviceOut } from '../../../server/representations'
import { database } from '@/store/database'
import { addService } from '@/store/define-one'
import { listServices } from '@/store/world'

export const dynamic = 'force-dynamic'

export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  return Response.json({ services: (await listServices(database())).map(serviceOut) })
})

export const POST = answering(async (request) => {
  const person = await requireToken(request, 'write')
  const service = await addService(database(), await readJson(request), person.id, Date.now())
  return Response.json(serviceOut(service), { status: 201, headers: { location: `/api/v1/services/${service.key}`, etag: `"${service.version}"` } })
})
