import { spansAround, usualSpans, type Span } from '@/core/findout/against'
import { answer, failingLine, ratioLine, standsOut } from '@/core/findout/answer'
import { isFail } from '@/core/findout/bases'
import { shareOf, worstFirst, type GroupAnswer } from '@/core/findout/group-answer'
import { DIMENSION_NAMES, type Dimension } from '@/core/findout/dimensions'
import { BESIDE_METRICS, otherQuestion, rangeOf, stepOf, type Question } from '@/core/findout/question'
import { writeQuestion } from '@/core/findout/question-address'
import { speakAbout, speakValue } from '@/core/findout/question-sentence'
import { pick, placesOf, splitAt, type Column, type Tries } from '@/core/findout/tries'
import type { Verdict } from '@/core/findout/verdict'
import { speakVerdict, type VerdictWords } from '@/core/findout/verdict-words'
import type { Trouble } from '@/core/incidents/incident'
import { shortReason } from '@/core/reasons/reasons'
import type { Heat } from '@/core/sketches/heat'
import { DAY, HOUR, MINUTE } from '@/core/units'
import { askedWorld, chosen, fixed, triesOf, triesOfSpans, type AskedWorld } from './asked-world'
import { rolledUpAnswer } from './find-out-rollups'
import { lookIntoAside } from './look-into-aside'

/** Groups shown; the rest is said. */
export const MOST_GROUPS = 20
/** Over longer ranges questions are answered from hours and days. */
const SINGLE_FOR = 26 * HOUR

export interface FoundOut {
  groups: GroupAnswer[]
  /** How many groups are not shown. */
  more: number
  range: { from: number; to: number }
  step: number
  tries: number
  /** Of passing tries every so-manieth was looked at; hours or days when they were not looked at one by one. */
  from: { thinned: number } | { rolledUp: '1h' | '1d' }
  stretch?: { from: number; to: number; isOwn: boolean }
  /** All of it, not split, and all of what it is set beside. */
  together?: { own?: number; beside?: number; tries: number }
  /** How often each time was seen, where single tries were not looked at. */
  heat?: Heat
  isEmpty: boolean
}

/** What sets a stretch apart, as numbers and in words. */
export interface Judged { verdict: Verdict; words: VerdictWords }

/** The name of all tries of a question, not split. */
const TOGETHER = 'together'

/** The groups of a question over a range, worst first, with what they were counted from. */
interface Answered { groups: GroupAnswer[]; step: number; count: number; from: FoundOut['from']; tries?: Tries; heat?: Heat }

/** Answers a question over a range: from single tries, or, over longer ranges and where no try has to be looked at, from hours and days. */
async function answered(question: Question, world: AskedWorld, range: { from: number; to: number }, step = stepOf(range), isOne = false): Promise<Answered> {
  const { checks, locations, rest } = chosen(question, world)
  const { ofCheck, ofLocation } = fixed(world)
  const keys = isOne ? { ofCheck: () => TOGETHER } : { ofCheck: ofCheck[question.by], ofLocation: ofLocation[question.by] }
  const isKnown = rest.length === 0 && (keys.ofCheck ?? keys.ofLocation) !== undefined && !BESIDE_METRICS.includes(question.metric)
  if (isKnown && range.to - range.from > SINGLE_FOR) {
    const found = await rolledUpAnswer(question, { checks, locations }, keys, range)
    return { groups: worstFirst(found.groups), step: found.step, count: found.tries, from: { rolledUp: found.span }, ...(found.heat ? { heat: found.heat } : {}) }
  }
  const { tries, thinned } = await triesOf(question, world, range, 'answer')
  return { groups: answer(tries, isOne ? { dimension: '', codes: new Int32Array(tries.count), names: [TOGETHER] } : columnFor(tries, question.by), question.metric, question.statistic, range, step), step, count: tries.count, from: { thinned }, tries }
}

/** Answers a question: the groups, and what stands out among them. */
export async function findOut(question: Question, world: AskedWorld, now: number): Promise<FoundOut> {
  const range = rangeOf(question, now)
  const { groups, step, count, from, tries, heat } = await answered(question, world, range)
  const together = question.beside && await setBeside(question, question.beside, world, range, step, groups)
  const stretch = stretchOf(question, groups, range, step) ?? (tries && (shortOf(question, tries, range, step) ?? failuresOf(question, tries, range, step)))
  return { ...shown(groups), range, step, tries: count, from, ...(stretch ? { stretch } : {}), ...(together ? { together } : {}), ...(heat ? { heat } : {}), isEmpty: count === 0 }
}

