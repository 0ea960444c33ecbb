import { answering, readBody, requireToken } from '../../../../../server/requests'
import { incidentOut } from '../../../../../server/representations'
import { beginPractice } from '../../../../../server/practice'
import { requireCheck } from '@/store/checks'
import { database } from '@/store/database'

export const dynamic = 'force-dynamic'

/** Begins a practice outage: made up, marked, and told of the whole way. */
export const POST = answering<{ params: Promise<{ key: string }> }>(async (request, { params }) => {
  const person = await requireToken(request, 'respond')
  const { state, for: lasts } = await readBody(request)
  const incident = await beginPractice(await requireCheck(database(), (await params).key), { state: state ?? 'down', lasts: lasts ?? '10m' }, person, Date.now())
  return Response.json(incidentOut(incident), { status: 201 })
})
