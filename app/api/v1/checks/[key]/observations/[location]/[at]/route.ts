import { answering, requireToken } from '../../../../../../../server/requests'
import { observationOut } from '../../../../../../../server/representations'
import { observationView } from '../../../../../../../server/observation-view'

export const dynamic = 'force-dynamic'

/** One observation with everything that was kept of it. Its moment is written as in the list, or in milliseconds since 1970. */
export const GET = answering<{ params: Promise<{ key: string; location: string; at: string }> }>(async (request, { params }) => {
  await requireToken(request, 'read')
  const { key, location, at } = await params
  const moment = decodeURIComponent(at)
  const { observation, evidence } = await observationView(key, location, /^\d+$/.test(moment) ? Number(moment) : Date.parse(moment))
  return Response.json({ ...observationOut(observation, location), ...(evidence ? { evidence } : {}) })
})