/** What each location sees over a stretch, worst first. */
export const answerByPlace = async (question: Question, world: AskedWorld, range: { from: number; to: number }): Promise<GroupAnswer[]> =>
  (await answered({ ...question, by: 'location' }, world, range, range.to - range.from)).groups

/** Looks for what sets the stretch of an answer apart; undefined where it has none, or no single tries of it are left. It takes longer than the answer. */
export const whyStandsOut = async (question: Question, world: AskedWorld, { stretch, range }: Pick<FoundOut, 'stretch' | 'range'>): Promise<Judged | undefined> => stretch && judgedStretch(question, world, stretch, range)

/** The column a question is split by; tags, of which a try may have several, are taken together by the first. */
export function columnFor(tries: Tries, by: Dimension): Column {
  const found = tries.columns.filter((each) => each.dimension === by)
  if (by !== 'tag') return found[0] ?? { dimension: by, codes: new Int32Array(tries.count).fill(-1), names: [] }
  const codes = new Int32Array(tries.count).fill(-1)
  for (let index = 0; index < tries.count; index += 1) codes[index] = found.findIndex((each) => each.codes[index]! >= 0)
  return { dimension: 'tag', codes, names: found.map((each) => each.names[0] ?? '') }
}

const shown = (groups: GroupAnswer[]) => ({ groups: groups.slice(0, MOST_GROUPS), more: Math.max(0, groups.length - MOST_GROUPS) })

/** Gives every group what it is set beside: the group of the same name, or, where no name is the same, all of the other set. */
async function setBeside(question: Question, beside: NonNullable<Question['beside']>, world: AskedWorld, range: Span, step: number, groups: GroupAnswer[]): Promise<FoundOut['together']> {
  const back = beside === 'week' ? 7 * DAY : beside === 'before' ? range.to - range.from : 0
  const [other, time] = [typeof beside === 'string' ? question : otherQuestion(question, beside), { from: range.from - back, to: range.to - back }]
  const { groups: found } = await answered(other, world, time, step)
  const [own, whole] = (await Promise.all([answered(question, world, range, step, true), answered(other, world, time, step, true)])).map((each) => each.groups[0])
  const isShared = groups.some((group) => found.some((each) => each.name === group.name))
  for (const group of groups) {
    const match = isShared ? found.find((each) => each.name === group.name) : whole
    if (match?.value !== undefined) Object.assign(group, { beside: match.value, besideLine: match.line })
  }
  return { ...(own?.value === undefined ? {} : { own: own.value }), ...(whole?.value === undefined ? {} : { beside: whole.value }), tries: whole?.tries ?? 0 }
}

function stretchOf(question: Question, groups: GroupAnswer[], range: { from: number; to: number }, step: number): FoundOut['stretch'] {
  if (question.stretch === 'none') return undefined
  if (question.stretch) return { ...question.stretch, isOwn: true }
  const found = standsOut(groups.slice(0, MOST_GROUPS), range, step, question.statistic === 'share failing')
  return found && { from: found.from, to: found.to, isOwn: false }
}

/** A stretch too short for the points of a long line: looked for in what all take beside their own middle, and in the middles of the groups, at finer points. */
function shortOf(question: Question, tries: Tries, range: Span, step: number): FoundOut['stretch'] {
  if (question.stretch === 'none' || question.statistic === 'share failing' || step <= FINE) return undefined
  const all = standsOut([{ name: '', line: ratioLine(tries, question.metric, range, FINE) }], range, FINE, false)
  const found = all ?? standsOut(answer(tries, columnFor(tries, question.by), question.metric, 'p50', range, step / 3).slice(0, MOST_GROUPS), range, step / 3, false)
  return found && { from: found.from, to: found.to, isOwn: false }
}

/** Lines with longer steps are looked at more finely. */
const FINE = 5 * MINUTE

/** A stretch in which more tries fail than else, where times do not show it. */
function failuresOf(question: Question, tries: Tries, range: { from: number; to: number }, step: number): FoundOut['stretch'] {
  if (question.stretch === 'none') return undefined
  const fine = Math.min(step, FINE)
  const found = standsOut([{ name: '', line: failingLine(tries, range, fine) }], range, fine, true, LEAST_FAILING)
  return found && { from: found.from, to: found.to, isOwn: false }
}

/** So much more of all tries must fail for that to stand out by itself. */
const LEAST_FAILING = 0.03

