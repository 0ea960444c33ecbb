import { parseDuration, readSpokenDuration, speakDuration } from '../definitions/duration'
import { say, type Sentence } from '../sentence/sentence'
import { speakSpan } from '../time/zoned'
import type { Instant } from '../units'
import { DIMENSION_NAMES, type Dimension } from './dimensions'
import { LONGEST_QUESTION, QUESTION_METRICS, STATISTICS, withPart, type Question, type QuestionMetric, type Where } from './question'
import { readSpan } from './question-address'

/** How metrics are said. */
export const METRIC_WORDS: Record<QuestionMetric, string> = {
  total: 'response time', lookup: 'name lookup', connect: 'connect time', greet: 'greeting time', tls: 'TLS time', login: 'sign-in time', send: 'sending time', wait: 'waiting time', receive: 'receiving time', remove: 'clean-up time', rtt: 'round trip', loss: 'packet loss', resolution: 'resolution from the root', hops: 'steps on the way'
}

/** What a question may be about and what it may demand, with names. */
export interface AskableNames {
  /** By `check/…` and `service/…`. */
  about: ReadonlyMap<string, string>
  /** Values by dimension, as far as they are known, with what is said for each. */
  values: Partial<Record<Dimension, ReadonlyMap<string, string>>>
}

const RANGES = ['1 h', '6 h', '24 h', '7 days', '35 days']
const join = (all: string[]) => (all.length > 3 ? `${all.slice(0, 2).join(', ')} and ${all.length - 2} more` : all.length < 2 ? all.join('') : `${all.slice(0, -1).join(', ')} and ${all.at(-1)}`)

export const speakAbout = (about: string[], names: AskableNames): string => (about.length === 0 ? 'everything' : join(about.map((each) => names.about.get(each) ?? `${each.split('/')[1] ?? each} (gone)`)))
export const speakValue = (dimension: Dimension, value: string, names: AskableNames): string => names.values[dimension]?.get(value) ?? value
export const speakWhere = ({ dimension, values, not }: Where, names: AskableNames): string => `${dimension} is ${not ? 'not ' : ''}${values.map((value) => speakValue(dimension, value, names)).join(' or ')}`

/** “the stretch before”, “Booking site”, “country is Chile”, “Booking site where country is Chile”. */
export function speakBeside(beside: NonNullable<Question['beside']>, names: AskableNames): string {
  if (typeof beside === 'string') return OTHER_TIMES[beside]
  const demands = beside.where.map((each) => speakWhere(each, names)).join(' and ')
  return beside.about.length === 0 ? demands : `${speakAbout(beside.about, names)}${demands === '' ? '' : ` where ${demands}`}`
}

const OTHER_TIMES = { before: 'the stretch before', week: 'the same hours last week' } as const

export function speakRange(range: Question['range'], zone: string, now: Instant): string {
  if ('last' in range) return `the last ${speakDuration(range.last)}`
  return speakSpan(range, zone, now)
}

/** “Show p95 of connect time for Checkout by network over the last 6 h, where country is Chile.” Every part can be changed. */
export function questionSentence(question: Question, names: AskableNames, zone: string, now: Instant): Sentence {
  const isShare = question.statistic === 'share failing'
  return [
    say('Show '), { text: isShare ? 'the share failing' : question.statistic, part: 'show', label: 'statistic', offers: [...STATISTICS] },
    ...(isShare ? [] : [say(' of '), { text: METRIC_WORDS[question.metric], part: 'of', label: 'what is measured', offers: QUESTION_METRICS.map((each) => METRIC_WORDS[each]) }]),
    say(' for '), { text: speakAbout(question.about, names), part: 'for', label: 'checks or services', offers: ['everything', ...names.about.values()].slice(0, 60) },
    say(' by '), { text: question.by, part: 'by', label: 'what it is split by', offers: [...DIMENSION_NAMES] },
    say(' over '), { text: speakRange(question.range, zone, now), part: 'over', label: 'time', offers: RANGES.map((each) => `the last ${each}`) },
    ...question.where.flatMap((each, index): Sentence => [say(index === 0 ? ', where ' : ' and '), { text: speakWhere(each, names), part: `where[${index}]`, label: 'demand', offers: ['take it away'] }]),
    ...(question.beside ? [say(', beside '), { text: speakBeside(question.beside, names), part: 'beside', label: 'what it is set beside', offers: ['nothing', ...Object.values(OTHER_TIMES), ...names.about.values()].slice(0, 60) }] : [])
  ]
}

const keyNamed = (known: ReadonlyMap<string, string>, text: string) => (known.has(text) ? text : [...known].find(([, name]) => name.toLowerCase() === text.toLowerCase())?.[0])

