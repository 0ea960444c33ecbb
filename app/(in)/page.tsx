import { outside } from '@/core/places/places'
import Link from 'next/link'
import { LinkButton } from '@/ui/shell/link-button'
import { todayConclusion, speakCounts } from '@/core/incidents/conclusion'
import { incidentTitle, troubleMark, speakPlaces } from '@/core/incidents/incident'
import { speakDate, speakMoment, speakTime, speakDay } from '@/core/time/zoned'
import { speakAvailability } from '@/core/availability/availability'
import { formatShare } from '@/core/definitions/share'
import { speakLength, speakMilliseconds } from '@/core/definitions/duration'
import { DAY } from '@/core/units'
import { StateMark } from '@/ui/marks/state-mark'
import { Lasting } from '@/ui/marks/moment'
import { Ribbon } from '@/ui/ribbon/ribbon'
import { RefreshOn } from '@/ui/live/live'
import { BudgetBar } from '@/ui/marks/budget-bar'
import { TakeButton } from '@/ui/incident/take-button'
import { RIBBON_RANGE, today, type ServiceLine } from '../server/today'
import { settings } from '../server/session'

const inDays = (days: number) => (days === 0 ? 'within a day' : days === 1 ? 'in 1 day' : `in ${days} days`)

export default async function Today() {
  const now = Date.now()
  const { name } = await settings()
  const view = await today(now)
  const { zone, open, counts, checks, locations } = view
  if (checks.length === 0) return <Empty />
  const conclusion = todayConclusion(open.map((incident) => ({ name: incident.checkName, more: incident.partsOpen, isWarning: incident.trouble === 'warning', ...(incident.holderName ? { holder: incident.holderName } : {}) })), counts)
  return (
    <>
      <RefreshOn topics={['state', 'incident', 'definitions']} pause={1500} />
      <RefreshOn topics={['check']} pause={15_000} />
      <div className="split">
        <div>
          <h1>{conclusion}</h1>
          <p className="quiet" style={{ margin: '6px 0 12px' }}>
            {speakDate(now, zone)}, {speakTime(now, zone)} at {name} · {checks.length} {checks.length === 1 ? 'check' : 'checks'} from {outside(locations).length} {outside(locations).length === 1 ? 'location' : 'locations'}:{' '}
            {speakCounts(counts).map(({ state, text }, index) => <span key={state}>{index > 0 && ', '}{state === 'up' ? <b style={{ color: 'var(--ink)' }}>{text}</b> : text}</span>)}
            {view.newest > 0 && <> · last observation <Lasting since={view.newest} first={now} suffix=" ago" /></>}
          </p>
          {open.length > 0 && (
            <section className="card scroll" aria-label="Open incidents">
              <table className="table"><tbody>
                {open.map((incident) => (
                  <tr key={incident.id}>
                    <td style={{ width: 34 }}><StateMark state={troubleMark(incident.trouble)} /></td>
                    <td>
                      <Link href={`/incidents/${incident.id}`} style={{ color: 'var(--ink)', fontSize: 15, fontWeight: 700 }}>{incidentTitle({ checkName: incident.checkName, trouble: incident.trouble, more: incident.partsOpen })}</Link>{incident.practiceUntil !== null && <span className="chip" style={{ marginLeft: 6 }}>practice</span>}
                      <div className="quiet">{incident.sentence}</div>
                      <div className="quiet small">{speakPlaces(incident.failing, incident.locations)}</div>
                    </td>
                    <td style={{ width: 120, whiteSpace: 'nowrap' }} className="strong"><Lasting since={incident.since} first={now} /></td>
                    <td style={{ width: 210 }} className="small">{incident.holderName ? <>{incident.holderName} holds it</> : <NextStep next={view.next.get(incident.id)} zone={zone} />}</td>
                    <td style={{ width: 110, textAlign: 'right' }}>{incident.holder === null ? <TakeButton id={incident.id} /> : <LinkButton href={`/incidents/${incident.id}`} quiet>Open</LinkButton>}</td>
                  </tr>
                ))}
              </tbody></table>
            </section>
          )}
          <section className="section">
            <h2>Services <span className="small" style={{ fontWeight: 400, marginLeft: 6 }}>a block’s height is the share of locations affected</span></h2>
            <div className="card scroll">
              <table className="table">
                <thead><tr><th style={{ width: 190 }}>Service</th><th>The last 24 hours, to now</th><th className="number">30 days</th><th style={{ width: 110 }}>Error budget left</th><th className="number">p95 today</th></tr></thead>
                <tbody>{view.lines.map((line) => <ServiceRow key={line.service.id} line={line} now={now} />)}</tbody>
              </table>
            </div>
            {view.loose.length > 0 && <p className="quiet small">{view.loose.length} {view.loose.length === 1 ? 'check belongs' : 'checks belong'} to no service: {view.loose.slice(0, 6).map((check, index) => <span key={check.id}>{index > 0 && ', '}<Link href={`/checks/${check.check.key}`}>{check.check.name}</Link></span>)}</p>}
          </section>
        </div>
        <aside className="stack">
          <section><h2>On call</h2><div className="card pad">
            {view.calls.slice(0, 6).map((call) => <div key={call.rota} style={{ padding: '3px 0' }}>{call.person === undefined ? <b className="down-text">Nobody</b> : <b>{call.person}</b>} <span className="quiet">{call.rota}{call.isCover && ', standing in'}, until {speakMoment(call.to, zone, now)}</span></div>)}
            {view.calls.length === 0 && <div className="quiet">No rota yet. <Link href="/routing/rotas">Rotas</Link></div>}
            {view.gaps.length > 0 && <div className="small" style={{ marginTop: 6 }}><Link href="/routing" className="down-text">{view.gaps.length} {view.gaps.length === 1 ? 'gap' : 'gaps'} in who hears what</Link></div>}
          </div></section>
          <section><h2>Coming up</h2><div className="card pad">
            {view.plans.map((plan) => (
              <div key={`${plan.title}/${plan.from}`} style={{ display: 'grid', gridTemplateColumns: '58px 1fr', padding: '5px 0' }}>
                <b style={{ color: 'var(--planned)' }}>{plan.from <= now ? 'now' : speakDay(plan.from, zone) === speakDay(now, zone) ? speakTime(plan.from, zone) : speakDay(plan.from, zone)}</b>
                <Link href="/planned" style={{ color: 'var(--ink)' }}>{plan.title}<div className="quiet small">{plan.does === 'work' ? 'planned work' : 'release window'}, {plan.from <= now ? `until ${speakTime(plan.to, zone)}` : `for ${speakLength(plan.to - plan.from)}`}</div></Link>
              </div>
            ))}
            {view.coming.length + view.plans.length === 0 ? <span className="quiet">Nothing within a month.</span> : view.coming.map((end) => (
              <div key={end.host} style={{ display: 'grid', gridTemplateColumns: '58px 1fr', padding: '5px 0' }}>
                <b style={{ color: 'var(--action)' }}>{end.at - now < 7 * DAY ? speakDay(end.at, zone) : new Intl.DateTimeFormat('en-GB', { timeZone: zone, day: 'numeric', month: 'short' }).format(end.at)}</b>
                <Link href={`/checks/${end.key}`} style={{ color: 'var(--ink)' }}>Certificate ends<div className="quiet small" style={{ overflowWrap: 'anywhere' }}>{end.host}, {end.at < now ? `${speakLength(now - end.at)} ago` : inDays(Math.floor((end.at - now) / DAY))}</div></Link>
              </div>
            ))}
          </div></section>
          <section><h2>Worth a look</h2><div className="card pad">
            {view.look.length === 0 ? <span className="quiet">Nothing stands out.</span> : view.look.map((each) => (
              <div key={each.key} style={{ padding: '5px 0' }}><Link href={`/checks/${each.key}`} style={{ color: 'var(--ink)' }}>{each.name}</Link><div className="quiet small">{each.note}</div></div>
            ))}
          </div></section>
        </aside>
      </div>
    </>
  )
}

