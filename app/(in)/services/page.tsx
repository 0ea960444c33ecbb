import Link from 'next/link'
import { speakDuration } from '@/core/definitions/duration'
import { formatShare } from '@/core/definitions/share'
import type { CheckState } from '@/core/states/check-state'
import { STATE_NAMES, STATES } from '@/core/states/check-state'
import { database } from '@/store/database'
import { listClients } from '@/store/clients'
import { listStates } from '@/store/states'
import { listServices, type StoredService } from '@/store/world'
import { RefreshOn } from '@/ui/live/live'
import { StateMark } from '@/ui/marks/state-mark'
import { NewService } from '@/ui/services/new-service'
import { SubNav } from '@/ui/shell/sub-nav'
import { allChecks } from '../../server/definitions'

export const metadata = { title: 'Services' }

export default async function Services() {
  const [services, checks, states, clients] = await Promise.all([listServices(database()), allChecks(), listStates(database()), listClients(database())])
  const groups = [...new Set(services.map((service) => service.name))].map((name) => services.filter((service) => service.name === name))
  const countsOf = (service: StoredService) => {
    const own = checks.filter((check) => check.serviceId === service.id).map((check) => states.get(check.id)?.state ?? 'nodata')
    return STATES.map((state) => ({ state, count: own.filter((each) => each === state).length })).filter((each) => each.count > 0)
  }
  return (
    <>
      <RefreshOn topics={['state', 'definitions']} pause={2000} />
      <SubNav />
      <h1>{services.length === 0 ? 'There is no service yet.' : `${groups.length} ${groups.length === 1 ? 'service' : 'services'} at ${new Set(services.map((service) => service.stage)).size} stages share what their checks have in common.`}</h1>
      {services.length > 0 && (
        <div className="card scroll" style={{ marginTop: 10 }}><table className="table">
          <thead><tr><th>Service</th><th>Stage</th><th>Checks</th><th>Every</th><th>Objective</th><th>Looked after for</th><th>Variables</th><th /></tr></thead>
          <tbody>{groups.flatMap((group) => group.map((service, index) => (
            <tr key={service.id}>
              <td>{index === 0 ? <Link href={`/services/${service.key}`} className="name">{service.name}</Link> : <span className="sr">{service.name}</span>}</td>
              <td><Link href={`/services/${service.key}`}>{service.stage}</Link></td>
              <td><Counts counts={countsOf(service)} /></td>
              <td>{service.document.every === undefined ? <span className="quiet">as the workspace</span> : speakWritten(String(service.document.every))}</td>
              <td>{service.objective ? `${formatShare(service.objective.available)} over ${speakDuration(service.objective.over)}` : <span className="quiet">none</span>}</td>
              <td>{clients.find((client) => client.key === service.client)?.name ?? service.client ?? ''}</td>
              <td className="code clip" style={{ maxWidth: 240 }}>{Object.keys((service.document.variables ?? {}) as object).join(', ')}</td>
              <td className="number">{index > 0 && <Link href={`/services/${group[0]!.key}/beside/${service.key}`}>Set beside {group[0]!.stage}</Link>}</td>
            </tr>
          )))}</tbody>
        </table></div>
      )}
      <NewService />
    </>
  )
}

const speakWritten = (written: string) => written.replace(/(\d)([a-z])/, '$1 $2').replace(/ m$/, ' min')

function Counts({ counts }: { counts: { state: CheckState; count: number }[] }) {
  if (counts.length === 0) return <span className="quiet">none</span>
  return <span className="row" style={{ gap: 12 }}>{counts.map(({ state, count }) => <span key={state} className="row" style={{ gap: 5 }} title={STATE_NAMES[state]}><StateMark state={state} />{count}</span>)}</span>
}
