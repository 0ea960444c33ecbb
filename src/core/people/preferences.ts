import * as yup from 'yup'
import { flagField, weekHoursField } from '../definitions/fields'
import { exactly, problemsOf } from '../definitions/problems-of'
import { isWithinHours, nextHoursTurn, parseHours, type Hours } from '../hours/hours'
import type { Problem } from '../problems'
import { MEANS, type Means } from '../routing/means'
import { isZone } from '../time/zoned'
import type { Instant } from '../units'

/** Kinds of news a person may want by different means. What a route calls urgent is urgent, whatever else it is. */
export const NEWS_KINDS = ['urgent', 'down', 'slow', 'warning', 'burn', 'over'] as const
export type NewsKind = (typeof NEWS_KINDS)[number]

/** What follows “news of”. */
export const NEWS_WORDS: Record<NewsKind, string> = { urgent: 'what is urgent', down: 'what is down', slow: 'what is slow', warning: 'warnings', burn: 'error budgets', over: 'what is over' }

/** How a person wants to be told. */
export interface Preferences {
  /** IANA zone of their clock; the workspace's when missing. */
  zone?: string
  /** Written hours such as `mon-fri 08:00-16:00`. */
  working?: string[]
  /** Hours in which only what is urgent comes at once; the rest comes together afterwards. */
  quiet?: string[]
  /** By what each kind of news comes; a kind that is missing comes by every means, an empty list is none. */
  by?: Partial<Record<NewsKind, Means[]>>
  /** Whether the link in a message takes an incident without signing in. */
  takeByLink?: boolean
}

const hoursField = weekHoursField()
const meansField = yup.array().of(yup.string().oneOf([...MEANS]) as never).max(MEANS.length)
const schema = exactly({
  zone: yup.string().test('zone', 'an IANA time zone such as Europe/Oslo', (value) => value === undefined || isZone(value)),
  working: hoursField, quiet: hoursField, by: exactly(Object.fromEntries(NEWS_KINDS.map((kind) => [kind, meansField]))).default(undefined), takeByLink: flagField()
})

/** Reads preferences as a form or the API gives them. */
export function readPreferences(value: unknown): { preferences: Preferences } | { problems: Problem[] } {
  const problems = problemsOf(schema, value)
  if (problems.length > 0) return { problems }
  const { working, quiet, ...rest } = value as Omit<Preferences, 'working' | 'quiet'> & { working?: string | string[]; quiet?: string | string[] }
  return { preferences: { ...rest, ...(working === undefined ? {} : { working: [working].flat() }), ...(quiet === undefined ? {} : { quiet: [quiet].flat() }) } }
}

const hoursOf = (written: readonly string[]): Hours => ({ at: written.flatMap((each) => parseHours(each) ?? []) })

/** Until when a person is not to be disturbed at a moment; undefined outside their quiet hours. */
export function quietUntil({ quiet, zone }: Pick<Preferences, 'quiet' | 'zone'>, at: Instant, workspaceZone: string): Instant | undefined {
  if (quiet === undefined || quiet.length === 0) return undefined
  const hours = hoursOf(quiet)
  return isWithinHours(hours, at, zone ?? workspaceZone) ? nextHoursTurn(hours, at, zone ?? workspaceZone) : undefined
}

/** Whether a moment lies in a person's working hours; true for someone who has said none. */
export const isWorking = ({ working, zone }: Pick<Preferences, 'working' | 'zone'>, at: Instant, workspaceZone: string): boolean =>
  working === undefined || working.length === 0 || isWithinHours(hoursOf(working), at, zone ?? workspaceZone)