/** Reads what a person typed into a part; gives the question with it, or what was expected. */
export function changeQuestion(question: Question, names: AskableNames, part: string, typed: string, zone: string): { question: Question } | { expected: string } {
  const text = typed.trim()
  const plain = text.toLowerCase()
  switch (part) {
    case 'show': {
      const found = STATISTICS.find((each) => each === plain.replace(/^the /, ''))
      return found ? { question: { ...question, statistic: found } } : { expected: `one of ${STATISTICS.join(', ')}` }
    }
    case 'of': {
      const found = QUESTION_METRICS.find((each) => each === plain || METRIC_WORDS[each].toLowerCase() === plain)
      return found ? { question: { ...question, metric: found } } : { expected: `one of ${QUESTION_METRICS.map((each) => METRIC_WORDS[each]).join(', ')}` }
    }
    case 'for': {
      if (plain === 'everything' || plain === '') return { question: { ...question, about: [] } }
      const about = readAbout(text, names)
      return about ? { question: { ...question, about } } : { expected: 'everything, or names of checks and services with a comma between them' }
    }
    case 'by': {
      const found = DIMENSION_NAMES.find((each) => each.toLowerCase() === plain)
      // steps have a time as a whole
      return found ? { question: { ...question, by: found, ...(found === 'step' ? { metric: 'total' } : {}) } } : { expected: `one of ${DIMENSION_NAMES.join(', ')}` }
    }
    case 'over': return changeRange(question, text, zone)
    case 'beside': return changeBeside(question, names, text)
    default: return changeWhere(question, names, part, text)
  }
}

/** The checks and services whose names are in a text with commas between them; undefined where one is not known. */
function readAbout(text: string, names: AskableNames): string[] | undefined {
  const whole = keyNamed(names.about, text.trim())
  if (whole !== undefined) return [whole]
  const found = text.split(/,| and /).map((each) => keyNamed(names.about, each.trim())).filter((each, index, all) => all.indexOf(each) === index)
  return found.includes(undefined) ? undefined : found as string[]
}

function changeBeside(question: Question, names: AskableNames, text: string): { question: Question } | { expected: string } {
  if (/^(nothing)?$/i.test(text)) return { question: withPart(question, 'beside') }
  const time = (['before', 'week'] as const).find((each) => OTHER_TIMES[each] === text.toLowerCase() || each === text.toLowerCase())
  if (time) return { question: withPart(question, 'beside', time) }
  const whole = readAbout(text, names)
  if (whole) return { question: withPart(question, 'beside', { about: whole, where: [] }) }
  const [, of, demanded] = /^(?:(.*?) )?where (.+)$/i.exec(text) ?? (/ is /i.test(text) ? ['', undefined, text] : [])
  const about = of === undefined ? [] : readAbout(of, names)
  if (!about || demanded === undefined) return { expected: 'nothing, the stretch before, the same hours last week, names of checks and services, or a demand such as country is NO' }
  const where: Where[] = []
  for (const each of demanded.split(/ and (?=[^,]+? is )/i)) {
    const read = readDemand(each, names)
    if ('expected' in read) return read
    where.push(read)
  }
  return { question: withPart(question, 'beside', { about, where }) }
}

function changeRange(question: Question, text: string, zone: string): { question: Question } | { expected: string } {
  const last = parseDuration(readSpokenDuration(text.replace(/^(over )?(the )?last /i, '')) ?? '')
  const rest = withPart(question, 'stretch')
  if (last !== undefined && last >= 60_000 && last <= LONGEST_QUESTION) return { question: { ...rest, range: { last } } }
  const span = readSpan(text.replace(/\s+to\s+/, '_').replace(/(\d{4}-\d\d-\d\d) (\d)/g, '$1T$2'), zone)
  return span ? { question: { ...rest, range: span } } : { expected: 'the last 6 h, or 2026-11-24 12:00 to 2026-11-24 18:00' }
}

function changeWhere(question: Question, names: AskableNames, part: string, text: string): { question: Question } | { expected: string } {
  const index = Number(/^where\[(\d+)\]$/.exec(part)?.[1] ?? question.where.length)
  if (text === '' || /^take it away$/i.test(text)) return { question: { ...question, where: question.where.filter((_, place) => place !== index) } }
  const demand = readDemand(text, names)
  if ('expected' in demand) return demand
  return { question: { ...question, where: index < question.where.length ? question.where.map((each, place) => (place === index ? demand : each)) : [...question.where, demand] } }
}

/** Reads “country is not Chile or Norway”. */
function readDemand(text: string, names: AskableNames): Where | { expected: string } {
  const [, dimension, not, values] = /^(.+?) is (not )?(.+)$/i.exec(text) ?? []
  const known = DIMENSION_NAMES.find((each) => each.toLowerCase() === dimension?.trim().toLowerCase())
  if (!known || !values) return { expected: `a demand such as country is NO, or server is not edge-4; by ${DIMENSION_NAMES.join(', ')}` }
  const of = names.values[known]
  const read = values.split(/ or /).map((each) => (of === undefined ? each.trim() : keyNamed(of, each.trim())))
  return read.includes(undefined) ? { expected: `a ${known} that exists, such as ${[...of!.values()].slice(0, 3).join(', ')}` } : { dimension: known, values: read as string[], not: not !== undefined }
}