function NextStep({ next, zone }: { next: { at: number; text: string } | undefined; zone: string }) {
  return <><span className="quiet">Nobody holds it</span><br />{next ? <>at {speakTime(next.at, zone)} {next.text}</> : 'no further step'}</>
}

function ServiceRow({ line, now }: { line: ServiceLine; now: number }) {
  const { service, summary } = line
  const share = summary?.available.share
  const change = summary?.p95 !== undefined && summary.usual ? summary.p95 / summary.usual - 1 : undefined
  return (
    <tr className="opens">
      <td><Link href={`/checks?service=${service.key}`} className="name">{service.name}</Link> <span className="quiet">{service.stage}</span><div className="quiet small">{line.checks} {line.checks === 1 ? 'check' : 'checks'}</div></td>
      <td style={{ minWidth: 220 }}><Ribbon blocks={line.blocks} range={RIBBON_RANGE(now)} now={now} begins={line.begins} label={`${service.name}, the last 24 hours`} /></td>
      <td className="number"><b>{share === undefined ? '—' : speakAvailability(share)}</b><div className="quiet small">{service.objective ? `of ${formatShare(service.objective.available).replace('%', '')}` : 'no objective'}</div></td>
      <td>{summary?.budget === undefined ? <span className="quiet small">{service.objective ? 'not known yet' : 'no objective'}</span> : <BudgetBar left={summary.budget} />}</td>
      <td className="number">{summary?.p95 === undefined ? '—' : speakMilliseconds(summary.p95)}<div className={change !== undefined && change > 0.25 ? 'slow-text small strong' : 'quiet small'}>{change === undefined ? 'usual not known yet' : `${change >= 0 ? '+' : '−'}${Math.abs(Math.round(change * 100))}% vs usual`}</div></td>
    </tr>
  )
}

function Empty() {
  return (
    <div className="card empty">
      <h2>Nothing is watched yet.</h2>
      <p className="quiet">Give Hemeron an address; it is tried at once, and you see the whole answer before anything is saved.</p>
      <LinkButton href="/checks/new" large>Watch the first address</LinkButton>
    </div>
  )
}
