import { setTimeout as sleep } from 'node:timers/promises'
import Link from 'next/link'
import { Suspense } from 'react'
import { preload } from 'react-dom'
import { problemSentence } from '@/core/problems'
import { DIMENSION_NAMES, type Dimension } from '@/core/findout/dimensions'
import { LONGEST_QUESTION, namedIn, type Question } from '@/core/findout/question'
import { dotsAddress, readQuestion, writeQuestion } from '@/core/findout/question-address'
import { speakAbout, speakBeside } from '@/core/findout/question-sentence'
import { speakCount } from '@/core/definitions/count'
import { speakStatistic } from '@/core/findout/speak-statistic'
import { speakSpan, speakTime } from '@/core/time/zoned'
import { database } from '@/store/database'
import { listMarks } from '@/store/marks'
import { FindOutHead } from '@/ui/findout/find-out-nav'
import { AgainstChoice } from '@/ui/findout/against-choice'
import { FocusArea } from '@/ui/findout/focus'
import { PlacesMap, type PlaceAnswer } from '@/ui/findout/places-map'
import { QuestionBar } from '@/ui/findout/question-bar'
import { Ranking } from '@/ui/findout/ranking'
import { TriesChart } from '@/ui/findout/tries-chart'
import { VerdictTable } from '@/ui/findout/verdict-table'
import { landPath } from '@/ui/places/land'
import { VerdictActions } from '@/ui/findout/verdict-actions'
import { listIncidents } from '@/store/incidents'
import { askedWorld, type AskedWorld } from '../../server/asked-world'
import { answerByPlace, findOut, speakOne, whyStandsOut, type FoundOut, type Judged } from '../../server/find-out'
import { signedIn } from '../../server/session'

export const metadata = { title: 'Find out' }

/** Looking into a stretch keeps the process busy for a moment; the answer and its dots go out before. */
const ANSWER_FIRST = 250
const afterTheAnswer = <Found,>(look: () => Promise<Found>): Promise<Found> => sleep(ANSWER_FIRST).then(look)

export default async function FindOut({ searchParams }: { searchParams: Promise<Record<string, string | string[] | undefined>> }) {
  await signedIn()
  const now = Date.now()
  const world = await askedWorld()
  const { question, misread } = readQuestion(await searchParams, world.zone, now)
  const found = await findOut(question, world, now)
  const [marks, incidents] = await Promise.all([listMarks(database(), found.range), listIncidents(database(), { from: found.range.from, to: found.range.to, limit: 50 })])
  const note = (value: string) => noteOf(question.by, value, world)
  const groups = found.groups.map(({ code: _, name, ...rest }) => ({ ...rest, key: name, name: speakOne(question.by, name, world), ...(note(name) ? { note: note(name)! } : {}) }))
  const names = { about: [...world.names.about], values: Object.entries(world.names.values).map(([dimension, values]) => [dimension, [...values]] as [string, [string, string][]]) }
  const gone = namedIn(question).filter((each) => !world.names.about.has(each))
  const address = writeQuestion(question, world.zone)
  const about: About = { question, found, judged: afterTheAnswer(() => whyStandsOut(question, world, found)), world, now, incidents: incidents.filter((each) => found.stretch && each.since < found.stretch.to && (each.endedAt ?? now) > found.stretch.from).map((each) => ({ id: each.id, name: each.checkName })) }
  if (question.view !== 'map' && 'thinned' in found.from && !found.isEmpty) preload(dotsAddress(question, world.zone, now, groups.map((each) => each.key)), { as: 'fetch', crossOrigin: 'anonymous' })
  // what goes wrong is said where it is waited for
  about.judged.catch(() => undefined)
  return (
    <FocusArea>
      <FindOutHead />
      <QuestionBar question={question} names={names} now={now} />
      {misread.length > 0 && <div className="notice trouble" role="alert" style={{ marginBottom: 12 }}>{misread.map((each) => problemSentence({ path: each.part, found: `"${each.found}"`, expected: each.expected })).join(' ')} The rest of the question is answered.</div>}
      {gone.length > 0 && <div className="notice" style={{ marginBottom: 12 }}>{gone.map((each) => each.split('/')[1]).join(', ')} {gone.length === 1 ? 'is' : 'are'} gone; the question leaves {gone.length === 1 ? 'it' : 'them'} out.</div>}
      {found.isEmpty ? <Empty world={world} now={now} /> : (
        <>
          <Suspense key={`verdict ${address}`} fallback={<Looking found={found} zone={world.zone} now={now} />}><Conclusion {...about} /></Suspense>
          {question.view === 'map' ? <PlacesMap land={landPath()} places={await placesAsked(question, world, found)} question={question} when={found.stretch ? speakSpan(found.stretch, world.zone, now) : speakSpan(found.range, world.zone, now)} /> : <TriesChart question={question} about={speakAbout(question.about, world.names)} groups={groups} range={found.range} step={found.step} {...(found.stretch ? { stretch: found.stretch } : {})} marks={marks.map(({ at, title }) => ({ at, title }))} now={now} hasDots={'thinned' in found.from} {...(found.heat ? { heat: found.heat } : {})}
            checks={world.checks.map(({ id, check }) => [id, { key: check.key, name: check.name }])} locations={world.locations.map((each) => [each.id, { key: each.key, name: each.place }])} />}
          <p className="quiet small" style={{ margin: '6px 0 14px' }}>{'thinned' in found.from ? `${speakCount(found.tries)} observations${found.from.thinned > 1 ? `; of passing ones every ${found.from.thinned}${['th', 'st', 'nd', 'rd'][found.from.thinned] ?? 'th'} was taken, and all others` : ''}` : `${speakCount(found.tries)} observations, merged from ${found.from.rolledUp === '1h' ? 'hours' : 'days'}; single ones are shown for up to a day`}.{question.beside && found.together ? ` ${togetherSaid(question, found.together, world)}` : ''}</p>
          <div className={found.stretch ? 'halves' : undefined}>
            {found.stretch && <Suspense key={`apart ${address}`} fallback={<section><h2 style={{ marginBottom: 6 }}>{BESIDES[question.against ?? 'around']}</h2><div className="card pad quiet">Setting its observations beside the others …</div></section>}><Apart {...about} /></Suspense>}
            <Ranking groups={groups} more={found.more} question={question} />
          </div>
          {found.stretch && <Suspense fallback={null}><Parties {...about} /></Suspense>}
        </>
      )}
    </FocusArea>
  )
}

