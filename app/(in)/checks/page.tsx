import { speakDuration } from '@/core/definitions/duration'
import { allChecks } from '../../server/definitions'
import { database } from '@/store/database'
import { listServices } from '@/store/world'
import { listStates } from '@/store/states'
import { listSummaries } from '@/store/summaries'
import { RefreshOn } from '@/ui/live/live'
import { LinkButton } from '@/ui/shell/link-button'
import { CheckTable, type CheckRow } from '@/ui/tables/check-table'

export const metadata = { title: 'Checks' }

export default async function Checks() {
  const now = Date.now()
  const [checks, services, states, summaries] = await Promise.all([allChecks(), listServices(database()), listStates(database()), listSummaries(database(), 'check')])
  const names = new Map(services.map((service) => [service.key, service.stage === 'production' ? service.name : `${service.name}, ${service.stage}`]))
  const rows = checks.map((stored): CheckRow => {
    const state = states.get(stored.id)
    const summary = summaries.get(stored.id)
    return {
      key: stored.check.key, name: stored.check.name, address: stored.address, service: names.get(stored.check.service ?? '') ?? '', serviceKey: stored.check.service ?? '',
      state: state?.state ?? 'nodata', since: state?.since ?? stored.createdAt, sentence: state?.sentence ?? '', muted: stored.mutedAt !== null, importance: stored.check.importance,
      every: speakDuration(stored.check.every), tags: stored.check.tags,
      ...(summary?.p95 === undefined ? {} : { p95: summary.p95 }), ...(summary?.usual === undefined ? {} : { usual: summary.usual }), ...(summary?.available.share === undefined ? {} : { available: summary.available.share })
    }
  })
  const troubled = rows.filter((row) => row.state !== 'up' && row.state !== 'paused').length
  if (rows.length === 0) return <div className="card empty"><h2>Nothing is watched yet.</h2><p className="quiet">The first check takes a minute.</p><LinkButton href="/checks/new" large>New check</LinkButton></div>
  return (
    <>
      <RefreshOn topics={['state', 'definitions']} pause={2000} />
      <h1>{troubled === 0 ? `All ${rows.length} checks are as they should be.` : `${troubled} of ${rows.length} checks ${troubled === 1 ? 'is' : 'are'} not simply up.`}</h1>
      <CheckTable rows={rows} now={now} services={services.map((service) => ({ key: service.key, name: names.get(service.key)! }))} />
    </>
  )
}
