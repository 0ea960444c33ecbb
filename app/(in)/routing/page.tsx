import type { Load } from '@/core/routing/load'
import type { RouteDocument } from '@/core/routing/route'
import { speakClock } from '@/core/time/zoned'
import { roleReaches } from '@/store/people'
import { RefreshOn } from '@/ui/live/live'
import { StateMark } from '@/ui/marks/state-mark'
import { RehearseQuestion } from '@/ui/routing/rehearse-question'
import { NewRoute, RouteList } from '@/ui/routing/route-list'
import { RoutingHead } from '@/ui/routing/routing-nav'
import { routesView, type Question } from '../../server/routing-view'
import { signedIn } from '../../server/session'

export const metadata = { title: 'Routing' }

export default async function Routing({ searchParams }: { searchParams: Promise<Question> }) {
  const person = await signedIn()
  const canEdit = roleReaches(person, 'editor')
  const view = await routesView(await searchParams, Date.now())
  return (
    <>
      <RefreshOn topics={['definitions']} pause={800} />
      <RoutingHead title="Who hears what">{canEdit && <NewRoute />}</RoutingHead>
      <div className="detail">
        <section style={{ minWidth: 0 }}>
          <p className="quiet small" style={{ margin: '0 0 8px' }}>From the top; the first that fits decides. Alt and arrow keys move a route. What no route catches, everyone hears at once by every means; a muted check tells nobody.</p>
          {view.routes.length === 0 && <div className="card empty"><h2>No route yet.</h2><p className="quiet">Everyone hears everything at once, by every means they have. Those who were told hear that it is over.</p></div>}
          <RouteList routes={view.routes.map(({ key, document, version }) => ({ key, document: document as RouteDocument, version, checks: view.counts.get(key) ?? 0 }))} names={view.names} canEdit={canEdit} />
          {view.gaps.length > 0 && <div className="notice trouble" style={{ marginTop: 14 }}><b>Gaps.</b> {view.gaps.slice(0, 6).map((gap) => gap.sentence).join(' ')}{view.gaps.length > 6 && ` And ${view.gaps.length - 6} more.`}</div>}
        </section>
        <aside className="stack">
          <section className="card pad">
            <h2 style={{ color: 'var(--ink)' }}>Rehearse</h2>
            {view.rehearsal ? <Rehearsal rehearsal={view.rehearsal} checks={view.checks} zone={view.zone} /> : <p className="quiet">There is no check to rehearse with yet.</p>}
          </section>
          <section className="card pad">
            <div className="apart"><h2 style={{ color: 'var(--ink)' }}>How much each was told</h2><span className="quiet small">last 7 days</span></div>
            {view.load.length === 0 ? <p className="quiet" style={{ margin: '6px 0 0' }}>Nobody was told of anything.</p> : <LoadTable load={view.load} />}
          </section>
        </aside>
      </div>
    </>
  )
}

function LoadTable({ load }: { load: Load[] }) {
  const percent = (share: number) => `${Math.round(100 * share)}%`
  return (
    <table className="table">
      <thead><tr><th>Person or channel</th><th className="number">Told</th><th className="number">At night</th><th className="number">Acted on</th></tr></thead>
      <tbody>{load.slice(0, 12).map((each) => (
        <tr key={each.name}><td className="strong">{each.name}</td><td className="number">{each.told}</td><td className="number">{each.isPerson ? each.atNight : '—'}</td>
          <td className={`number${each.told >= 10 && each.actedOn < 0.2 ? ' slow-text strong' : ''}`} title={each.notReal > 0 ? `${percent(each.notReal)} were not real` : undefined}>{percent(each.actedOn)}</td></tr>
      ))}</tbody>
    </table>
  )
}

type Rehearsed = NonNullable<Awaited<ReturnType<typeof routesView>>['rehearsal']>

function Rehearsal({ rehearsal, checks, zone }: { rehearsal: Rehearsed; checks: { key: string; name: string }[]; zone: string }) {
  const { steps, at, state } = rehearsal
  return (
    <>
      <RehearseQuestion asked={rehearsal} checks={checks} zone={zone} />
      <ol style={{ listStyle: 'none', margin: 0, padding: 0 }} aria-label="What would happen">
        <Line at={speakClock(at, zone)} mark={<StateMark state={state} />} title={`called ${state}`} detail={rehearsal.fits.map((place) => (place === 0 ? 'no route fits: everyone is told' : `route ${place} fits`)).join('; ')} />
        {steps.map((step, index) => (
          <Line key={index} at={speakClock(step.at, zone)} mark={<span aria-hidden style={{ width: 8, height: 8, borderRadius: 4, background: step.receivers.length > 0 ? 'var(--action)' : 'transparent', border: '1px solid var(--action)', display: 'inline-block' }} />}
            title={step.left ? 'left out: somebody holds it' : step.receivers.length === 0 ? (step.isKnown ? 'told already by the route above' : 'reaches nobody; the next step comes at once') : peopleOf(step)} detail={step.left ? '' : detailOf(step)} />
        ))}
      </ol>
      {rehearsal.muted && <p className="slow-text small">The check is muted now; while it is, nobody is told.</p>}
      <p className="quiet small" style={{ margin: '8px 0 0' }}>{rehearsal.isCut ? 'More would follow. ' : ''}The first three hours, computed by what tells people in earnest, with the rotas, cover and days off of that time.</p>
    </>
  )
}

function peopleOf({ receivers }: Rehearsed['steps'][number]): string {
  const names = [...new Set(receivers.map((each) => each.name))]
  return names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ')
}

function detailOf({ receivers, passedOver, round }: Rehearsed['steps'][number]): string {
  const means = [...new Set(receivers.map((each) => each.means))].join(' and ')
  return [round > 0 ? `${means}, again` : means, ...passedOver.map((each) => `${each.name} ${each.why}, passed over`)].filter((part) => part !== '').join('; ')
}

function Line({ at, mark, title, detail }: { at: string; mark: React.ReactNode; title: string; detail: string }) {
  return (
    <li style={{ display: 'grid', gridTemplateColumns: '70px 16px minmax(0, 1fr)', gap: 6, padding: '5px 0' }}>
      <span className="quiet code">{at}</span><span>{mark}</span>
      <span><b>{title}</b>{detail !== '' && <span className="quiet small" style={{ display: 'block' }}>{detail}</span>}</span>
    </li>
  )
}
