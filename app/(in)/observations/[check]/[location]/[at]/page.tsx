import Link from 'next/link'
import { notFound } from 'next/navigation'
import { speakMilliseconds } from '@/core/definitions/duration'
import { PHASES, type Evidence, type Observation } from '@/core/observation'
import { asCurl } from '@/core/observations/curl'
import { headersBeside } from '@/core/observations/differences'
import { HemeronError } from '@/core/problems'
import { shortReason } from '@/core/reasons/reasons'
import type { CheckState } from '@/core/states/check-state'
import { speakClock, speakExactly } from '@/core/time/zoned'
import { Found, Rows, TalkView } from '@/ui/evidence/found'
import { StateMark } from '@/ui/marks/state-mark'
import { Neighbours } from '@/ui/observation/neighbours'
import { observationView } from '../../../../../server/observation-view'
import { settings, signedIn } from '../../../../../server/session'

export const metadata = { title: 'An observation' }
const MARKS: Record<Observation['verdict'], CheckState> = { pass: 'up', warn: 'warning', slow: 'slow', fail: 'down' }
type View = Awaited<ReturnType<typeof observationView>>

export default async function ObservationPage({ params }: { params: Promise<{ check: string; location: string; at: string }> }) {
  await signedIn()
  const given = await params
  const { zone } = await settings()
  const view = await observationView(given.check, given.location, Number(given.at)).catch((error: unknown) => {
    if (error instanceof HemeronError && error.code === 'not-found') notFound()
    throw error
  })
  const { stored, place, observation, evidence } = view
  return (
    <>
      <div className="apart" style={{ alignItems: 'flex-start' }}>
        <div className="row" style={{ flexWrap: 'nowrap', alignItems: 'flex-start', flex: '1 1 300px' }}><span style={{ paddingTop: 7 }}><StateMark state={MARKS[observation.verdict]} size={14} /></span><h1>{concluded(view)}</h1></div>
        <Neighbours check={stored.check.key} location={place.key} earlier={view.earlier} later={view.later} above={view.above} below={view.below} curl={evidence?.request ? asCurl(evidence.request, observation.address) : undefined} />
      </div>
      <p style={{ margin: '6px 0 14px' }}><Link href={`/checks/${stored.check.key}`}><b>{stored.check.name}</b></Link> from <b>{place.place}</b> ({place.network}), {speakExactly(observation.at, zone)}{observation.occasion === 'again' ? ', tried again after a failure' : observation.occasion === 'asked' ? ', because a person asked' : ''}.{observation.sentence && observation.verdict !== 'pass' && <> <b className={observation.verdict === 'fail' ? 'down-text' : 'slow-text'}>{observation.sentence[0]!.toUpperCase()}{observation.sentence.slice(1)}.</b></>}{view.isOlder && <span className="quiet"> It ran as version {observation.version} of the check; the conditions below are those of today.</span>}</p>
      <div className="detail">
        <div className="stack" style={{ minWidth: 0 }}>
          <section><h2 style={{ marginBottom: 6 }}>Where the time went</h2><div className="card pad"><Waterfall observation={observation} evidence={evidence} /></div></section>
          {view.conditions.length > 0 && <section><h2 style={{ marginBottom: 6 }}>Conditions</h2><div className="card scroll"><table className="table"><thead><tr><th style={{ width: 30 }}><span className="sr">Outcome</span></th><th>It passes when</th><th>Found</th></tr></thead>
            <tbody>{view.conditions.map((each, index) => <tr key={index}><td><StateMark state={each.finding === undefined ? 'nodata' : { held: 'up' as const, warned: 'warning' as const, failed: 'down' as const }[each.finding.outcome]} title={each.finding?.outcome ?? 'not looked at'} /></td><td>{each.words}</td><td className={each.finding?.outcome === 'failed' ? 'down-text strong' : undefined}>{each.finding?.found ?? <span className="quiet">{evidence ? 'not looked at' : 'not kept'}</span>}</td></tr>)}</tbody></table></div></section>}
          <Answers view={view} zone={zone} />
          {evidence?.beside && <section><h2 style={{ marginBottom: 6 }}>Looked at beside it</h2><div className="card pad">{evidence.beside.map((table) => <Rows key={table.title} table={table} now={observation.at} />)}</div></section>}
          {view.found && ((view.found.tables?.length ?? 0) > 0 || (view.found.facts?.length ?? 0) > 0) && <section><h2 style={{ marginBottom: 6 }}>What it found out</h2><div className="card pad"><Found evidence={view.found} {...(observation.readings ? { readings: observation.readings } : {})} known={view.kind.readings ?? {}} now={observation.at} /></div></section>}
          {evidence?.talk && <section><h2 style={{ marginBottom: 6 }}>What was said</h2><div className="card pad"><TalkView talk={evidence.talk} /></div></section>}
        </div>
        <div className="stack" style={{ minWidth: 0 }}>
          <section><h2 style={{ marginBottom: 6 }}>The connection</h2><div className="card pad"><Facts observation={observation} evidence={evidence} zone={zone} /></div></section>
          <section><h2 style={{ marginBottom: 6 }}>Elsewhere, near the same moment</h2><div className="card scroll"><table className="table"><tbody>
            {view.nearest.map((each) => <tr key={each.href} className="opens" style={{ background: each.isSelf ? 'var(--action-soft)' : undefined }}><td style={{ width: 26 }}><StateMark state={MARKS[each.observation.verdict]} /></td><td><Link className="name" href={each.href}>{each.place}</Link> <span className="quiet small">{each.network}</span></td><td className="quiet small">{speakClock(each.observation.at, zone)}</td><td className="number">{each.observation.verdict === 'fail' ? <span className="down-text">{each.observation.status && each.observation.reason === 'status' ? each.observation.status : shortReason(each.observation.reason)}</span> : speakMilliseconds(each.observation.total)}</td></tr>)}
          </tbody></table></div></section>
        </div>
      </div>
    </>
  )
}

