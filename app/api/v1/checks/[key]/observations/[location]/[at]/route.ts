import { answering, readTime, requireToken } from '../../../../../../../server/requests'
import { observationOut } from '../../../../../../../server/representations'
import { keptObservation } from '../../../../../../../server/observation-view'

export const dynamic = 'force-dynamic'

/** One observation with everything that was kept of it. Its moment is written as in the list, or in milliseconds since 1970. */
export const GET = answering<{ params: Promise<{ key: string; location: string; at: string }> }>(async (request, { params }) => {
  await requireToken(request, 'read')
  const { key, location, at } = await params
  const { observation, evidence } = await keptObservation(key, location, readTime(at.replace(/%3a/gi, ':')))
  return Response.json({ ...observationOut(observation, location), ...(evidence ? { evidence } : {}) })
})
