import Link from 'next/link'
import { Suspense } from 'react'
import type { Load } from '@/core/routing/load'
import type { RouteDocument } from '@/core/routing/route'
import { isOutage, troubleMark } from '@/core/incidents/incident'
import { MEANS_WORDS } from '@/core/routing/means'
import { speakClock, speakTime } from '@/core/time/zoned'
import { roleReaches } from '@/store/people'
import { RefreshOn } from '@/ui/live/live'
import { StateMark } from '@/ui/marks/state-mark'
import { QuietenButton } from '@/ui/routing/quieten-button'
import { PracticeButton } from '@/ui/routing/practice-button'
import { RehearseQuestion } from '@/ui/routing/rehearse-question'
import { NewRoute, RouteList } from '@/ui/routing/route-list'
import { RoutingHead } from '@/ui/routing/routing-nav'
import { noisyChecks } from '../../server/noise'
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
          <p className="quiet small" style={{ margin: '0 0 8px' }}>From the top; the first that fits decides. Drag a route, or press Alt and an arrow key, to move it. What no route catches, everyone hears at once by every means; a muted check tells nobody.</p>
          {view.routes.length === 0 && <div className="card empty"><h2>No route yet.</h2><p className="quiet">Everyone hears everything at once, by every means they have. Those who were told hear that it is over.</p></div>}
          <RouteList routes={view.routes.map(({ key, document, version }) => ({ key, document: document as RouteDocument, version, checks: view.counts.get(key) ?? 0 }))} names={view.names} canEdit={canEdit} />
          {view.gaps.length > 0 && <div className="notice trouble" style={{ marginTop: 14 }}><b>Gaps.</b> {view.gaps.slice(0, 6).map((gap) => gap.sentence).join(' ')}{view.gaps.length > 6 && ` And ${view.gaps.length - 6} more.`}</div>}
        </section>
        <aside className="stack">
          <section className="card pad">
            <h2 style={{ color: 'var(--ink)' }}>Rehearse</h2>
            {view.rehearsal ? <Rehearsal rehearsal={view.rehearsal} checks={view.checks} zone={view.zone} canSend={roleReaches(person, 'responder')} /> : <p className="quiet">There is no check to rehearse with yet.</p>}
          </section>
          <section className="card pad">
            <div className="apart"><h2 style={{ color: 'var(--ink)' }}>How much each was told</h2><span className="quiet small">last 7 days</span></div>
            {view.load.length === 0 ? <p className="quiet" style={{ margin: '6px 0 0' }}>Nobody was told of anything.</p> : <LoadTable load={view.load} />}
          </section>
          <Suspense fallback={<section className="card pad quiet small">Playing calmer rules on the past…</section>}><NoisyChecks canEdit={canEdit} /></Suspense>
        </aside>
      </div>
    </>
  )
}

