import { answering, numberParameter, requireToken, timeParameter } from '../../../../../server/requests'
import { observationOut } from '../../../../../server/representations'
import { requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { listObservations } from '@/store/observations'
import { VERDICTS, type Verdict } from '@/core/observation'
import { HemeronError } from '@/core/problems'
import { HOUR } from '@/core/units'

export const dynamic = 'force-dynamic'

/** Observations of a check over a time range, newest first; without one, of the last hour. */
export const GET = answering<{ params: Promise<{ key: string }> }>(async (request, { params }) => {
  await requireToken(request, 'read')
  const stored = await requireCheck(database(), (await params).key)
  const url = new URL(request.url)
  const now = Date.now()
  const locations = await listLocations(database())
  const wanted = url.searchParams.get('location')
  const location = wanted === null ? undefined : locations.find((each) => each.key === wanted)
  if (wanted !== null && !location) throw new HemeronError('bad-document', undefined, [{ path: 'location', found: `"${wanted}"`, expected: 'the key of a location' }])
  const verdict = url.searchParams.get('verdict')
  if (verdict !== null && !VERDICTS.includes(verdict as Verdict)) throw new HemeronError('bad-document', undefined, [{ path: 'verdict', found: `"${verdict}"`, expected: VERDICTS.join(', ') }])
  const to = timeParameter(url, 'to', now + 1)
  const found = await listObservations(database(), {
    check: stored.id, from: timeParameter(url, 'from', to - HOUR), to, limit: numberParameter(url, 'limit', 1000, 1, 10_000),
    ...(location ? { location: location.id } : {}), ...(verdict === null ? {} : { verdict: verdict as Verdict })
  })
  const keys = new Map(locations.map((each) => [each.id, each.key]))
  return Response.json({ observations: found.map((each) => observationOut(each, keys.get(each.location) ?? String(each.location))) })
})
