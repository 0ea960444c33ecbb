import { answering, requireToken } from '../../../server/requests'
import { database } from '@/store/database'
import { listParties } from '@/store/parties'

export const dynamic = 'force-dynamic'

/** Who stands between a visitor and an answer. */
export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  return Response.json({ parties: (await listParties(database())).map(({ key, ...rest }) => ({ party: key, ...rest })) })
})
