import { setTimeout as sleep } from 'node:timers/promises'
import { answer, failingLine, standsOut } from '@/core/findout/answer'
import { shareOf, worstFirst, type GroupAnswer } from '@/core/findout/group-answer'
import { DIMENSION_NAMES, type Dimension } from '@/core/findout/dimensions'
import { BESIDE_METRICS, rangeOf, stepOf, writeQuestion, type Question } from '@/core/findout/question'
import { speakValue } from '@/core/findout/question-sentence'
import { splitAt, type Column, type Tries } from '@/core/findout/tries'
import { judge, type Verdict } from '@/core/findout/verdict'
import { speakVerdict, type VerdictWords } from '@/core/findout/verdict-words'
import { shortReason } from '@/core/reasons/reasons'
import { DAY, HOUR } from '@/core/units'
import { askedWorld, chosen, fixed, triesOf, type AskedWorld } from './asked-world'
import { rolledUpAnswer } from './find-out-rollups'

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
  isEmpty: boolean
}

/** What sets a stretch apart, as numbers and in words. */
export interface Judged { verdict: Verdict; words: VerdictWords }

/** The groups of a question over a range, worst first, with what they were counted from. */
interface Answered { groups: GroupAnswer[]; step: number; count: number; from: FoundOut['from']; tries?: Tries }

/** Answers a question over a range: from single tries, or, over longer ranges and where no try has to be looked at, from hours and days. */
async function answered(question: Question, world: AskedWorld, range: { from: number; to: number }, step = stepOf(range)): Promise<Answered> {
  const { checks, locations, rest } = chosen(question, world)
  const { ofCheck, ofLocation } = fixed(world)
  const keys = { ofCheck: ofCheck[question.by], ofLocation: ofLocation[question.by] }
  const isKnown = rest.length === 0 && (keys.ofCheck ?? keys.ofLocation) !== undefined && !BESIDE_METRICS.includes(question.metric)
  if (isKnown && range.to - range.from > SINGLE_FOR) {
    const found = await rolledUpAnswer(question, { checks, locations }, keys, range)
    return { groups: worstFirst(found.groups), step: found.step, count: found.tries, from: { rolledUp: found.span } }
  }
  const { tries, thinned } = await triesOf(question, world, range, 'answer')
  return { groups: answer(tries, columnFor(tries, question.by), question.metric, question.statistic, range, step), step, count: tries.count, from: { thinned }, tries }
}

/** Answers a question: the groups, and what stands out among them. */
export async function findOut(question: Question, world: AskedWorld, now: number): Promise<FoundOut> {
  const range = rangeOf(question, now)
  const { groups, step, count, from, tries } = await answered(question, world, range)
  if (question.beside) await setBeside(question, world, range, groups)
  const stretch = stretchOf(question, groups, range, step) ?? (tries && failuresOf(question, tries, range, step))
  return { ...shown(groups), range, step, tries: count, from, ...(stretch ? { stretch } : {}), isEmpty: count === 0 }
}

/** What each location sees over a stretch, worst first. */
export const answerByPlace = async (question: Question, world: AskedWorld, range: { from: number; to: number }): Promise<GroupAnswer[]> =>
  (await answered({ ...question, by: 'location' }, world, range, range.to - range.from)).groups

const ANSWER_FIRST = 120

/** Looks for what sets the stretch of an answer apart; undefined where it has none, or no single tries of it are left. It takes longer than the answer. */
export async function whyStandsOut(question: Question, world: AskedWorld, { stretch, range, from }: Pick<FoundOut, 'stretch' | 'range' | 'from'>): Promise<Judged | undefined> {
  if (!stretch) return undefined
  // it keeps this process busy for a while; the answer and its dots go out before
  await sleep(ANSWER_FIRST)
  if ('rolledUp' in from) return verdictAround(question, world, stretch, range)
  const { tries } = await triesOf(question, world, range, 'verdict')
  return judged(tries, stretch, question, world)
}

/** The column a question is split by; tags, of which a try may have several, are taken together by the first. */
export function columnFor(tries: Tries, by: Dimension): Column {
  const found = tries.columns.filter((each) => each.dimension === by)
  if (by !== 'tag') return found[0] ?? { dimension: by, codes: new Int32Array(tries.count).fill(-1), names: [] }
  const codes = new Int32Array(tries.count).fill(-1)
  for (let index = 0; index < tries.count; index += 1) codes[index] = found.findIndex((each) => each.codes[index]! >= 0)
  return { dimension: 'tag', codes, names: found.map((each) => each.names[0] ?? '') }
}

const shown = (groups: GroupAnswer[]) => ({ groups: groups.slice(0, MOST_GROUPS), more: Math.max(0, groups.length - MOST_GROUPS) })

async function setBeside(question: Question, world: AskedWorld, range: { from: number; to: number }, groups: GroupAnswer[]): Promise<void> {
  const back = question.beside === 'week' ? 7 * DAY : range.to - range.from
  const other = { from: range.from - back, to: range.to - back }
  const { groups: found } = await answered(question, world, other)
  for (const group of groups) {
    const value = found.find((each) => each.name === group.name)?.value
    if (value !== undefined) group.beside = value
  }
}

function stretchOf(question: Question, groups: GroupAnswer[], range: { from: number; to: number }, step: number): FoundOut['stretch'] {
  if (question.stretch === 'none') return undefined
  if (question.stretch) return { ...question.stretch, isOwn: true }
  const found = standsOut(groups.slice(0, MOST_GROUPS), range, step, question.statistic === 'share failing')
  return found && { from: found.from, to: found.to, isOwn: false }
}