/** Checks that tell more than anybody acts on, and what would quiet them. */
async function NoisyChecks({ canEdit }: { canEdit: boolean }) {
  const noisy = await noisyChecks(Date.now())
  if (noisy.length === 0) return null
  return (
    <section className="card pad">
      <div className="apart"><h2 style={{ color: 'var(--ink)' }}>What is noise</h2><span className="quiet small">last 14 days</span></div>
      {noisy.map((each) => (
        <div key={each.key} style={{ padding: '8px 0', borderBottom: '1px solid var(--line)' }}>
          <Link className="name strong" href={`/checks/${each.key}`}>{each.name}</Link> <span className="small quiet">{each.incidents} incidents; nobody acted on {each.untouched === each.incidents ? 'any' : each.untouched}, which were {each.messages} messages</span>
          {each.calmed ? <div className="apart small" style={{ marginTop: 4, flexWrap: 'nowrap' }}><span>With {each.calmed.words}, {each.calmed.after} instead of {each.calmed.before} in 35 days{each.calmed.later === '0 s' ? '' : `, called ${each.calmed.later} later`}.</span>{canEdit && <QuietenButton check={each.key} name={each.name} written={each.calmed.written} version={each.version} />}</div>
            : <div className="small quiet" style={{ marginTop: 4 }}>No change of its rule would quiet it without losing incidents of five minutes or more.</div>}
        </div>
      ))}
    </section>
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

function Rehearsal({ rehearsal, checks, zone, canSend }: { rehearsal: Rehearsed; checks: { key: string; name: string }[]; zone: string; canSend: boolean }) {
  const { steps, at, state } = rehearsal
  return (
    <>
      <RehearseQuestion asked={rehearsal} checks={checks} zone={zone} />
      <ol style={{ listStyle: 'none', margin: 0, padding: 0 }} aria-label="What would happen">
        <Line at={speakClock(at, zone)} mark={<StateMark state={troubleMark(state)} />} title={isOutage(state) ? `called ${state}` : state === 'burn' ? 'its budget burns too fast' : 'in warning'} detail={rehearsal.fits.length === 0 ? 'no route tells of this, so nobody hears of it' : rehearsal.fits.map((place) => (place === 0 ? 'no route fits: everyone is told' : `route ${place} fits`)).join('; ')} />
        {steps.map((step, index) => (
          <Line key={index} at={speakClock(step.at, zone)} mark={<span aria-hidden style={{ width: 8, height: 8, borderRadius: 4, background: step.receivers.length > 0 ? 'var(--action)' : 'transparent', border: '1px solid var(--action)', display: 'inline-block' }} />}
            title={step.left ? 'left out: somebody holds it' : step.receivers.length === 0 ? (step.isKnown ? 'told already by the route above' : 'reaches nobody; the next step comes at once') : peopleOf(step)} detail={step.left ? '' : detailOf(step, zone)} />
        ))}
      </ol>
      {canSend && !rehearsal.muted && (state === 'down' || state === 'slow') && <div style={{ marginTop: 10 }}><PracticeButton check={rehearsal.checkKey} state={state} /></div>}
      {rehearsal.muted && <p className="slow-text small">The check is muted now; while it is, nobody is told.</p>}
      <p className="quiet small" style={{ margin: '8px 0 0' }}>{rehearsal.isCut ? 'More would follow. ' : ''}The first three hours, computed by what tells people in earnest, with the rotas, cover and days off of that time.</p>
    </>
  )
}

function peopleOf({ receivers }: Rehearsed['steps'][number]): string {
  const names = [...new Set(receivers.map((each) => each.name))]
  return names.length > 4 ? `${names.slice(0, 3).join(', ')} and ${names.length - 3} more` : names.join(', ')
}

function detailOf({ receivers, passedOver, round }: Rehearsed['steps'][number], zone: string): string {
  const means = [...new Set(receivers.map((each) => MEANS_WORDS[each.means]))].join(' and ')
  const held = [...new Map(receivers.flatMap((each) => (each.heldUntil === undefined ? [] : [[each.name, each.heldUntil] as const])))]
  const through = receivers.filter((each) => each.passesQuiet).map((each) => each.name)
  return [round > 0 ? `${means}, again` : means, ...held.map(([name, until]) => `${receivers.length > 1 ? `${name} ` : ''}not before ${speakTime(until, zone)}, quiet hours`), ...(through.length > 0 ? ['through quiet hours'] : []), ...passedOver.map((each) => `${each.name} ${each.why}, passed over`)].filter((part) => part !== '').join('; ')
}

function Line({ at, mark, title, detail }: { at: string; mark: React.ReactNode; title: string; detail: string }) {
  return (
    <li style={{ display: 'grid', gridTemplateColumns: '70px 16px minmax(0, 1fr)', gap: 6, padding: '5px 0' }}>
      <span className="quiet code">{at}</span><span>{mark}</span>
      <span><b>{title}</b>{detail !== '' && <span className="quiet small" style={{ display: 'block' }}>{detail}</span>}</span>
    </li>
  )
}
