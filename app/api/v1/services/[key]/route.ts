import { answering, ifMatch, readJson, requireToken } from '../../../../server/requests'
import { serviceOut } from '../../../../server/representations'
import { database } from '@/store/database'
import { defineAll } from '@/store/define'
import { replaceService, requireService } from '@/store/define-one'

export const dynamic = 'force-dynamic'
type Context = { params: Promise<{ key: string }> }

export const GET = answering<Context>(async (request, { params }) => {
  await requireToken(request, 'read')
  const service = await requireService(database(), (await params).key)
  return Response.json(serviceOut(service), { headers: { etag: `"${service.version}"` } })
})

/** Replaces a service; a change that would break one of its checks is refused whole. */
export const PUT = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  const service = await replaceService(database(), (await params).key, await readJson(request), ifMatch(request), person.id, Date.now())
  return Response.json(serviceOut(service), { headers: { etag: `"${service.version}"` } })
})

/** Removes a service. Refused while checks belong to it. */
export const DELETE = answering<Context>(async (request, { params }) => {
  const person = await requireToken(request, 'write')
  const service = await requireService(database(), (await params).key)
  await defineAll(database(), [{ kind: 'service', key: service.key, document: null }], `Removed the service ${service.name}`, person.id, Date.now())
  return new Response(null, { status: 204 })
})
