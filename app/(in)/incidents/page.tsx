import Link from 'next/link'
import { speakLength } from '@/core/definitions/duration'
import { openFollowUps } from '@/core/incidents/follow-ups'
import { holdingOf, type Holding } from '@/core/incidents/holding'
import { DAY } from '@/core/units'
import { incidentLength, incidentTitle, troubleMark, speakPlaces } from '@/core/incidents/incident'
import { todayConclusion } from '@/core/incidents/conclusion'
import { database } from '@/store/database'
import { listFollowUpEvents, listIncidents, type Incident } from '@/store/incidents'
import { RefreshOn } from '@/ui/live/live'
import { Lasting, Moment } from '@/ui/marks/moment'
import { StateMark } from '@/ui/marks/state-mark'
import { TakeButton } from '@/ui/incident/take-button'

export const metadata = { title: 'Incidents' }

export default async function Incidents({ searchParams }: { searchParams: Promise<{ before?: string }> }) {
  const { before } = await searchParams
  const now = Date.now()
  const [open, past, month, told] = await Promise.all([
    listIncidents(database(), { open: true, limit: 200 }), listIncidents(database(), { open: false, limit: 40, ...(before && /^\d{1,9}$/.test(before) ? { before: Number(before) } : {}) }),
    listIncidents(database(), { real: true, from: now - 30 * DAY, limit: 2000 }), listFollowUpEvents(database(), now - FOLLOWED)
  ])
  return (
    <>
      <RefreshOn topics={['incident']} pause={1000} />
      <h1>{open.length === 0 ? 'Nothing is open.' : todayConclusion(open.map((each) => ({ name: each.checkName, more: each.partsOpen, isWarning: each.trouble === 'warning', ...(each.holderName ? { holder: each.holderName } : {}) })), { up: 1 })}</h1>
      {open.length > 0 && <section className="section"><h2>Open</h2><div className="card">{open.map((incident) => (
        <div key={incident.id} className="apart pad" style={{ borderBottom: '1px solid var(--line)' }}>
          <div style={{ display: 'grid', gridTemplateColumns: '22px 1fr', minWidth: 0, flex: '1 1 260px', alignItems: 'baseline' }}>
            <StateMark state={troubleMark(incident.trouble)} />
            <div style={{ minWidth: 0 }}><Link className="name touch" style={{ color: 'var(--ink)', fontWeight: 700, fontSize: 15 }} href={`/incidents/${incident.id}`}>{incidentTitle({ checkName: incident.checkName, trouble: incident.trouble, more: incident.partsOpen })}</Link>{incident.practiceUntil !== null && <span className="chip" style={{ marginLeft: 6 }}>practice</span>}
              <div className="quiet" style={{ overflowWrap: 'anywhere' }}>{incident.sentence}</div>
              <div className="small"><b><Lasting since={incident.since} first={now} /></b> <span className="quiet">{speakPlaces(incident.failing, incident.locations)} · {incident.holderName ? `${incident.holderName} holds it` : 'nobody holds it'}</span></div></div>
          </div>
          {incident.holder === null && <TakeButton id={incident.id} />}
        </div>
      ))}</div></section>}
      <HowItGoes holding={holdingOf(month.map((each) => ({ ...each, holder: each.holderName })), now)} />
      <OpenFollowUps events={told} />
      <section className="section"><h2>Past</h2>
        {past.length === 0 ? <div className="card pad quiet">No incident has ended yet.</div> : (
          <div className="card scroll"><table className="table">
            <thead><tr><th style={{ width: 30 }}><span className="sr">Kind</span></th><th>What</th><th className="wide-only">Why</th><th>Since</th><th>It lasted</th><th className="wide-only">Held by</th></tr></thead>
            <tbody>{past.map((incident) => <PastLine key={incident.id} incident={incident} now={now} />)}</tbody>
          </table></div>
        )}
        {past.length === 40 && <p><Link className="touch" href={`/incidents?before=${past.at(-1)!.id}`}>Earlier ones</Link></p>}
      </section>
    </>
  )
}

