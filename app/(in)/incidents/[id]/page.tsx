import Link from 'next/link'
import { notFound, redirect } from 'next/navigation'
import { Suspense } from 'react'
import { DOING, hasWhy, incidentLength, incidentTitle, speakBegin, speakPlaces, troubleMark } from '@/core/incidents/incident'
import { speakServers } from '@/core/incidents/contrast-servers'
import { followUps } from '@/core/incidents/follow-ups'
import { HemeronError } from '@/core/problems'
import type { Evidence } from '@/core/observation'
import { speakClock, speakSpan, speakTime } from '@/core/time/zoned'
import type { CheckState } from '@/core/states/check-state'
import { database } from '@/store/database'
import { requireIncident, type Incident, type IncidentEvent } from '@/store/incidents'
import { MINUTE, SECOND } from '@/core/units'
import { VerdictTable } from '@/ui/findout/verdict-table'
import { whyOf } from '../../../server/find-out'
import { IncidentActions, NoteField } from '@/ui/incident/incident-actions'
import { FollowUps } from '@/ui/incident/follow-ups'
import { PartsTable } from '@/ui/incident/parts-table'
import { RefreshOn } from '@/ui/live/live'
import { Moment } from '@/ui/marks/moment'
import { StateMark } from '@/ui/marks/state-mark'
import { Written } from '@/ui/marks/written'
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
  if (incident.partOf !== null) redirect(`/incidents/${incident.partOf}`)
  const now = Date.now()
  const view = await incidentView(incident, now)
  const { zone } = view
  const facts = {
    checkName: incident.checkName, trouble: incident.trouble, more: incident.endedAt === null ? incident.partsOpen : incident.parts, sentence: incident.sentence, since: incident.since, failing: incident.failing, locations: incident.locations,
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
        <div className="row" style={{ flexWrap: 'nowrap', alignItems: 'flex-start', flex: '1 1 300px' }}><span style={{ paddingTop: 7 }}><StateMark state={isOpen && incident.endedAt === null ? troubleMark(incident.trouble) : 'up'} size={14} /></span>
          <h1>{servers ? `${incidentTitle(facts)}. ${contrast.culprit} alone gives the failing answers.` : `${incidentTitle(facts)}: ${incident.sentence.split(';')[0]}.`}</h1></div>
        <IncidentActions id={incident.id} open={isOpen} held={incident.holder !== null} mine={incident.holder === person.id} notReal={incident.notReal} practice={incident.practiceUntil !== null} further={view.next !== undefined} people={view.people.filter((each) => each.id !== incident.holder).map(({ id, name }) => ({ id, name }))} callable={view.callable} others={view.others} />
      </div>
      <p style={{ margin: '8px 0 14px' }}>
        <Link href={`/checks/${incident.checkKey}`}><b>{incident.checkName}</b></Link> {DOING[incident.trouble][incident.endedAt === null && incident.ownEndedAt === null ? 0 : 1]} {speakPlaces(incident.failing, incident.locations)}, {incidentLength(facts, now)}; {speakBegin(incident, zone)}.{' '}
        {isOpen ? (incident.holderName ? <><b>{incident.holderName}</b> holds it.</> : <b>Nobody holds it.</b>) : incident.endedAt === null ? `${incident.closedBy ?? 'Someone'} closed it before it ended.` : `It ended at ${speakTime(incident.endedAt, zone)}.`}{' '}
        {view.told > 0 && `${view.told} ${view.told === 1 ? 'message has' : 'messages have'} gone out. `}{view.waiting > 0 && <b>{view.waiting} wait to be sent. </b>}{incident.notReal && <span className="chip">not real</span>} {servers}
        {isOpen && incident.heldOffUntil !== null && incident.heldOffUntil > now && <> <b>Held off until {speakTime(incident.heldOffUntil, zone)}.</b></>}
        {isOpen && view.next && <> Next, at {speakTime(view.next.at, zone)}: {view.next.text}.</>}
      </p>
      {incident.practiceUntil !== null && <p className="card pad" style={{ marginBottom: 14 }}><b>A practice outage.</b> Nothing is really down; messages go the whole way{isOpen ? `, until ${speakTime(incident.practiceUntil, zone)}` : ''}. It counts in no statistics.</p>}
      <div className="detail">
        <div className="stack" style={{ minWidth: 0 }}>
          {view.parts.length > 0 && <section>
            <div className="apart" style={{ marginBottom: 6 }}><h2>{view.parts.length + 1} checks, one incident</h2><span className="quiet small">{incident.partsOpen + (incident.ownEndedAt === null && isOpen ? 1 : 0)} still fail</span></div>
            <PartsTable lead={{ name: incident.checkName, key: incident.checkKey, over: incident.ownEndedAt !== null || !isOpen, trouble: incident.trouble }} parts={view.parts.map((part) => ({
              id: part.id, name: part.checkName, key: part.checkKey, trouble: part.trouble, over: part.closedAt !== null, why: `${part.partWhy ?? ''}${part.explainedBy === null ? '' : '; held back'}`, sentence: part.sentence, since: speakTime(part.since, zone)
            }))} open={isOpen} />
          </section>}
          <Suspense fallback={<div className="card pad quiet">Looking at what sets it apart…</div>}><WhyCard incident={incident} zone={zone} now={now} parts={view.parts.map((each) => each.checkKey)} /></Suspense>
          <section>
            <div className="apart" style={{ marginBottom: 6 }}><h2>{view.parts.length > 0 ? `${incident.checkName} by location` : 'By location'}</h2><span className="quiet small">{speakTime(view.range.from, zone)} to {speakTime(view.range.to, zone)}; a notch is a try between two scheduled ones</span></div>
            <div className="card pad">
              {affected.map((line) => <div key={line.place.id} style={{ display: 'grid', gridTemplateColumns: 'minmax(90px, 150px) 1fr', alignItems: 'end', gap: 6 }}><b className="clip small" title={line.place.network}>{line.place.place}</b><Ribbon blocks={line.blocks} range={view.range} now={now} height={18} label={line.place.place} notches={line.notches} /></div>)}
              {others > 0 && <div style={{ display: 'grid', gridTemplateColumns: 'minmax(90px, 150px) 1fr', alignItems: 'end', gap: 6 }}><span className="quiet small">{others} {affected.length > 0 ? (others === 1 ? 'other' : 'others') : 'locations'}</span><Ribbon blocks={[]} range={view.range} now={now} height={18} label="other locations" /></div>}
            </div>
          </section>
          <section>
            <div className="apart" style={{ marginBottom: 6 }}><h2>The answer that {{ down: 'failed', slow: 'was slow', warning: 'warned', burn: 'failed' }[incident.trouble]}</h2><span className="quiet small">{view.failed && <>{view.lines.find((line) => line.place.id === view.failed!.location)?.place.place} {speakClock(view.failed.at, zone)}</>}{view.passedBefore && <> beside the last good one kept, {speakClock(view.passedBefore.at, zone)}</>}</span></div>
            <div className="card pad halves"><AnswerView evidence={view.failed?.evidence} bad other={view.passedBefore?.evidence} /><AnswerView evidence={view.passedBefore?.evidence} other={view.failed?.evidence} /></div>
          </section>
        </div>
        <section><div className="apart" style={{ marginBottom: 6 }}><h2>What happened</h2><Link className="small" href={`/incidents/${incident.id}/summary`}>Summary to hand on</Link></div>
          <div className="card pad">
            {view.events.map((event) => <EventLine key={event.id} event={event} now={now} />)}
            <NoteField id={incident.id} />
          </div>
          <h2 style={{ margin: '14px 0 6px' }}>Follow-ups</h2>
          <FollowUps id={incident.id} all={followUps(view.events)} />
        </section>
      </div>
    </>
  )
}