function concluded({ observation, place }: View): string {
  const { verdict, status, server, total, reason } = observation
  const from = server ? ` from ${server}` : ''
  if (verdict === 'fail') return reason === 'status' && status ? `${status}${from}, after ${speakMilliseconds(total)}.` : `${place.place} failed: ${shortReason(reason)}${from}.`
  return `${status ? `${status}${from}` : server ? `An answer${from}` : 'An answer'} in ${speakMilliseconds(total)}${verdict === 'slow' ? ': slow' : verdict === 'warn' ? ': a warning' : ''}.`
}

/** The phases one under the other, each beginning where the one before ended. */
function Waterfall({ observation: { phases, total }, evidence }: { observation: Observation; evidence: Evidence | undefined }) {
  const names: Partial<Record<string, string>> = { lookup: 'name lookup', tls: 'TLS', greet: 'greeting', login: 'sign-in' }
  const known = PHASES.filter((phase) => phases[phase] !== undefined)
  if (known.length === 0) return <span className="quiet">This kind measures no phases; it took {speakMilliseconds(total)}.</span>
  const sum = Math.max(total, known.reduce((all, phase) => all + phases[phase]!, 0), 0.001)
  let begun = 0
  return (
    <div style={{ display: 'grid', gap: 5 }}>
      {known.map((phase) => {
        const [left, width] = [(100 * begun) / sum, Math.max(0.4, (100 * phases[phase]!) / sum)]
        begun += phases[phase]!
        return (
          <div key={phase} style={{ display: 'grid', gridTemplateColumns: '96px minmax(0, 1fr) 76px', alignItems: 'center', gap: 8 }}>
            <span>{names[phase] ?? phase}</span>
            <span style={{ position: 'relative', height: 14, background: 'var(--chip)', borderRadius: 2 }}><span style={{ position: 'absolute', left: `${left}%`, width: `${Math.min(width, 100 - left)}%`, top: 0, bottom: 0, background: `var(--${phase})`, borderRadius: 2 }} /></span>
            <span className="number" style={{ textAlign: 'right' }}>{speakMilliseconds(phases[phase]!)}</span>
          </div>
        )
      })}
      <div className="apart" style={{ borderTop: '1px solid var(--line)', paddingTop: 5 }}><b>Altogether</b><b>{speakMilliseconds(total)}</b></div>
      {evidence?.lookup && <div className="quiet small">{evidence.lookup.name} by {evidence.lookup.resolver}: {evidence.lookup.error ?? evidence.lookup.answers.join(', ')}</div>}
      {evidence?.redirects?.map((each, index) => <div key={index} className="quiet small">{each.status}: {each.from} → {each.to}</div>)}
    </div>
  )
}

