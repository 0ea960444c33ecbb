import { outside } from '@/core/places/places'
import { answering, requireToken } from '../../../server/requests'
import { database } from '@/store/database'
import { listLocations } from '@/store/locations'

export const dynamic = 'force-dynamic'

export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  return Response.json({ locations: outside(await listLocations(database())).map(({ id: _id, ...location }) => location) })
})
