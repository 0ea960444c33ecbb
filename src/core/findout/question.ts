import { parseDuration } from '../definitions/duration'
import { PHASES } from '../observation'
import { fromLocal, readLocal, toLocal, writeLocal } from '../time/zoned'
import { DAY, HOUR, MINUTE, type Instant, type Milliseconds } from '../units'
import { DIMENSION_NAMES, type Dimension } from './dimensions'

export const STATISTICS = ['p50', 'p75', 'p90', 'p95', 'p99', 'share failing'] as const
export type Statistic = (typeof STATISTICS)[number]

/** Measured beside some tries only: no rollups are made of it, and no verdict is about it alone. */
export const BESIDE_METRICS: readonly QuestionMetric[] = ['rtt', 'loss', 'resolution']

/** What can be measured of a try: its time, a part of it, and what was measured beside it. */
export const QUESTION_METRICS = ['total', ...PHASES, 'rtt', 'loss', 'resolution'] as const
export type QuestionMetric = (typeof QUESTION_METRICS)[number]

/** How an answer is drawn: lines over dots, how often each time was seen, or where it was seen. */
export const VIEWS = ['line', 'heat', 'map'] as const

/** One demand: a dimension has one of some values, or none of them. */
export interface Where { dimension: Dimension; values: string[]; not: boolean }

/** A question to the data, as the address holds it. */
export interface Question {
  statistic: Statistic
  metric: QuestionMetric
  /** `check/sailings-api`, `service/ticket-sales`; everything when empty. */
  about: string[]
  by: Dimension
  range: { last: Milliseconds } | { from: Instant; to: Instant }
  where: Where[]
  /** What it is set beside. */
  beside?: 'before' | 'week'
  view: (typeof VIEWS)[number]
  /** The stretch that is looked at; `none` when the person wants none. */
  stretch?: { from: Instant; to: Instant } | 'none'
}

export const LONGEST_QUESTION = 400 * DAY
export const DEFAULT_QUESTION: Question = { statistic: 'p95', metric: 'total', about: [], by: 'location', range: { last: 6 * HOUR }, where: [], view: 'line' }

type Asked = Readonly<Record<string, string | string[] | undefined>>
const listOf = (value: string | string[] | undefined) => (value === undefined ? [] : [value].flat())
const oneOf = (value: string | string[] | undefined) => listOf(value)[0]

/** What of an address could not be read: said to whoever opens it, while the rest of the question is answered. */
export interface Misread { part: string; found: string; expected: string }

/** Reads a question from an address. What cannot be read is left as it is by default, and said. */
export function readQuestion(asked: Asked, zone: string, now: Instant): { question: Question; misread: Misread[] } {
  const misread: Misread[] = []
  const wrong = (part: string, found: string, expected: string) => void misread.push({ part, found: found.slice(0, 80), expected })
  const choice = <Value extends string>(part: string, values: readonly Value[], fallback: Value): Value => {
    const found = oneOf(asked[part])
    if (found === undefined) return fallback
    const known = values.find((each) => each === found)
    if (known === undefined) wrong(part, found, `one of ${values.join(', ')}`)
    return known ?? fallback
  }
  const where = listOf(asked.where).slice(0, 20).flatMap((text): Where[] => {
    const [, not, dimension, values] = /^(-?)([^:]+):(.+)$/s.exec(text) ?? []
    const known = DIMENSION_NAMES.find((each) => each === dimension)
    if (!known || !values) {
      wrong('where', text, 'a demand such as country:CL')
      return []
    }
    return [{ dimension: known, values: values.split('|').filter((each) => each !== '').slice(0, 200), not: not === '-' }]
  })
  const about = listOf(asked.for).flatMap((each) => each.split(',')).filter((each) => each !== '').slice(0, 500)
  const stretch = oneOf(asked.stretch)
  const read = stretch === undefined || stretch === 'none' ? undefined : readSpan(stretch, zone)
  if (stretch !== undefined && stretch !== 'none' && read === undefined) wrong('stretch', stretch, 'two times such as 2026-11-24T12:40_2026-11-24T13:55, the later one second')
  const beside = oneOf(asked.beside)
  if (beside !== undefined && beside !== 'before' && beside !== 'week') wrong('beside', beside, 'before or week')
  return {
    misread,
    question: {
      statistic: choice('show', STATISTICS, DEFAULT_QUESTION.statistic), metric: choice('of', QUESTION_METRICS, DEFAULT_QUESTION.metric), about, by: choice('by', DIMENSION_NAMES, DEFAULT_QUESTION.by),
      range: readRange(oneOf(asked.over), zone, now, wrong), where, view: choice('as', VIEWS, 'line'), ...(beside === 'before' || beside === 'week' ? { beside } : {}),
      ...(stretch === 'none' ? { stretch: 'none' as const } : read ? { stretch: read } : {})
    }
  }
}