function Facts({ observation, evidence, zone }: { observation: Observation; evidence: Evidence | undefined; zone: string }) {
  const { address, server, protocol, resolver, tlsVersion, status, bytesReceived, bytesSent, certificateEnd, readings, version } = observation
  const certificate = evidence?.certificate
  const rows: [string, React.ReactNode][] = [
    ...(address ? [['Address', <span key="a" className="code">{address}</span>] as [string, React.ReactNode]] : []), ...(server ? [['Server', server] as [string, string]] : []), ...(protocol ? [['Protocol', [protocol, ...(tlsVersion && tlsVersion !== protocol ? [tlsVersion] : [])].join(' over ')] as [string, string]] : []), ...(resolver ? [['Resolver', <span key="r" className="code">{resolver}</span>] as [string, React.ReactNode]] : []), ...(status ? [['Status', String(status)] as [string, string]] : []),
    ...(readings?.loss === undefined ? [] : [['Packets beside it', `${Math.round(100 * readings.loss)}% lost${readings.rtt === undefined ? '' : `, round trip ${speakMilliseconds(readings.rtt)}`}`] as [string, string]]),
    ...(bytesReceived === undefined ? [] : [['Received', `${bytesReceived} bytes${bytesSent ? `, sent ${bytesSent}` : ''}`] as [string, string]]),
    ...(certificateEnd ? [['Certificate until', speakExactly(certificateEnd, zone)] as [string, string]] : []), ...(certificate ? [['Certificate', `${certificate.subject}, by ${certificate.issuer}; ${certificate.protocol}, ${certificate.cipher}; ${certificate.trusted ? 'trusted' : `not trusted: ${certificate.distrust ?? ''}`}`] as [string, string]] : []),
    ...(certificate?.chain ? [['Issued through', <span key="c">{certificate.chain.map((each, index) => <span key={index} style={{ display: 'block' }}>{each.subject} <span className={each.validTo < observation.at ? 'down-text' : 'quiet small'}>until {new Date(each.validTo).toISOString().slice(0, 10)}{each.subject === each.issuer ? ', by itself' : ''}</span></span>)}</span>] as [string, React.ReactNode]] : []),
    ['Version of the check', String(version)]
  ]
  return <dl style={{ margin: 0, display: 'grid', gridTemplateColumns: 'minmax(90px, 130px) minmax(0, 1fr)', gap: '4px 10px' }}>{rows.map(([name, value]) => <div key={name} style={{ display: 'contents' }}><dt className="quiet">{name}</dt><dd style={{ margin: 0, overflowWrap: 'anywhere' }}>{value}</dd></div>)}</dl>
}

function Answers({ view, zone }: { view: View; zone: string }) {
  const { evidence, good, observation } = view
  if (!evidence) return <section><h2 style={{ marginBottom: 6 }}>Request and answer</h2><div className="card pad quiet">What was sent and received is kept for failures, slow ones, changes and a sample of the rest; of this try it was not.</div></section>
  const { request, answer } = evidence
  if (!request && !answer) return null
  const before = good?.evidence.answer
  return (
    <section>
      <div className="apart" style={{ marginBottom: 6 }}><h2>Request and answer</h2>{good && before && <span className="quiet small">beside the last good one kept, {good.place.place} {speakClock(good.at, zone)}</span>}</div>
      <div className="card pad">
        {request && <pre style={{ marginBottom: 12 }}><b>{request.method} {request.url}</b>{'\n'}{request.headers.map(([name, value]) => `${name}: ${value}`).join('\n')}</pre>}
        {!answer ? <b className="down-text">No answer came.</b> : (
          <>
            <table className="table" style={{ tableLayout: 'fixed' }}><thead><tr><th style={{ width: '26%' }}>Answer</th><th>{speakClock(observation.at, zone)}</th>{before && <th>The last good one</th>}</tr></thead>
              <tbody className="code"><tr><td>status</td><td className={before && before.status !== answer.status ? 'down-text strong' : 'strong'}>{answer.status} {answer.statusText}</td>{before && <td>{before.status} {before.statusText}</td>}</tr>
                {headersBeside(answer.headers, before?.headers ?? answer.headers).slice(0, 40).map((each) => <tr key={each.name}><td style={{ overflowWrap: 'anywhere' }}>{each.name}</td><td className={each.differs ? 'down-text strong' : undefined} style={{ overflowWrap: 'anywhere' }}>{each.now ?? <span className="quiet">—</span>}</td>{before && <td style={{ overflowWrap: 'anywhere' }}>{each.before ?? <span className="quiet">—</span>}</td>}</tr>)}</tbody></table>
            <div className={before ? 'halves' : undefined} style={{ marginTop: 12 }}><pre style={{ maxHeight: 340, overflow: 'auto' }} tabIndex={0}>{answer.body || 'no body'}{answer.bodyCut && '\n…'}</pre>{before && <pre style={{ maxHeight: 340, overflow: 'auto' }} tabIndex={0} className="quiet">{before.body}{before.bodyCut && '\n…'}</pre>}</div>
          </>
        )}
      </div>
    </section>
  )
}
