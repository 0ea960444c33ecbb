import { parseDuration } from '../definitions/duration'
import { fromLocal, readLocal, toLocal, writeLocal } from '../time/zoned'
import { DAY, HOUR, MINUTE, type Instant, type Milliseconds } from '../units'
import { DIMENSION_NAMES } from './dimensions'
import { AGAINST, DEFAULT_QUESTION, LONGEST_QUESTION, QUESTION_METRICS, STATISTICS, VIEWS, type Question, type Where } from './question'

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
  const demands = (part: string): Where[] => listOf(asked[part]).slice(0, 20).flatMap((text): Where[] => {
    const read = readDemand(text)
    if (!read) wrong(part, text, 'a demand such as country:CL')
    return read ? [read] : []
  })
  const stretch = oneOf(asked.stretch)
  const read = stretch === undefined || stretch === 'none' ? undefined : readSpan(stretch, zone)
  if (stretch !== undefined && stretch !== 'none' && read === undefined) wrong('stretch', stretch, 'two times such as 2026-11-24T12:40_2026-11-24T13:55, the later one second')
  const beside = readBeside(oneOf(asked.beside), demands('beside-where'), wrong)
  const against = asked.against === undefined ? undefined : choice<NonNullable<Question['against']> | ''>('against', AGAINST, '')
  return {
    misread,
    question: {
      statistic: choice('show', STATISTICS, DEFAULT_QUESTION.statistic), metric: choice('of', QUESTION_METRICS, DEFAULT_QUESTION.metric), about: keysIn(asked.for), by: choice('by', DIMENSION_NAMES, DEFAULT_QUESTION.by),
      range: readRange(oneOf(asked.over), zone, now, wrong), where: demands('where'), view: choice('as', VIEWS, 'line'), ...(beside ? { beside } : {}), ...(against ? { against } : {}),
      ...(stretch === 'none' ? { stretch: 'none' as const } : read ? { stretch: read } : {})
    }
  }
}

const keysIn = (texts: string | string[] | undefined): string[] => listOf(texts).flatMap((each) => each.split(',')).filter((each) => each !== '').slice(0, 500)

function readDemand(text: string): Where | undefined {
  const [, not, dimension, values] = /^(-?)([^:]+):(.+)$/s.exec(text) ?? []
  const known = DIMENSION_NAMES.find((each) => each === dimension)
  return known && values ? { dimension: known, values: values.split('|').filter((each) => each !== '').slice(0, 200), not: not === '-' } : undefined
}

const writeDemand = ({ dimension, values, not }: Where) => `${not ? '-' : ''}${dimension}:${values.join('|')}`

/** Another time by its name; another set by the checks and services it is about, or by demands alone. */
function readBeside(text: string | undefined, where: Where[], wrong: (part: string, found: string, expected: string) => void): Question['beside'] {
  if (text === 'before' || text === 'week') return text
  const about = keysIn(text)
  const isSet = about.every((each) => /^(check|service)\/./.test(each))
  if (!isSet) wrong('beside', text!, 'before, week, or checks and services such as service/checkout')
  return isSet && about.length + where.length > 0 ? { about, where } : undefined
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
  for (const each of question.where) put('where', writeDemand(each))
  const { beside } = question
  if (typeof beside === 'string') put('beside', beside)
  else if (beside) {
    if (beside.about.length > 0) put('beside', beside.about.join(','))
    for (const each of beside.where) put('beside-where', writeDemand(each))
  }
  put('as', question.view, 'line')
  if (question.stretch) put('stretch', question.stretch === 'none' ? 'none' : writeSpan(question.stretch, zone))
  if (question.against) put('against', question.against)
  return query.toString()
}

/** Where the dots of a question are fetched from; the page begins to fetch them before the chart asks. */
export const dotsAddress = (question: Question, zone: string, now: Instant, groups: readonly string[]): string => `/api/find-out/dots?${writeQuestion(question, zone)}&now=${now}&groups=${encodeURIComponent(groups.join('\n'))}`

const lengthWritten = (length: Milliseconds) => (length % DAY === 0 && length > 2 * DAY ? `${length / DAY}d` : length % HOUR === 0 ? `${length / HOUR}h` : `${Math.round(length / MINUTE)}m`)