function readRange(text: string | undefined, zone: string, now: Instant, wrong: (part: string, found: string, expected: string) => void): Question['range'] {
  if (text === undefined) return DEFAULT_QUESTION.range
  const last = parseDuration(text)
  if (last !== undefined && last >= MINUTE && last <= LONGEST_QUESTION) return { last }
  const span = readSpan(text, zone)
  if (span && span.from < now && span.to - span.from <= LONGEST_QUESTION) return span
  wrong('over', text, span ? 'a time that has begun, of 400 days at most' : 'a length such as 6h, or two times such as 2026-11-24T12:00_2026-11-24T18:00, the later one second')
  return DEFAULT_QUESTION.range
}

/** Reads two local times joined by `_`; undefined when they are none, or in the wrong order. */
export function readSpan(text: string, zone: string): { from: Instant; to: Instant } | undefined {
  const [from, to] = text.split('_').map((each) => readMoment(each, zone))
  if (from === undefined || to === undefined) return undefined
  return to > from ? { from, to } : undefined
}

/** A local time, or one with its distance from UTC (RFC 3339 section 5.6), which says which of two equal autumn hours is meant. */
function readMoment(text: string, zone: string): Instant | undefined {
  const [, clock, distance] = /^(.+?)([+-]\d\d:\d\d)?$/.exec(text) ?? []
  const local = clock === undefined ? undefined : readLocal(clock)
  if (local === undefined) return undefined
  return distance === undefined ? fromLocal(local, zone) : Date.parse(`${new Date(local).toISOString().slice(0, 19)}${distance}`)
}

function writeMoment(at: Instant, zone: string): string {
  const local = toLocal(at, zone)
  const clock = local % MINUTE === 0 ? writeLocal(local) : new Date(local).toISOString().slice(0, 19)
  if (fromLocal(local, zone) === at) return clock
  const minutes = (local - at) / MINUTE
  return `${clock}${minutes < 0 ? '-' : '+'}${two(Math.abs(minutes) / 60)}:${two(Math.abs(minutes) % 60)}`
}
const two = (count: number) => String(Math.floor(count)).padStart(2, '0')

/** Writes a stretch as two local times joined by `_`, to the second, with the distance from UTC where the clock alone would name another instant. */
export const writeSpan = ({ from, to }: { from: Instant; to: Instant }, zone: string): string => `${writeMoment(from, zone)}_${writeMoment(to, zone)}`

/** Writes a question as the part of an address behind the question mark; what stands by default is left out. */
export function writeQuestion(question: Question, zone: string): string {
  const query = new URLSearchParams()
  const put = (name: string, value: string, fallback?: string) => { if (value !== fallback) query.append(name, value) }
  put('show', question.statistic, DEFAULT_QUESTION.statistic)
  put('of', question.metric, DEFAULT_QUESTION.metric)
  if (question.about.length > 0) put('for', question.about.join(','))
  put('by', question.by, DEFAULT_QUESTION.by)
  if ('last' in question.range) put('over', lengthWritten(question.range.last), '6h')
  else put('over', writeSpan(question.range, zone))
  for (const { dimension, values, not } of question.where) put('where', `${not ? '-' : ''}${dimension}:${values.join('|')}`)
  if (question.beside) put('beside', question.beside)
  put('as', question.view, 'line')
  if (question.stretch) put('stretch', question.stretch === 'none' ? 'none' : writeSpan(question.stretch, zone))
  return query.toString()
}

/** Where the dots of a question are fetched from; the page begins to fetch them before the chart asks. */
export const dotsAddress = (question: Question, zone: string, now: Instant, groups: readonly string[]): string => `/api/find-out/dots?${writeQuestion(question, zone)}&now=${now}&groups=${encodeURIComponent(groups.join('\n'))}`

const lengthWritten = (length: Milliseconds) => (length % DAY === 0 && length > 2 * DAY ? `${length / DAY}d` : length % HOUR === 0 ? `${length / HOUR}h` : `${Math.round(length / MINUTE)}m`)

/** The stretch of time a question is about, with its end not after now. */
export function rangeOf({ range }: Pick<Question, 'range'>, now: Instant): { from: Instant; to: Instant } {
  return 'last' in range ? { from: now - range.last, to: now } : { from: range.from, to: Math.min(range.to, Math.max(now, range.from + MINUTE)) }
}

/** How long one point of a line is: about a hundred of them, on a round length. */
export function stepOf({ from, to }: { from: Instant; to: Instant }): Milliseconds {
  const wanted = (to - from) / 90
  return [MINUTE, 2 * MINUTE, 5 * MINUTE, 10 * MINUTE, 15 * MINUTE, 30 * MINUTE, HOUR, 2 * HOUR, 4 * HOUR, 6 * HOUR, 12 * HOUR].find((step) => step >= wanted) ?? DAY
}

/** Keeps only tries with a value, or leaves them out; a demand on the same dimension is replaced. */
export function withWhere(question: Question, dimension: Dimension, value: string, not: boolean): Question {
  const same = question.where.find((each) => each.dimension === dimension && each.not && not)
  const values = same ? [...new Set([...same.values, value])] : [value]
  return { ...question, where: [...question.where.filter((each) => each.dimension !== dimension || (not && !each.not)).filter((each) => each !== same), { dimension, values, not }] }
}
