import { answering, numberParameter, requireToken } from '../../../server/requests'
import { deliveryOut } from '../../../server/representations'
import { database } from '@/store/database'
import { listDeliveries } from '@/store/deliveries'

export const dynamic = 'force-dynamic'

export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  const url = new URL(request.url)
  const incident = url.searchParams.has('incident') ? numberParameter(url, 'incident', 0, 1, 4e9) : undefined
  const found = await listDeliveries(database(), { limit: numberParameter(url, 'limit', 100, 1, 1000), ...(incident === undefined ? {} : { incident }) })
  return Response.json({ deliveries: found.map(deliveryOut) })
})
