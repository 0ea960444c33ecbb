import { answering, readJson, requireToken } from '../../../server/requests'
import { writeService } from '@/core/definitions/service'
import { database } from '@/store/database'
import { addService, listServices } from '@/store/services'

export const dynamic = 'force-dynamic'

export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  return Response.json({ services: (await listServices(database())).map((service) => ({ definition: writeService(service), version: service.version })) })
})

export const POST = answering(async (request) => {
  await requireToken(request, 'write')
  const service = await addService(database(), await readJson(request))
  return Response.json({ definition: writeService(service), version: service.version }, { status: 201 })
})