/** “Together p95 412 ms; the same hours last week 388 ms.” */
function togetherSaid(question: Question, { own, beside, tries }: NonNullable<FoundOut['together']>, world: AskedWorld): string {
  const metric = question.statistic === 'share failing' ? question.statistic : question.metric
  const other = speakBeside(question.beside!, world.names)
  if (tries === 0) return `Nothing was observed of what it is set beside: ${other}.`
  return `Together ${question.statistic} ${speakStatistic(own, metric)}; ${other} ${speakStatistic(beside, metric)}.`
}

function noteOf(by: Dimension, value: string, world: AskedWorld): string | undefined {
  if (by === 'network') return world.locations.find((each) => each.network === value)?.networkType
  if (by === 'location') return world.locations.find((each) => each.key === value)?.network
  return by === 'check' ? world.services.find((each) => each.id === world.checks.find(({ check }) => check.key === value)?.serviceId)?.name : undefined
}

/** What every location that lies on the map sees, in the stretch that is looked at or all the time. */
async function placesAsked(question: Question, world: AskedWorld, found: FoundOut): Promise<PlaceAnswer[]> {
  const { stretch, range } = found
  const groups = await answerByPlace(question, world, stretch ?? range)
  const before = stretch && stretch.from - range.from > 10 * 60_000 ? await answerByPlace(question, world, { from: range.from, to: stretch.from }) : []
  return groups.flatMap(({ name, tries, fails, value }) => {
    const place = world.locations.find((each) => each.key === name)
    return place && place.latitude !== null && place.longitude !== null ? [{ key: name, place: place.place, network: place.network, country: place.country, latitude: place.latitude, longitude: place.longitude, tries, fails, ...(value === undefined ? {} : { value }), ...beforeOf(before.find((each) => each.name === name)) }] : []
  })
}

const beforeOf = (group: { value?: number } | undefined) => (group?.value === undefined ? {} : { before: group.value })

/** An answer with what is still being found out about it. */
interface About { question: Question; found: FoundOut; judged: Promise<Judged | undefined>; world: AskedWorld; now: number; incidents: { id: number; name: string }[] }

function Looking({ found, zone, now }: { found: FoundOut; zone: string; now: number }) {
  return <div className="card pad" style={{ marginBottom: 14 }} role="status"><b style={{ fontSize: 16 }}>{found.stretch ? `${speakSpan(found.stretch, zone, now)} stands out.` : 'Nothing stands out.'}</b><div className="quiet">{found.stretch ? 'Looking for what sets it apart …' : ' '}</div></div>
}