/** A stretch in which more tries fail than else, where times do not show it. */
function failuresOf(question: Question, tries: Tries, range: { from: number; to: number }, step: number): FoundOut['stretch'] {
  if (question.stretch === 'none') return undefined
  const found = standsOut([{ name: '', line: failingLine(tries, range, step) }], range, step, true, LEAST_FAILING)
  return found && { from: found.from, to: found.to, isOwn: false }
}

/** So much more of all tries must fail for that to stand out by itself. */
const LEAST_FAILING = 0.03

/** What sets a stretch apart from the rest of what was loaded. */
function judged(tries: Tries, stretch: { from: number; to: number }, question: Question, world: AskedWorld): Judged {
  const { inside, outside: reference } = splitAt(tries, stretch)
  const networks = [...new Set(tries.columns.find((each) => each.dimension === 'network')?.names ?? [])]
  const verdict = judge(inside, reference, BESIDE_METRICS.includes(question.metric) ? 'total' : question.metric, world.parties, networks, shareOf(question.statistic) ?? 0.5)
  const servers = serversOf(tries)
  return { verdict, words: speakVerdict(verdict, (dimension, value) => { const server = dimension === 'address' ? servers.get(value) : undefined; return server ? `${server} (${value})` : speakOne(dimension, value, world) }, statusOf(inside, verdict)) }
}

/** The server that gives the answers of an address, where it is always the same one. */
function serversOf(tries: Tries): Map<string, string> {
  const [address, server] = ['address', 'server'].map((dimension) => tries.columns.find((each) => each.dimension === dimension))
  const found = new Map<string, Set<string>>()
  for (let index = 0; address && server && index < tries.count; index += 1) {
    if (address.codes[index]! < 0 || server.codes[index]! < 0) continue
    const key = address.names[address.codes[index]!]!
    found.set(key, (found.get(key) ?? new Set()).add(server.names[server.codes[index]!]!))
  }
  return new Map([...found].flatMap(([key, names]) => (names.size === 1 ? [[key, [...names][0]!] as const] : [])))
}

export const speakOne = (dimension: string, value: string, world: AskedWorld): string => {
  if (dimension === 'reason') return shortReason(value)
  if (dimension === 'resolver') return `the resolver ${value}`
  const said = DIMENSION_NAMES.includes(dimension as Dimension) ? speakValue(dimension as Dimension, value, world.names) : value
  return said
}

/** The commonest status among the failures of a stretch. */
function statusOf(inside: Tries, { named: [first] }: Verdict): string | undefined {
  const column = inside.columns.find((each) => each.dimension === 'status')
  const lead = first && inside.columns.find((each) => each.dimension === first.dimension && each.names.includes(first.value))
  const code = first && lead?.names.indexOf(first.value)
  const counts = new Map<string, number>()
  for (let index = 0; column && index < inside.count; index += 1) {
    if (inside.verdict[index] !== 3 || column.codes[index]! < 0 || (lead && lead.codes[index] !== code)) continue
    const name = column.names[column.codes[index]!]!
    counts.set(name, (counts.get(name) ?? 0) + 1)
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0]
}

/** Judges a stretch of a longer range from single tries around it. */
async function verdictAround(question: Question, world: AskedWorld, stretch: { from: number; to: number }, range: { from: number; to: number }): Promise<Judged | undefined> {
  const length = stretch.to - stretch.from
  if (length > 2 * DAY) return undefined
  const around = { from: Math.max(range.from, stretch.from - Math.max(3 * length, 6 * HOUR)), to: Math.min(range.to, stretch.to + length) }
  const { tries } = await triesOf(question, world, around, 'verdict')
  return tries.count === 0 ? undefined : judged(tries, stretch, question, world)
}

/** What sets an incident apart from the hours before it, looked for in all checks of its service, with the address of the whole question. */
export async function whyOf(incident: { checkKey: string; serviceId: number | null }, parts: string[], stretch: { from: number; to: number }, now: number): Promise<Judged & { href: string } | undefined> {
  const world = await askedWorld()
  const service = world.services.find((each) => each.id === incident.serviceId)
  const about = [...(service ? [`service/${service.key}`] : []), ...[incident.checkKey, ...parts.slice(0, 100)].map((key) => `check/${key}`)].filter((each) => world.names.about.has(each))
  if (about.length === 0) return undefined
  const question: Question = { statistic: 'p95', metric: 'total', about, by: 'location', range: { from: stretch.from - Math.max(2 * HOUR, 2 * (stretch.to - stretch.from)), to: Math.min(stretch.to, now) }, where: [], view: 'line' }
  const { tries } = await triesOf(question, world, rangeOf(question, now), 'verdict')
  if (tries.count === 0) return undefined
  const shownQuestion: Question = { ...question, about: service ? about.slice(0, 1) : about.slice(0, 20), statistic: 'share failing', stretch, range: { from: stretch.from - Math.max(HOUR, stretch.to - stretch.from), to: stretch.to + Math.max(HOUR / 2, (stretch.to - stretch.from) / 2) } }
  const { verdict, words } = judged(tries, stretch, question, world)
  const [first] = verdict.named
  return { verdict, words, href: `/find-out?${writeQuestion({ ...shownQuestion, ...(verdict.of === 'times' ? { statistic: 'p95' as const } : {}), by: (first?.dimension as Dimension | undefined) ?? 'location' }, world.zone)}` }
}