/** What sets tries apart from others, looked into beside the pages, and said. */
async function judged(inside: Tries, reference: Tries, question: Question, world: AskedWorld, share = 1): Promise<Judged> {
  const { verdict, servers, status } = await lookIntoAside({ inside, reference, metric: BESIDE_METRICS.includes(question.metric) ? 'total' : question.metric, percentile: shareOf(question.statistic) ?? 0.5, isAboutFailures: question.statistic === 'share failing', parties: world.parties })
  const name = (dimension: string, value: string) => {
    const server = dimension === 'address' ? servers.get(value) : undefined
    return server ? `${server} (${value})` : speakOne(dimension, value, world)
  }
  return { verdict, words: speakVerdict(verdict, name, { ...(status === undefined ? {} : { status }), ...(question.against ? { against: question.against } : {}), share, ...(question.about.length === 1 ? { whole: speakAbout(question.about, world.names) } : {}), isNarrowed: question.where.length > 0 }) }
}

/** Sets a stretch beside what the question wants it to be compared with; undefined where no single tries of it are left. */
async function judgedStretch(question: Question, world: AskedWorld, stretch: Span, range: Span): Promise<Judged | undefined> {
  // what was answered from single tries has been loaded already, unless time went on and left a part of the stretch behind
  if (!question.against && range.to - range.from <= SINGLE_FOR && stretch.from >= range.from && stretch.to <= range.to) {
    const { tries } = await triesOf(question, world, range, 'verdict')
    const { inside, outside } = splitAt(tries, stretch)
    return tries.count === 0 ? undefined : judged(inside, outside, question, world)
  }
  const { tries, share } = await triesOfSpans(question, world, [stretch])
  return tries.count === 0 ? undefined : judged(tries, await referenceOf(question, world, tries, stretch, range), question, world, share)
}

async function referenceOf(question: Question, world: AskedWorld, inside: Tries, stretch: Span, range: Span): Promise<Tries> {
  if (question.against === 'passing') return pick(inside, placesOf(inside, (index) => !isFail(inside, index)))
  const spans = question.against === 'usual' ? usualSpans(stretch, world.zone) : spansAround(stretch, range, LEAST_AROUND)
  return spans.length === 0 ? pick(inside, new Int32Array(0)) : (await triesOfSpans(question, world, spans)).tries
}

const LEAST_AROUND = 6 * HOUR

export const speakOne = (dimension: string, value: string, world: AskedWorld): string => {
  if (dimension === 'reason') return shortReason(value)
  if (dimension === 'resolver') return `the resolver ${value}`
  const said = DIMENSION_NAMES.includes(dimension as Dimension) ? speakValue(dimension as Dimension, value, world.names) : value
  return said
}

/** What sets an incident apart from the hours before it, looked for in all checks of its service, with the address of the whole question. */
export async function whyOf(incident: { checkKey: string; serviceId: number | null; trouble: Trouble }, parts: string[], stretch: { from: number; to: number }, now: number): Promise<Judged & { href: string } | undefined> {
  const world = await askedWorld()
  const service = world.services.find((each) => each.id === incident.serviceId)
  const about = [...(service ? [`service/${service.key}`] : []), ...[incident.checkKey, ...parts.slice(0, 100)].map((key) => `check/${key}`)].filter((each) => world.names.about.has(each))
  if (about.length === 0) return undefined
  const question: Question = { statistic: incident.trouble === 'down' ? 'share failing' : 'p95', metric: 'total', about, by: 'location', range: { from: stretch.from - Math.max(2 * HOUR, 2 * (stretch.to - stretch.from)), to: Math.min(stretch.to, now) }, where: [], view: 'line' }
  const found = await judgedStretch(question, world, stretch, rangeOf(question, now))
  if (!found) return undefined
  const shownQuestion: Question = { ...question, about: service ? about.slice(0, 1) : about.slice(0, 20), statistic: 'share failing', stretch, range: { from: stretch.from - Math.max(HOUR, stretch.to - stretch.from), to: stretch.to + Math.max(HOUR / 2, (stretch.to - stretch.from) / 2) } }
  const { verdict, words } = found
  const [first] = verdict.named
  return { verdict, words, href: `/find-out?${writeQuestion({ ...shownQuestion, ...(verdict.of === 'times' ? { statistic: 'p95' as const } : {}), by: (first?.dimension as Dimension | undefined) ?? 'location' }, world.zone)}` }
}
