import Link from 'next/link'
import { incidentLength, incidentTitle, speakPlaces } from '@/core/incidents/incident'
import { todayConclusion } from '@/core/incidents/conclusion'
import { database } from '@/store/database'
import { listIncidents, type Incident } from '@/store/incidents'
import { RefreshOn } from '@/ui/live/live'
import { Lasting, Moment } from '@/ui/marks/moment'
import { StateMark } from '@/ui/marks/state-mark'
import { TakeButton } from '@/ui/incident/take-button'

export const metadata = { title: 'Incidents' }

export default async function Incidents({ searchParams }: { searchParams: Promise<{ before?: string }> }) {
  const { before } = await searchParams
  const now = Date.now()
  const [open, past] = await Promise.all([
    listIncidents(database(), { open: true, limit: 200 }), listIncidents(database(), { open: false, limit: 40, ...(before && /^\d{1,9}$/.test(before) ? { before: Number(before) } : {}) })
  ])
  return (
    <>
      <RefreshOn topics={['incident']} pause={1000} />
      <h1>{open.length === 0 ? 'Nothing is open.' : todayConclusion(open.map((each) => ({ name: each.checkName, ...(each.holderName ? { holder: each.holderName } : {}) })), { up: 1 })}</h1>
      {open.length > 0 && <section className="section"><h2>Open</h2><div className="card">{open.map((incident) => (
        <div key={incident.id} className="apart pad" style={{ borderBottom: '1px solid var(--line)' }}>
          <div style={{ display: 'grid', gridTemplateColumns: '22px 1fr', minWidth: 0, flex: '1 1 260px', alignItems: 'baseline' }}>
            <StateMark state={incident.trouble} />
            <div style={{ minWidth: 0 }}><Link className="name touch" style={{ color: 'var(--ink)', fontWeight: 700, fontSize: 15 }} href={`/incidents/${incident.id}`}>{incidentTitle({ checkName: incident.checkName, trouble: incident.trouble })}</Link>
              <div className="quiet" style={{ overflowWrap: 'anywhere' }}>{incident.sentence}</div>
              <div className="small"><b><Lasting since={incident.since} first={now} /></b> <span className="quiet">{speakPlaces(incident.failing, incident.locations)} · {incident.holderName ? `${incident.holderName} holds it` : 'nobody holds it'}</span></div></div>
          </div>
          {incident.holder === null && <TakeButton id={incident.id} />}
        </div>
      ))}</div></section>}
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

function PastLine({ incident, now }: { incident: Incident; now: number }) {
  const { since, lastPass, lastFail, endedAt } = incident
  const lasted = endedAt === null ? 'closed before it ended' : incidentLength({ since, endedAt, ...(lastPass === null ? {} : { lastPass }), ...(lastFail === null ? {} : { lastFail }) }, now)
  return (
    <tr className="opens">
      <td><StateMark state={incident.trouble} /></td>
      <td><Link className="name" href={`/incidents/${incident.id}`}>{incident.checkName} was {incident.trouble}</Link>{incident.notReal && <span className="chip" style={{ marginLeft: 6 }}>not real</span>}</td>
      <td className="quiet small wide-only"><div className="clip" style={{ maxWidth: 430 }} title={incident.sentence}>{incident.sentence}</div></td>
      <td className="quiet small" style={{ whiteSpace: 'nowrap' }}><Moment at={incident.since} now={now} /></td>
      <td className="small">{lasted}</td>
      <td className="small wide-only">{incident.holderName ?? <span className="quiet">nobody</span>}</td>
    </tr>
  )
}
