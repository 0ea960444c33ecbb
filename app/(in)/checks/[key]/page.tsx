import Link from 'next/link'
import { notFound } from 'next/navigation'
import { speakAvailability } from '@/core/availability/availability'
import { speakReadings } from '@/core/conditions/glance'
import type { KindDefinition } from '@/core/definitions/kind'
import { speakDuration, speakLength, speakMilliseconds } from '@/core/definitions/duration'
import { speakPlaces } from '@/core/incidents/incident'
import { speakPattern } from '@/core/patterns/daily-pattern'
import { speakWeekly } from '@/core/patterns/weekly-pattern'
import { shortReason } from '@/core/reasons/reasons'
import { checkSentence } from '@/core/sentence/check-sentence'
import { STATE_NAMES, type CheckState } from '@/core/states/check-state'
import { HOUR } from '@/core/units'
import { kinds, stepsOf } from '@/kinds/definitions'
import { requireCheck, type Halt, type StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { LazyDistributions } from '@/ui/charts/lazy-distributions'
import { LazyPhasesChart } from '@/ui/charts/lazy-phases-chart'
import { SeriesKey } from '@/ui/charts/series-key'
import { LazyResponseChart } from '@/ui/charts/lazy-response-chart'
import { RefreshOn } from '@/ui/live/live'
import { Lasting, Moment } from '@/ui/marks/moment'
import { PhaseBar, PhaseKey } from '@/ui/marks/phase-bar'
import { StateMark } from '@/ui/marks/state-mark'
import { Ribbon } from '@/ui/ribbon/ribbon'
import { SentenceView } from '@/ui/sentence/sentence-view'
import { CheckActions } from '@/ui/shell/check-actions'
import { WindowButton } from '@/ui/planned/plan-actions'
import { NextRun } from '@/ui/shell/next-run'
import { toldView, type ToldView } from '../../../server/told-view'
import { ToldTable } from '@/ui/told/told-table'
import { ToldAddress } from '@/ui/told/told-address'
import { roleReaches } from '@/store/people'
import { signedIn } from '../../../server/session'
import { timeShape, type TimeShape } from '../../../server/time-shape'
import { checkView, RANGES, type RangeName } from '../../../server/check-view'
import { HemeronError, problemSentence } from '@/core/problems'

type View = Awaited<ReturnType<typeof checkView>>

export default async function CheckPage({ params, searchParams }: { params: Promise<{ key: string }>; searchParams: Promise<{ range?: string; days?: string }> }) {
  const { key } = await params
  const { range: wanted, days: wantedDays } = await searchParams
  const allDays = wantedDays === '35'
  const range: RangeName = wanted !== undefined && wanted in RANGES ? (wanted as RangeName) : '24h'
  const stored = await requireCheck(database(), key).catch((error: unknown) => {
    if (error instanceof HemeronError && error.code === 'not-found') notFound()
    throw error
  })
  const now = Date.now()
  const view = await checkView(stored, range, now, allDays)
  const { check } = stored
  const told = await toldView(stored, roleReaches(await signedIn(), 'editor'), now)
  const state = view.state?.state ?? 'nodata'
  const sentence = checkSentence(check, kinds, view.all, stored.settled)
  const kind = kinds[check.kind] as unknown as KindDefinition
  const isTimed = kind.phases.length > 1
  const edit = `/checks/${key}/edit`
  const most = Math.max(1, ...view.rows.map((row) => Object.values(row.times?.phases ?? {}).reduce((sum, each) => sum + each, 0)))
  return (
    <>
      <RefreshOn topics={['check', 'state']} subject={stored.id} pause={1200} />
      <RefreshOn topics={['definitions']} pause={1200} />
      <div className="apart">
        <div className="row"><StateMark state={state} size={14} /><h1>{check.name}</h1>
          {view.service && <Link className="chip" href={`/checks?service=${view.service.key}`}>{view.service.name}, {view.service.stage}</Link>}
          {check.tags.map((tag) => <span key={tag} className="chip">{tag}</span>)}{check.importance !== 'normal' && <span className="chip">{check.importance}</span>}
          </div>
        <span className="row">{check.window && <WindowButton place="check" subject={key} open={view.window} />}<CheckActions checkKey={key} name={check.name} paused={stored.pausedAt !== null} muted={stored.mutedAt !== null} /></span>
      </div>
      <p style={{ margin: '8px 0', fontSize: 15, lineHeight: 1.75 }}>
        <SentenceView sentence={sentence.what} editHref={edit} /> {(sentence.conditions.length > 0 || !check.isInside) && 'It passes when '}{sentence.conditions.length === 0 ? (check.isInside ? '' : 'there is any answer') : sentence.conditions.map((condition, index) => <span key={index}>{index > 0 && (index === sentence.conditions.length - 1 ? ' and ' : ', ')}<SentenceView sentence={condition} editHref={edit} /></span>)}{(sentence.conditions.length > 0 || !check.isInside) && '. '}<SentenceView sentence={sentence.down} editHref={edit} /> {sentence.slow.length > 0 && <SentenceView sentence={sentence.slow} editHref={edit} />}
      </p>
      <Halts stored={stored} now={now} />
      <div className={state === 'down' || state === 'suspect' ? 'notice trouble' : 'notice'} role="status">
        <StateLine view={view} state={state} now={now} />{' '}
        {view.beats.length > 0 && <span className="quiet"><NextRun beats={view.beats} places={view.places.map(({ id, place }) => ({ id, place }))} first={now} /></span>}
        {state === 'suspect' && view.missing.locations > 0 && <b> {view.missing.tries} more failed {view.missing.tries === 1 ? 'try' : 'tries'} at {view.missing.locations} {view.missing.locations === 1 ? 'location' : 'locations'} before it is called down.</b>}
        {view.incident && <> <Link href={`/incidents/${view.incident.id}`}>Open the incident</Link></>}
      </div>
      {told?.what && told.address && <ToldAddress checkKey={key} what={told.what} address={told.address} awaited={told.awaited} />}
      <div className="detail section">
        {told ? <ToldSection view={told} now={now} /> : <section style={{ minWidth: 0 }}>
          <div className="apart" style={{ marginBottom: 6 }}><h2>By location, last {view.lately === HOUR ? 'hour' : speakDuration(view.lately)}</h2>{isTimed && <PhaseKey phases={kind.phases} />}</div>
          <div className="card scroll"><table className="table">
            <thead><tr><th style={{ width: 30 }}><span className="sr">State</span></th><th>Location</th><th>Last observation</th><th>{isTimed ? 'Where the time went' : 'What it measured'}</th><th className="number">p50</th><th className="number">p95</th><th className="number">Passed</th></tr></thead>
            <tbody>{[...view.rows].sort((a, b) => rank(b) - rank(a)).map((row) => <LocationLine key={row.place.id} kind={kind} row={row} most={most} now={now} />)}</tbody>
          </table></div>
        </section>}
        <section style={{ minWidth: 0 }}>
          <div className="apart" style={{ marginBottom: 6 }}><h2>Day by day</h2><span className="quiet small">aligned by hour, newest first; <Link href={`/checks/${key}?range=${range}${allDays ? '' : '&days=35'}`} scroll={false}>{allDays ? '10 days' : '35 days'}</Link></span></div>
          <div className="card pad">
            {view.days.map((day, index) => (
              <div key={day.name} style={{ display: 'grid', gridTemplateColumns: '56px 1fr', alignItems: 'end', gap: 4 }}>
                <span className={index === 0 ? 'small strong' : 'small quiet'}>{day.name}</span>
                <Ribbon blocks={day.blocks} range={day.range} now={now} begins={Math.max(day.range.from, stored.createdAt)} height={allDays ? 10 : 16} label={day.name} />
              </div>
            ))}
            <div className="small quiet" style={{ display: 'grid', gridTemplateColumns: '56px repeat(4, 1fr)', marginTop: 4 }}><span /><span>00:00</span><span>06:00</span><span>12:00</span><span>18:00</span></div>
            {view.weekly && <div className="slow-text strong" style={{ marginTop: 8 }}>{speakWeekly(view.weekly)}</div>}
            {view.pattern && <div className="slow-text strong" style={{ marginTop: 8 }}>{speakPattern(view.pattern)}</div>}
          </div>
          <div className="card pad row" style={{ marginTop: 12, justifyContent: 'space-between' }}>
            {view.available.map((each) => (
              <div key={each.name} title={each.lowest === undefined ? undefined : 'from all time without data being down to all of it being up'}>
                <div className="strong">{each.share === undefined ? '—' : `${speakAvailability(each.share)}%`}</div><div className="quiet small">{each.name}, {each.outages} {each.outages === 1 ? 'outage' : 'outages'}</div>
                {each.lowest !== undefined && speakAvailability(each.lowest) !== speakAvailability(each.highest!) && <div className="quiet small">{speakAvailability(each.lowest)} to {speakAvailability(each.highest!)}</div>}
              </div>
            ))}
          </div>
        </section>
      </div>
      {kind.phases.length > 0 && !check.isInside && <section className="section">
        <div className="apart" style={{ marginBottom: 6 }}>
          <h2>Response time <span className="small" style={{ fontWeight: 400, marginLeft: 6 }}>p95 of all locations{view.chart.usualKnown ? ' against what is usual for the hour' : '; what is usual is not known yet'}</span></h2>
          <nav className="row small" aria-label="Time range">{(Object.keys(RANGES) as RangeName[]).map((name) => <Link key={name} href={`/checks/${key}?range=${name}`} scroll={false} aria-current={name === range || undefined} className={name === range ? 'strong' : 'quiet'} style={{ padding: '4px 2px' }}>{name.replace(/(\d+)/, '$1 ')}</Link>)}<Link className="chip" href={`/find-out?for=check/${key}&over=${range}`} style={{ minHeight: 26, fontWeight: 600 }}>Find out why</Link>{stepsOf(check).length > 1 && <Link className="chip" href={`/find-out?for=check/${key}&by=step&over=${range}`} style={{ minHeight: 26, fontWeight: 600 }}>Which step</Link>}</nav>
        </div>
        <div className="card" style={{ padding: '8px 4px' }}><LazyResponseChart points={view.chart.points} from={view.chart.from} to={view.chart.to} outages={view.chart.outages} marks={view.marks.map(({ at, title }) => ({ at, title }))} {...(check.slow?.phase === 'total' && check.slow.above !== 'usual' ? { slowAbove: check.slow.above } : {})} /></div>
      </section>}
      {kind.phases.length > 0 && !check.isInside && <TimesShape shape={await timeShape(stored.id, RANGES[range], kind.phases, now)} range={range} now={now} />}
      <section className="section">
        <h2>Changes of state</h2>
        <div className="card scroll"><table className="table"><tbody>
          {view.changes.length === 0 && <tr><td className="quiet">Nothing has changed in 30 days.</td></tr>}
          {view.changes.map((change, index) => {
            const until = index === 0 ? now : view.changes[index - 1]!.since
            return (
              <tr key={change.id}>
                <td style={{ width: 30 }}><StateMark state={change.to} /></td><td style={{ width: 130 }} className="strong">{STATE_NAMES[change.to]}</td>
                <td style={{ width: 150 }} className="quiet"><Moment at={change.since} now={now} /></td><td style={{ width: 130 }} className="quiet">{speakLength(until - change.since)}{index === 0 && ' so far'}</td>
                <td>{change.sentence}{change.to === 'down' && <span className="quiet"> {speakPlaces(change.failing, change.locations)}</span>}</td>
              </tr>
            )
          })}
        </tbody></table></div>
      </section>
    </>
  )
}

/** What the times look like beside those before, and what they are made of. */
function TimesShape({ shape: { distribution, tries, parts, phases }, range, now }: { shape: TimeShape; range: RangeName; now: number }) {
  if (tries.after === 0) return null
  const name = range.replace(/(\d+)/, '$1 ')
  return (
    <div className="halves section">
      <section style={{ minWidth: 0 }}>
        <div className="apart" style={{ marginBottom: 6 }}><h2>How often each time was seen</h2><SeriesKey before={`the ${name} before, ${tries.before}`} after={`these ${name}, ${tries.after}`} /></div>
        <div className="card" style={{ padding: '8px 4px' }}><LazyDistributions points={distribution} names={[`the ${name} before`, `these ${name}`]} height={200} /></div>
      </section>
      <section style={{ minWidth: 0 }}>
        <div className="apart" style={{ marginBottom: 6 }}><h2>Where the time goes</h2>{phases.length > 1 && <PhaseKey phases={phases} />}</div>
        <div className="card" style={{ padding: '8px 4px' }}><LazyPhasesChart parts={parts} phases={phases} from={now - RANGES[range]} to={now} /></div>
      </section>
    </div>
  )
}

const TOLD_TITLES = { runs: 'Runs of the job', numbers: 'Numbers', members: 'The checks it judges' }

/** What a check that Hemeron judges itself goes by. */
function ToldSection({ view, now }: { view: ToldView; now: number }) {
  const [title] = Object.keys(view.told) as [keyof typeof TOLD_TITLES]
  const shown = 'numbers' in view.told && view.told.count > view.told.numbers.length ? `the first ${view.told.numbers.length} of ${view.told.count}` : title === 'runs' ? 'newest first' : ''
  return (
    <section style={{ minWidth: 0 }}>
      <div className="apart" style={{ marginBottom: 6 }}><h2>{TOLD_TITLES[title]}</h2><span className="quiet small">{shown}</span></div>
      <div className="card scroll" style={{ maxHeight: 640 }} tabIndex={0} role="group" aria-label={TOLD_TITLES[title]}><ToldTable told={view.told} now={now} /></div>
    </section>
  )
}

/** A pause and a mute, with who, why and until when; and what keeps the check from running. */
function Halts({ stored, now }: { stored: StoredCheck; now: number }) {
  const line = (name: string, halt: Halt | null) => halt && <div className="notice" style={{ marginBottom: 8 }}><b>{name}</b> since <Moment at={halt.at} now={now} />{halt.by && ` by ${halt.by}`}{halt.until === null ? ', until somebody ends it' : <>, until <Moment at={halt.until} now={now} /></>}{halt.reason && `: ${halt.reason}`}</div>
  return <>{line('Paused', stored.paused)}{line('Muted, nobody is told,', stored.muted)}{stored.broken.length > 0 && <div className="notice trouble" style={{ marginBottom: 8 }} role="alert">It cannot run. {stored.broken.map(problemSentence).join(' ')}</div>}</>
}

const rank = (row: View['rows'][number]) => (row.memory?.failing ? 4 : row.memory?.failingSince !== undefined ? 3 : row.memory?.slow || row.last?.verdict === 'slow' ? 2 : row.last?.verdict === 'warn' ? 1 : 0)
const RANK_STATES: CheckState[] = ['up', 'warning', 'slow', 'suspect', 'down']

function StateLine({ view, state, now }: { view: View; state: CheckState; now: number }) {
  if (!view.state || (state === 'nodata' && view.state.newest === null)) return <><b>No data yet.</b> {view.rows.length > 0 && 'It runs now, for the first time.'}</>
  return (
    <><b>{STATE_NAMES[state]}</b> for <Lasting since={view.state.since} first={now} />{state === 'down' && ` ${speakPlaces(view.state.failing, view.state.locations)}`}
      {view.state.sentence && state !== 'up' && <>: {view.state.sentence}</>}.</>
  )
}

function LocationLine({ kind, row, most, now }: { kind: KindDefinition; row: View['rows'][number]; most: number; now: number }) {
  const { place, last, times } = row
  const state = last ? RANK_STATES[rank(row)]! : 'nodata'
  return (
    <tr>
      <td><StateMark state={state} /></td>
      <td><b>{place.place}</b> <span className="quiet small">{place.network}</span></td>
      <td>{last === undefined ? <span className="quiet">nothing yet</span> : last.verdict === 'fail' ? <span className="down-text strong" title={last.sentence}>{last.reason === 'status' ? last.status : shortReason(last.reason)}{last.server && ` from ${last.server}`}</span>
        : last.verdict === 'slow' ? <span className="slow-text strong">slow</span> : last.verdict === 'warn' ? <span className="slow-text" title={last.sentence}>warning</span> : <span className="quiet">passing in {speakMilliseconds(last.total)}</span>}
        {last && <span className="quiet small">, <Moment at={last.at} now={now} clock /></span>}</td>
      <td>{last && (kind.phases.length > 1 ? <PhaseBar phases={times?.phases ?? {}} most={most} width={170} /> : <span className="quiet small">{speakReadings(kind, last.readings ?? {})}</span>)}</td>
      <td className="number">{times?.p50 === undefined ? '—' : speakMilliseconds(times.p50)}</td>
      <td className="number">{times?.p95 === undefined ? '—' : speakMilliseconds(times.p95)}</td>
      <td className="number">{times ? `${times.passed} of ${times.tries}` : '—'}</td>
    </tr>
  )
}