/** What failing and passing tries do not share, and who need not be called. */
async function WhyCard({ incident, zone, now, parts }: { incident: Incident; zone: string; now: number; parts: string[] }) {
  if (incident.practiceUntil !== null || !hasWhy(incident.trouble)) return null
  const stretch = { from: incident.since - SECOND, to: Math.ceil((incident.endedAt ?? incident.closedAt ?? now) / MINUTE) * MINUTE }
  const why = await whyOf(incident, parts, stretch, now)
  if (!why) return null
  const { words, verdict, href } = why
  const { parties } = verdict
  return (
    <section aria-label="What sets it apart">
      <div className="card pad" role="status"><b style={{ fontSize: 15 }}>{words.title}</b><div className="quiet" style={{ marginTop: 3 }}>{words.detail}</div>
        <div className="row small" style={{ marginTop: 6 }}><Link href={href}>Find out more, {speakSpan(stretch, zone, now)}</Link></div></div>
      {words.rows.length > 0 && <div style={{ marginTop: 10 }}><h2 style={{ marginBottom: 6 }}>{verdict.of === 'failures' ? 'What failing and passing tries do not share' : 'In the stretch and outside it'}</h2><VerdictTable rows={words.rows} of={verdict.of} /></div>}
      {parties.length > 0 && <p className="small quiet" style={{ margin: '8px 0 0' }}>{parties.map((each, index) => <span key={`${each.kind}/${each.name}`}>{index > 0 && '; '}<b>{each.name}</b> {each.verdict}: {each.why}</span>)}.</p>}
    </section>
  )
}

function EventLine({ event, now }: { event: IncidentEvent; now: number }) {
  const state = EVENT_STATES[event.kind]
  return (
    <div style={{ display: 'grid', gridTemplateColumns: '66px 18px 1fr', padding: '6px 0', alignItems: 'baseline' }}>
      <span className="quiet small"><Moment at={event.at} now={now} clock /></span>
      {state ? <StateMark state={state} size={10} /> : <svg width="10" height="10" aria-hidden><circle cx="5" cy="5" r="4" fill={event.kind === 'not-told' || event.kind === 'nobody' ? 'var(--down)' : 'var(--action)'} /></svg>}
      <div style={{ minWidth: 0 }}><b>{event.title}</b>{event.detail !== '' && (event.kind === 'note' ? <div className="written" style={{ overflowWrap: 'anywhere' }}><Written text={event.detail} /></div> : <div className="quiet small" style={{ whiteSpace: 'pre-wrap', overflowWrap: 'anywhere' }}>{event.detail}</div>)}</div>
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
