import Link from 'next/link'
import { problemSentence } from '@/core/problems'
import { DIMENSION_NAMES, type Dimension } from '@/core/findout/dimensions'
import { LONGEST_QUESTION, readQuestion, writeQuestion } from '@/core/findout/question'
import { speakMoment, speakTime } from '@/core/time/zoned'
import { database } from '@/store/database'
import { listMarks } from '@/store/marks'
import { FindOutHead } from '@/ui/findout/find-out-nav'
import { FocusArea } from '@/ui/findout/focus'
import { QuestionBar } from '@/ui/findout/question-bar'
import { Ranking } from '@/ui/findout/ranking'
import { TriesChart } from '@/ui/findout/tries-chart'
import { VerdictTable } from '@/ui/findout/verdict-table'
import { VerdictActions } from '@/ui/findout/verdict-actions'
import { listIncidents } from '@/store/incidents'
import { askedWorld, type AskedWorld } from '../../server/asked-world'
import { findOut, speakOne, type FoundOut } from '../../server/find-out'
import { signedIn } from '../../server/session'

export const metadata = { title: 'Find out' }

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
  const gone = question.about.filter((each) => !world.names.about.has(each))
  return (
    <FocusArea>
      <FindOutHead />
      <QuestionBar question={question} names={names} now={now} />
      {misread.length > 0 && <div className="notice trouble" role="alert" style={{ marginBottom: 12 }}>{misread.map((each) => problemSentence({ path: each.part, found: `"${each.found}"`, expected: each.expected })).join(' ')} The rest of the question is answered.</div>}
      {gone.length > 0 && <div className="notice" style={{ marginBottom: 12 }}>{gone.map((each) => each.split('/')[1]).join(', ')} {gone.length === 1 ? 'is' : 'are'} gone; the question leaves {gone.length === 1 ? 'it' : 'them'} out.</div>}
      {found.isEmpty ? <Empty world={world} now={now} /> : (
        <>
          <VerdictCard found={found} zone={world.zone} now={now} incidents={incidents.filter((each) => found.stretch && each.since < found.stretch.to && (each.endedAt ?? now) > found.stretch.from).map((each) => ({ id: each.id, name: each.checkName }))} observations={found.stretch ? `/find-out?${writeQuestion({ ...question, range: found.stretch, stretch: 'none' }, world.zone)}` : undefined} />
          <TriesChart question={question} groups={groups} range={found.range} step={found.step} {...(found.stretch ? { stretch: found.stretch } : {})} marks={marks.map(({ at, title }) => ({ at, title }))} now={now} hasDots={'thinned' in found.from}
            checks={world.checks.map(({ id, check }) => [id, { key: check.key, name: check.name }])} locations={world.locations.map((each) => [each.id, { key: each.key, name: each.place }])} />
          <p className="quiet small" style={{ margin: '6px 0 14px' }}>{'thinned' in found.from ? `${found.tries} observations${found.from.thinned > 1 ? `; of passing ones every ${found.from.thinned}${['th', 'st', 'nd', 'rd'][found.from.thinned] ?? 'th'} was taken, and all others` : ''}` : `${found.tries} observations, merged from ${found.from.rolledUp === '1h' ? 'hours' : 'days'}; single ones are shown for up to a day`}.</p>
          <div className={found.words && found.words.rows.length > 0 ? 'halves' : undefined}>
            {found.words && found.words.rows.length > 0 && <section style={{ minWidth: 0 }}><div className="apart" style={{ marginBottom: 6 }}><h2>{found.verdict!.of === 'failures' ? 'What failing and passing tries do not share' : 'In the stretch and outside it'}</h2></div><VerdictTable rows={found.words.rows} of={found.verdict!.of} /></section>}
            <Ranking groups={groups} more={found.more} question={question} />
          </div>
          {found.verdict && found.verdict.parties.length > 0 && <Parties parties={found.verdict.parties} />}
        </>
      )}
    </FocusArea>
  )
}

function noteOf(by: Dimension, value: string, world: AskedWorld): string | undefined {
  if (by === 'network') return world.locations.find((each) => each.network === value)?.networkType
  if (by === 'location') return world.locations.find((each) => each.key === value)?.network
  return by === 'check' ? world.services.find((each) => each.id === world.checks.find(({ check }) => check.key === value)?.serviceId)?.name : undefined
}

function VerdictCard({ found, zone, now, incidents, observations }: { found: FoundOut; zone: string; now: number; incidents: { id: number; name: string }[]; observations: string | undefined }) {
  const { stretch, words, verdict } = found
  if (!stretch) return <div className="card pad" style={{ marginBottom: 14 }} role="status"><b style={{ fontSize: 16 }}>Nothing stands out.</b><div className="quiet">No line leaves its usual range for three points in a row, and no more fails than else. Drag a stretch to ask about it anyway.</div></div>
  const when = `${speakMoment(stretch.from, zone, now)} to ${speakTime(stretch.to, zone)}`
  if (!words) return <div className="card pad" style={{ marginBottom: 14 }} role="status"><b style={{ fontSize: 16 }}>{when} stands out.</b><div className="quiet">It is too long, or too long ago, to be looked at observation by observation.</div></div>
  return (
    <div className="card pad apart" style={{ marginBottom: 14, alignItems: 'flex-start' }} role="status">
      <div style={{ flex: '1 1 420px', minWidth: 0 }}><b style={{ fontSize: 16 }}>{when}: {words.title}</b><div className="quiet" style={{ marginTop: 3 }}>{words.detail}</div></div>
      <span className="row">{verdict!.outcome === 'named' && incidents.length > 0 && <VerdictActions incidents={incidents} text={`${when}: ${words.title} ${words.detail}`} />}{observations && <Link className="chip touch" href={observations} style={{ minHeight: 30, padding: '0 12px', fontWeight: 600 }}>Its {verdict!.contrast.all} observations</Link>}</span>
    </div>
  )
}

function Parties({ parties }: { parties: NonNullable<FoundOut['verdict']>['parties'] }) {
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
