import { answering, requireToken } from '../../../server/requests'
import { database } from '@/store/database'
import { listRouting } from '@/store/routing'

export const dynamic = 'force-dynamic'

/** Teams, rotas and routes in their written form; routes in the order in which they are asked. */
export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  return Response.json({ routing: await listRouting(database()) })
})
