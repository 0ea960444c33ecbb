import { answering, requireToken, timeParameter } from '../../../server/requests'
import { parseDuration } from '@/core/definitions/duration'
import { TROUBLES } from '@/core/incidents/incident'
import { HemeronError } from '@/core/problems'
import { requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import { rehearseNow } from '../../../server/routing-view'

export const dynamic = 'force-dynamic'

/** Who would be told, by what and when, if a check went down, slow or into warning at a moment. */
export const GET = answering(async (request) => {
  await requireToken(request, 'read')
  const url = new URL(request.url)
  const stored = await requireCheck(database(), url.searchParams.get('check') ?? '')
  const given = url.searchParams.get('state') ?? 'down'
  const state = TROUBLES.find((each) => each === given)
  const taken = url.searchParams.get('taken')
  const takenAfter = taken === null ? undefined : parseDuration(taken)
  if (state === undefined) throw new HemeronError('bad-document', undefined, [{ path: 'state', found: `"${given.slice(0, 50)}"`, expected: `one of ${TROUBLES.join(', ')}` }])
  if (taken !== null && takenAfter === undefined) throw new HemeronError('bad-document', undefined, [{ path: 'taken', found: `"${taken.slice(0, 50)}"`, expected: 'a duration such as 5m' }])
  const { routes, steps, isCut } = await rehearseNow(stored, { state, at: timeParameter(url, 'at', Date.now()), ...(takenAfter === undefined ? {} : { takenAfter }) })
  return Response.json({
    routes, cut: isCut,
    steps: steps.map(({ at, route, step, round, left, receivers, passedOver }) => ({ at: new Date(at).toISOString(), route, step: step + 1, round: round + 1, left: left ?? null, receivers: receivers.map(({ name, means }) => ({ name, means })), passedOver }))
  })
})
