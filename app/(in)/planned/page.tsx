import { speakDuration } from '@/core/definitions/duration'
import { speakService } from '@/core/definitions/service'
import { concerns } from '@/core/planned/planned'
import { nextOccurrence } from '@/core/planned/recurrence'
import { toLocal, writeLocal } from '@/core/time/zoned'
import { database } from '@/store/database'
import { listPlanned, type StoredPlanned } from '@/store/planned'
import { listServices } from '@/store/world'
import { RefreshOn } from '@/ui/live/live'
import { Moment } from '@/ui/marks/moment'
import { StateMark } from '@/ui/marks/state-mark'
import { PlanActions } from '@/ui/planned/plan-actions'
import { PlanForm } from '@/ui/planned/plan-form'
import { SubNav } from '@/ui/shell/sub-nav'
import { allChecks } from '../../server/definitions'
import { settings } from '../../server/session'

export const metadata = { title: 'Planned work' }

export default async function PlannedPage() {
  const now = Date.now()
  const { zone } = await settings()
  const [planned, services, checks] = await Promise.all([listPlanned(database()), listServices(database()), allChecks()])
  const lines = planned.map((each) => ({ ...each, next: nextOccurrence(each.planned, now, each.ends) })).sort((a, b) => (a.next?.from ?? Infinity) - (b.next?.from ?? Infinity))
  const on = lines.filter((line) => line.next && line.next.from <= now)
  const coming = lines.filter((line) => line.next && line.next.from > now)
  return (
    <>
      <RefreshOn topics={['definitions', 'state']} pause={2000} />
      <SubNav />
      <h1>{on.length > 0 ? `${on.map((line) => line.planned.title).slice(0, 3).join(', ')} ${on.length === 1 ? 'is' : 'are'} on.` : coming.length > 0 ? `Nothing is on; ${coming.length} ${coming.length === 1 ? 'time is' : 'times are'} planned.` : 'Nothing is planned.'}</h1>
      <p className="quiet" style={{ margin: '4px 0 10px' }}>What is observed during planned work is kept and counts against nobody. A release window lets checks run, or run more often, while it is open.</p>
      {lines.length > 0 && (
        <div className="card scroll" style={{ marginBottom: 16 }}><table className="table">
          <thead><tr><th style={{ width: 30 }}><span className="sr">Kind</span></th><th>What</th><th>Next</th><th>Lasts</th><th>Repeats</th><th>Concerns</th><th /></tr></thead>
          <tbody>{lines.map((line) => (
            <tr key={line.id}>
              <td>{line.planned.does === 'work' ? <StateMark state="planned" /> : null}</td>
              <td><b>{line.planned.title}</b>{line.planned.does === 'window' && <span className="chip" style={{ marginLeft: 6 }}>release window</span>}{line.planned.public && <div className="quiet small">{line.planned.public}</div>}</td>
              <td>{!line.next ? <span className="quiet">is over</span> : line.next.from <= now ? <b>on, until <Moment at={line.next.to} now={now} /></b> : <Moment at={line.next.from} now={now} />}{line.planned.zone !== zone && <div className="quiet small">{line.planned.from.slice(11)} {line.planned.zone}</div>}</td>
              <td>{speakDuration(line.planned.lasts)}</td>
              <td className="small">{line.planned.repeats ? <code>{line.planned.repeats}</code> : 'once'}</td>
              <td className="small">{concernedBy(line, checks, services)}</td>
              <td><PlanActions planKey={line.planned.key} title={line.planned.title} to={line.next && line.next.from <= now ? line.next.to : null} /></td>
            </tr>
          ))}</tbody>
        </table></div>
      )}
      <PlanForm zone={zone} zones={[...new Set(['UTC', zone, ...Intl.supportedValuesOf('timeZone')])]} now={writeLocal(toLocal(Math.floor(now / 60_000) * 60_000, zone)).replace('T', ' ')} services={services.map((service) => ({ key: service.key, name: speakService(service) }))}
        checks={checks.map((stored) => ({ key: stored.check.key, name: stored.check.name }))} tags={[...new Set(checks.flatMap((stored) => stored.check.tags))].sort()} />
    </>
  )
}

function concernedBy({ planned }: StoredPlanned, checks: Awaited<ReturnType<typeof allChecks>>, services: Awaited<ReturnType<typeof listServices>>): string {
  const count = checks.filter((stored) => concerns(planned.for, stored.check)).length
  const { services: keys, tags, checks: own } = planned.for
  const names = [...(keys ?? []).map((key) => { const service = services.find((each) => each.key === key); return service ? speakService(service) : key }), ...(tags ?? []).map((tag) => `tagged ${tag}`), ...(own ?? [])]
  return `${names.length === 0 ? 'everything' : names.slice(0, 4).join(', ')}: ${count} ${count === 1 ? 'check' : 'checks'}`
}
