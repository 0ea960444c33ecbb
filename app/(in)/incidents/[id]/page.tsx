import Link from 'next/link'
import { notFound } from 'next/navigation'
import { incidentLength, incidentTitle, speakPlaces } from '@/core/incidents/incident'
import { speakServers } from '@/core/incidents/contrast-servers'
import { HemeronError } from '@/core/problems'
import type { Evidence } from '@/core/observation'
import { speakTime, speakClock } from '@/core/time/zoned'
import type { CheckState } from '@/core/states/check-state'
import { database } from '@/store/database'
import { requireIncident, type IncidentEvent } from '@/store/incidents'
import { IncidentActions, NoteField } from '@/ui/incident/incident-actions'
import { RefreshOn } from '@/ui/live/live'
import { Moment } from '@/ui/marks/moment'
import { StateMark } from '@/ui/marks/state-mark'
import { Ribbon } from '@/ui/ribbon/ribbon'
import { incidentView } from '../../../server/incident-view'
import { signedIn } from '../../../server/session'

const EVENT_STATES: Record<string, CheckState> = { 'first-failure': 'suspect', 'tried-again': 'suspect', 'called-down': 'down', 'called-slow': 'slow', over: 'up' }

export default async function IncidentPage({ params }: { params: Promise<{ id: string }> }) {
  const person = await signedIn()
  const incident = await requireIncident(database(), Number((await params).id)).catch((error: unknown) => {
    if (error instanceof HemeronError && error.code === 'not-found') notFound()
    throw error
  })
  const now = Date.now()
  const view = await incidentView(incident, now)
  const { zone } = view
  const facts = {
    checkName: incident.checkName, trouble: incident.trouble, sentence: incident.sentence, since: incident.since, failing: incident.failing, locations: incident.locations,
    ...(incident.lastPass === null ? {} : { lastPass: incident.lastPass }), ...(incident.endedAt === null ? {} : { endedAt: incident.endedAt }), ...(incident.lastFail === null ? {} : { lastFail: incident.lastFail })
  }
  const { contrast } = view
  const servers = speakServers(contrast)
  const isOpen = incident.closedAt === null
  const affected = view.lines.filter((line) => line.blocks.length > 0)
  const others = view.lines.length - affected.length
  return (
    <>
      <RefreshOn topics={['incident']} subject={incident.id} pause={600} />
      <RefreshOn topics={['check']} subject={incident.check} pause={4000} />
      <div className="apart" style={{ alignItems: 'flex-start' }}>
        <div className="row" style={{ flexWrap: 'nowrap', alignItems: 'flex-start', flex: '1 1 300px' }}><span style={{ paddingTop: 7 }}><StateMark state={isOpen && incident.endedAt === null ? incident.trouble : 'up'} size={14} /></span>
          <h1>{servers ? `${incidentTitle(facts)}. ${contrast.culprit} alone gives the failing answers.` : `${incidentTitle(facts)}: ${incident.sentence.split(';')[0]}.`}</h1></div>
        <IncidentActions id={incident.id} open={isOpen} held={incident.holder !== null} mine={incident.holder === person.id} notReal={incident.notReal} people={view.people.filter((each) => each.id !== incident.holder).map(({ id, name }) => ({ id, name }))} />
      </div>
      <p style={{ margin: '8px 0 14px' }}>
        <Link href={`/checks/${incident.checkKey}`}><b>{incident.checkName}</b></Link> {incident.endedAt === null ? 'fails' : 'failed'} {speakPlaces(incident.failing, incident.locations)}, {incidentLength(facts, now)}; it began {incident.lastPass === null ? '' : `after ${speakClock(incident.lastPass, zone)} and `}not after {speakClock(incident.since, zone)}.{' '}
        {isOpen ? (incident.holderName ? <><b>{incident.holderName}</b> holds it.</> : <b>Nobody holds it.</b>) : incident.endedAt === null ? `${incident.closedBy ?? 'Someone'} closed it before it ended.` : `It ended at ${speakTime(incident.endedAt, zone)}.`}{' '}
        {view.told > 0 && `${view.told} ${view.told === 1 ? 'message has' : 'messages have'} gone out. `}{view.waiting > 0 && <b>{view.waiting} wait to be sent. </b>}{incident.notReal && <span className="chip">not real</span>} {servers}
      </p>
      <div className="detail">
        <div className="stack" style={{ minWidth: 0 }}>
          <section>
            <div className="apart" style={{ marginBottom: 6 }}><h2>By location</h2><span className="quiet small">{speakTime(view.range.from, zone)} to {speakTime(view.range.to, zone)}; a notch is a try between two scheduled ones</span></div>
            <div className="card pad">
              {affected.map((line) => <div key={line.place.id} style={{ display: 'grid', gridTemplateColumns: 'minmax(90px, 150px) 1fr', alignItems: 'end', gap: 6 }}><b className="clip small" title={line.place.network}>{line.place.place}</b><Ribbon blocks={line.blocks} range={view.range} now={now} height={18} label={line.place.place} notches={line.notches} /></div>)}
              {others > 0 && <div style={{ display: 'grid', gridTemplateColumns: 'minmax(90px, 150px) 1fr', alignItems: 'end', gap: 6 }}><span className="quiet small">{others} {affected.length > 0 ? (others === 1 ? 'other' : 'others') : 'locations'}</span><Ribbon blocks={[]} range={view.range} now={now} height={18} label="other locations" /></div>}
            </div>
          </section>
          {view.counts.bad > 0 && Object.keys(contrast.failing).length > 0 && (
            <section><h2>Servers of failing and passing tries</h2>
              <div className="card scroll"><table className="table"><thead><tr><th>Server</th><th className="number">Failing, {view.counts.bad} tries</th><th className="number">Passing, {view.counts.good} tries</th></tr></thead>
                <tbody>{[...new Set([...Object.keys(contrast.failing), ...Object.keys(contrast.passing)])].sort((a, b) => (contrast.failing[b] ?? 0) - (contrast.failing[a] ?? 0) || a.localeCompare(b)).map((name) => (
                  <tr key={name} style={{ background: name === contrast.culprit ? 'var(--down-soft)' : undefined }}><td className="strong">{name}</td><td className="number">{contrast.failing[name] ?? 0}</td><td className="number">{contrast.passing[name] ?? 0}</td></tr>
                ))}</tbody></table></div></section>
          )}
          <section>
            <div className="apart" style={{ marginBottom: 6 }}><h2>The answer that {incident.trouble === 'down' ? 'failed' : 'was slow'}</h2><span className="quiet small">{view.failed && <>{view.lines.find((line) => line.place.id === view.failed!.location)?.place.place} {speakClock(view.failed.at, zone)}</>}{view.passedBefore && <> beside the last good one kept, {speakClock(view.passedBefore.at, zone)}</>}</span></div>
            <div className="card pad halves"><AnswerView evidence={view.failed?.evidence} bad other={view.passedBefore?.evidence} /><AnswerView evidence={view.passedBefore?.evidence} other={view.failed?.evidence} /></div>
          </section>
        </div>
        <section><h2 style={{ marginBottom: 6 }}>What happened</h2>
          <div className="card pad">
            {view.events.map((event) => <EventLine key={event.id} event={event} now={now} />)}
            <NoteField id={incident.id} />
          </div>
        </section>
      </div>
    </>
  )
}