async function Conclusion({ question, found: { stretch }, judged, world: { zone }, now, incidents }: About) {
  if (!stretch) return <div className="card pad" style={{ marginBottom: 14 }} role="status"><b style={{ fontSize: 16 }}>{question.stretch === 'none' ? 'No stretch is looked at.' : 'Nothing stands out.'}</b><div className="quiet">{question.stretch === 'none' ? 'Drag one to ask what sets it apart.' : 'No line leaves its usual range for three points in a row, and no more fails than else. Drag a stretch to ask about it anyway.'}</div></div>
  const when = speakSpan(stretch, zone, now)
  const found = await judged
  if (!found) return <div className="card pad" style={{ marginBottom: 14 }} role="status"><b style={{ fontSize: 16 }}>{when} stands out.</b><div className="quiet">It is too long ago: its single observations are not kept any more.</div></div>
  const { words, verdict } = found
  const observations = `/find-out?${writeQuestion({ ...question, range: stretch, stretch: 'none' }, zone)}`
  return (
    <div className="card pad apart" style={{ marginBottom: 14, alignItems: 'flex-start' }} role="status">
      <div style={{ flex: '1 1 420px', minWidth: 0 }}><b style={{ fontSize: 16 }}>{when}: {words.title}</b><div className="quiet" style={{ marginTop: 3 }}>{words.detail}</div></div>
      <span className="row">{verdict.outcome === 'named' && incidents.length > 0 && <VerdictActions incidents={incidents} text={`${when}: ${words.title} ${words.detail}`} />}<Link className="chip touch" href={observations} style={{ minHeight: 30, padding: '0 12px', fontWeight: 600 }}>Its {speakCount(verdict.contrast.all)} observations</Link></span>
    </div>
  )
}

async function Apart({ judged, question }: About) {
  const found = await judged
  const head = (title: string) => <div className="apart" style={{ marginBottom: 6 }}><h2>{title}</h2><AgainstChoice question={question} /></div>
  if (!found || found.words.rows.length === 0) return <section>{head(BESIDES[question.against ?? 'around'])}<div className="card pad quiet">Nothing that could be told apart differs between them.</div></section>
  return <section style={{ minWidth: 0 }}>{head(found.verdict.of === 'failures' ? 'What failing and passing tries do not share' : BESIDES[question.against ?? 'around'])}<VerdictTable rows={found.words.rows} of={found.verdict.of} {...(question.against ? { against: question.against } : {})} /></section>
}

const BESIDES = { around: 'In the stretch and outside it', usual: 'In the stretch and usually', passing: 'What failing and passing tries do not share' }

async function Parties({ judged }: About) {
  const parties = (await judged)?.verdict.parties ?? []
  if (parties.length === 0) return null
  return (
    <section className="section"><h2>Who stands between a visitor and the answer</h2>
      <div className="card scroll"><table className="table"><thead><tr><th>Party</th><th>Verdict</th><th>Why</th><th>Contact</th></tr></thead>
        <tbody>{parties.map((each) => <tr key={`${each.kind}/${each.name}`}><td><b>{each.name}</b> {each.name.toLowerCase().includes(each.kind) ? '' : <span className="quiet small">{each.kind}</span>}</td><td className={each.verdict === 'to blame' ? 'down-text strong' : each.verdict === 'cleared' ? 'quiet' : 'slow-text'}>{each.verdict}</td><td>{each.why}</td><td>{each.contact ?? <span className="quiet">—</span>}</td></tr>)}</tbody></table></div>
    </section>
  )
}

function Empty({ world, now }: { world: AskedWorld; now: number }) {
  const isNew = world.checks.length === 0
  return (
    <div className="card empty"><h2>{isNew ? 'Nothing is watched yet.' : 'Nothing was observed that fits.'}</h2>
      <p className="quiet">{isNew ? <>Add <Link href="/checks/new">a first check</Link>; what it sees can be asked about here.</> : <>Take a demand away, or choose another time: single observations are kept for some days, hours and days for longer, and nothing is known after {speakTime(now, world.zone)} or for more than {Math.round(LONGEST_QUESTION / 86_400_000)} days. It can be split by {DIMENSION_NAMES.slice(0, 6).join(', ')} and more.</>}</p>
    </div>
  )
}
