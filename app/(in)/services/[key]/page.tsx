import { outside } from '@/core/places/places'
import Link from 'next/link'
import { notFound } from 'next/navigation'
import { STATE_NAMES } from '@/core/states/check-state'
import { database } from '@/store/database'
import { listClients } from '@/store/clients'
import { openWindows } from '@/store/planned'
import { listSecrets } from '@/store/secrets'
import { listStates } from '@/store/states'
import { listServices } from '@/store/world'
import { RefreshOn } from '@/ui/live/live'
import { Lasting } from '@/ui/marks/moment'
import { StateMark } from '@/ui/marks/state-mark'
import { WindowButton } from '@/ui/planned/plan-actions'
import { ServiceActions } from '@/ui/services/service-actions'
import { ServiceEditor } from '@/ui/services/service-editor'
import { LinkButton } from '@/ui/shell/link-button'
import { SubNav } from '@/ui/shell/sub-nav'
import { allChecks } from '../../../server/definitions'
import { editorChoices } from '../../../server/editor'

export default async function ServicePage({ params }: { params: Promise<{ key: string }> }) {
  const { key } = await params
  const now = Date.now()
  const [services, checks, states, choices, clients, secrets, windows] = await Promise.all([listServices(database()), allChecks(), listStates(database()), editorChoices(), listClients(database()), listSecrets(database()), openWindows(database(), now)])
  const service = services.find((each) => each.key === key)
  if (!service) notFound()
  const own = checks.filter((check) => check.serviceId === service.id)
  const troubled = own.filter((check) => !['up', 'paused'].includes(states.get(check.id)?.state ?? 'nodata'))
  const others = services.filter((each) => each.name === service.name && each.id !== service.id)
  const declared = (service.document.secrets ?? []) as string[]
  return (
    <>
      <RefreshOn topics={['state']} pause={2000} />
      <SubNav />
      <div className="apart">
        <h1>{own.length === 0 ? `${service.name} has no checks yet.` : troubled.length === 0 ? `All ${own.length} checks of ${service.name} are as they should be.` : `${troubled.length} of ${own.length} checks of ${service.name} ${troubled.length === 1 ? 'is' : 'are'} not simply up.`} <span className="chip">{service.stage}</span></h1>
        <span className="row">{own.some((check) => check.check.window) && <WindowButton place="service" subject={key} open={windows.some((each) => each.place === 'service' && each.subject === service.id)} />}
        <ServiceActions service={key} name={service.name} stage={service.stage} variables={(service.document.variables ?? {}) as Record<string, string>} checks={own.length} locations={outside(choices.locations)} /></span>
      </div>
      {others.length > 0 && <p className="quiet" style={{ margin: '4px 0 0' }}>{others.map((other, index) => <span key={other.id}>{index > 0 && ', '}<Link href={`/services/${key}/beside/${other.key}`}>set beside {other.stage}</Link></span>)}</p>}
      <div className="halves section">
        <section style={{ minWidth: 0 }}><h2>What its checks share</h2><div style={{ marginTop: 6 }}>
          <ServiceEditor key={service.version} document={service.document} version={service.version} choices={choices} clients={clients}
            secrets={declared.map((name) => ({ name, set: secrets.some((each) => each.place === 'service' && each.subject === service.id && each.name === name) }))} />
        </div></section>
        <section style={{ minWidth: 0 }}>
          <div className="apart"><h2>Its checks</h2><LinkButton href={`/checks/new?service=${key}`} quiet>New check</LinkButton></div>
          <div className="card scroll" style={{ marginTop: 6 }}><table className="table"><tbody>
            {own.length === 0 && <tr><td className="quiet">Nothing is watched for it yet.</td></tr>}
            {own.map((check) => {
              const state = states.get(check.id)
              return (
                <tr key={check.id}><td style={{ width: 28 }}><StateMark state={state?.state ?? 'nodata'} /></td>
                  <td><Link className="name" href={`/checks/${check.check.key}`}>{check.check.name}</Link><div className="quiet small code clip" style={{ maxWidth: 330 }}>{check.address}</div></td>
                  <td>{check.overrides.length > 0 && <span className="small" title={check.overrides.join(', ')}>otherwise: {check.overrides.slice(0, 2).join(', ')}{check.overrides.length > 2 && ` and ${check.overrides.length - 2} more`}</span>}</td>
                  <td className="number small quiet">{state && <>{STATE_NAMES[state.state]} <Lasting since={state.since} first={now} /></>}</td></tr>
              )
            })}
          </tbody></table></div>
        </section>
      </div>
    </>
  )
}
