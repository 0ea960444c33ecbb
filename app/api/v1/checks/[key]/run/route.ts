import { answering, requireToken } from '../../../../../server/requests'
import { askForRuns, requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import { HemeronError } from '@/core/problems'

export const dynamic = 'force-dynamic'

/** Asks for one run now at every location of the check. */
export const POST = answering<{ params: Promise<{ key: string }> }>(async (request, { params }) => {
  await requireToken(request, 'respond')
  const stored = await requireCheck(database(), (await params).key)
  if (stored.pausedAt !== null) throw new HemeronError('wrong-state', 'The check is paused.')
  return Response.json({ locations: await askForRuns(database(), stored.id, stored.check, Date.now()) }, { status: 202 })
})