function EventLine({ event, now }: { event: IncidentEvent; now: number }) {
  const state = EVENT_STATES[event.kind]
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '66px 18px 1fr', padding: '6px 0', alignItems: 'baseline' }}>
      <span className="quiet small"><Moment at={event.at} now={now} clock /></span>
      {state ? <StateMark state={state} size={10} /> : <svg width="10" height="10" aria-hidden><circle cx="5" cy="5" r="4" fill={event.kind === 'not-told' || event.kind === 'nobody' ? 'var(--down)' : 'var(--action)'} /></svg>}
      <div style={{ minWidth: 0 }}><b>{event.title}</b>{event.detail !== '' && <div className={event.kind === 'note' ? '' : 'quiet small'} style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>{event.detail}</div>}</div>
    </div>
  )
}

function AnswerView({ evidence, other, bad = false }: { evidence: Evidence | undefined; other: Evidence | undefined; bad?: boolean }) {
  if (!evidence) return <span className="quiet">{bad ? 'No answer was kept for this time.' : 'No earlier good answer was kept.'}</span>
  const { answer, certificate, lookup } = evidence
  if (!answer) return <pre><b className="down-text">No answer came.</b>{lookup && `\nlookup ${lookup.error ?? lookup.answers.join(', ')}`}{certificate && `\ncertificate until ${new Date(certificate.validTo).toISOString().slice(0, 10)}`}</pre>
  const differs = ([name, value]: [string, string]) => bad && !/^(date|content-length)$/i.test(name) && !other?.answer?.headers.some(([otherName, otherValue]) => otherName.toLowerCase() === name.toLowerCase() && otherValue === value)
  return (
    <pre style={{ minWidth: 0 }}><b className={bad && answer.status !== other?.answer?.status ? 'down-text' : undefined}>{answer.status} {answer.statusText}</b>{'\n'}
      {answer.headers.slice(0, 12).map((header) => <span key={header[0]} className={differs(header) ? 'down-text' : undefined}>{header[0]}: {header[1]}{'\n'}</span>)}
      {'\n'}{answer.body.slice(0, 600)}{answer.body.length > 600 && '\n…'}</pre>
  )
}