/** For so long after an incident its follow-ups are asked about here. */
const FOLLOWED = 90 * DAY
const MOST_SHOWN = 12

/** What is still to be done after incidents, the newest first. */
function OpenFollowUps({ events }: { events: Awaited<ReturnType<typeof listFollowUpEvents>> }) {
  const open = openFollowUps(events)
  if (open.length === 0) return null
  return (
    <section className="section"><div className="apart"><h2>To do after incidents</h2><span className="quiet small">{open.length} open{open.length > MOST_SHOWN && `, the newest ${MOST_SHOWN} shown`}</span></div>
      <div className="card scroll"><table className="table"><tbody>{open.slice(0, MOST_SHOWN).map((each) => (
        <tr key={`${each.of.incident}/${each.text}`} className="opens"><td><Link className="name" href={`/incidents/${each.of.incident}`}>{each.text}</Link></td><td className="quiet small">{each.of.checkName}</td><td className="quiet small">{each.by}</td></tr>
      ))}</tbody></table></div>
    </section>
  )
}

/** What waits, what is held, and how quickly incidents were taken and closed. */
function HowItGoes({ holding }: { holding: Holding }) {
  if (holding.open + holding.done === 0) return null
  const cell = (value: string | number, words: string, isBad = false) => <div style={{ flex: '1 1 110px' }}><div className={isBad ? 'down-text' : undefined} style={{ fontSize: 19, fontWeight: 700 }}>{value}</div><div className="quiet small">{words}</div></div>
  return (
    <section className="section"><div className="apart"><h2>How it goes</h2><span className="quiet small">last 30 days</span></div>
      <div className="card pad">
        <div className="row" style={{ gap: 14, alignItems: 'flex-start' }}>
          {cell(holding.waiting, holding.longestWait === undefined ? 'wait for somebody' : `wait for somebody, the longest for ${speakLength(holding.longestWait)}`, holding.waiting > 0)}
          {cell(holding.held, 'held')}{cell(holding.done, 'done')}{cell(holding.untaken, 'over before anybody took them')}{cell(holding.notReal, 'not real')}
          {holding.toTake !== undefined && cell(speakLength(holding.toTake), 'until taken, in the middle')}{holding.toClose !== undefined && cell(speakLength(holding.toClose), 'until closed, in the middle')}
        </div>
        {holding.people.length > 0 && <p className="small" style={{ margin: '10px 0 0' }}>{holding.people.slice(0, 8).map((each, index) => <span key={each.name}>{index > 0 && '; '}<b>{each.name}</b> took {each.took}, after {speakLength(each.toTake)}{each.holds > 0 && `, holds ${each.holds}`}</span>)}.</p>}
      </div>
    </section>
  )
}

function PastLine({ incident, now }: { incident: Incident; now: number }) {
  const { since, lastPass, lastFail, endedAt } = incident
  const lasted = endedAt === null ? 'closed before it ended' : incidentLength({ since, endedAt, ...(lastPass === null ? {} : { lastPass }), ...(lastFail === null ? {} : { lastFail }) }, now)
  return (
    <tr className="opens">
      <td><StateMark state={troubleMark(incident.trouble)} /></td>
      <td><Link className="name" href={`/incidents/${incident.id}`}>{incidentTitle({ checkName: incident.checkName, trouble: incident.trouble, endedAt: incident.since, more: incident.parts })}</Link>{incident.practiceUntil !== null && <span className="chip" style={{ marginLeft: 6 }}>practice</span>}{incident.notReal && <span className="chip" style={{ marginLeft: 6 }}>not real</span>}</td>
      <td className="quiet small wide-only"><div className="clip" style={{ maxWidth: 430 }} title={incident.sentence}>{incident.sentence}</div></td>
      <td className="quiet small" style={{ whiteSpace: 'nowrap' }}><Moment at={incident.since} now={now} /></td>
      <td className="small">{lasted}</td>
      <td className="small wide-only">{incident.holderName ?? <span className="quiet">nobody</span>}</td>
    </tr>
  )
}
