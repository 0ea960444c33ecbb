import { BESIDE, PHASES } from '../observation'
import { DAY, HOUR, MINUTE, type Instant, type Milliseconds } from '../units'
import type { Dimension } from './dimensions'

export const STATISTICS = ['p50', 'p75', 'p90', 'p95', 'p99', 'share failing'] as const
export type Statistic = (typeof STATISTICS)[number]

/** Measured beside some tries only: no rollups are made of it, and no verdict is about it alone. */
export const BESIDE_METRICS: readonly QuestionMetric[] = BESIDE

/** What can be measured of a try: its time, a part of it, and what was measured beside it. */
export const QUESTION_METRICS = ['total', ...PHASES, ...BESIDE] as const
export type QuestionMetric = (typeof QUESTION_METRICS)[number]

/** How an answer is drawn: lines over dots, how often each time was seen, or where it was seen. */
export const VIEWS = ['line', 'heat', 'map'] as const

/** One demand: a dimension has one of some values, or none of them. */
export interface Where { dimension: Dimension; values: string[]; not: boolean }

/** Other tries to set a question beside: of other checks or services, with other demands, or both. */
export interface OtherSet {
  /** The same checks and services when empty. */
  about: string[]
  /** They take the place of demands on the same dimensions. */
  where: Where[]
}

/** `usual`: the same hours of the days before. `passing`: of the stretch itself, what did not fail. */
export const AGAINST = ['usual', 'passing'] as const
export type Against = (typeof AGAINST)[number]

/** A question to the data, as the address holds it. */
export interface Question {
  statistic: Statistic
  metric: QuestionMetric
  /** `check/sailings-api`, `service/ticket-sales`; everything when empty. */
  about: string[]
  by: Dimension
  range: { last: Milliseconds } | { from: Instant; to: Instant }
  where: Where[]
  /** What it is set beside: another time, or other tries of the same time. */
  beside?: 'before' | 'week' | OtherSet
  view: (typeof VIEWS)[number]
  /** The stretch that is looked at; `none` when the person wants none. */
  stretch?: { from: Instant; to: Instant } | 'none'
  /** What the stretch is compared with: the rest of the time around it by default. */
  against?: Against
}

export const LONGEST_QUESTION = 400 * DAY
export const DEFAULT_QUESTION: Question = { statistic: 'p95', metric: 'total', about: [], by: 'location', range: { last: 6 * HOUR }, where: [], view: 'line' }

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

/** Whether a question is about the single steps of tries. */
export const isOfSteps = ({ by, where }: Pick<Question, 'by' | 'where'>): boolean => by === 'step' || where.some((each) => each.dimension === 'step')

/** The checks and services a question names, also those it is set beside. */
export const namedIn = ({ about, beside }: Pick<Question, 'about' | 'beside'>): string[] => [...about, ...(typeof beside === 'object' ? beside.about : [])]

/** The question that another set stands for. */
export function otherQuestion(question: Question, { about, where }: OtherSet): Question {
  return { ...withPart(question, 'beside'), about: about.length > 0 ? about : question.about, where: [...question.where.filter((each) => !where.some((own) => own.dimension === each.dimension)), ...where] }
}

/** The question without one of the parts that need not be there, or with another one in its place. */
export function withPart<Name extends 'beside' | 'against' | 'stretch'>(question: Question, name: Name, value?: Question[Name]): Question {
  const rest: Question = { ...question }
  delete rest[name]
  return value === undefined ? rest : { ...rest, [name]: value }
}
