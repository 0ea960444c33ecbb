import type { Condition } from '../conditions/condition'
import type { Phase } from '../observation'
import type { Hours } from '../hours/hours'
import type { LocationChoice } from '../places/places'
import type { Milliseconds } from '../units'

export const IMPORTANCES = ['low', 'normal', 'high', 'vital'] as const
export type Importance = (typeof IMPORTANCES)[number]

/** When a location's failures are believed, and when the whole check is Down. */
export interface DownRule {
  /** Tries that must fail at a location: in a row, or among the last `of`. */
  tries: number
  of?: number
  /** The pause between two tries. */
  apart: Milliseconds
  /** Locations that must agree; capped to the number of locations the check runs from. */
  locations: number
}

/** When a location, and then the check, is Slow: above a fixed limit, or above what is usual for the hour of the week. */
export interface SlowRule {
  phase: Phase | 'total'
  above: Milliseconds | 'usual'
  /** With `usual`: how many robust spreads above the median count as slow. */
  spreads: number
  /** How long a location must stay above the limit. */
  for: Milliseconds
  locations: number
  /** Share by which a time must lie below the limit to count as quick again, so that the state does not flutter. */
  margin: number
}

/** A release window: the check runs only while one is open, or more densely. */
export interface WindowRule {
  only: boolean
  every?: Milliseconds
}

/** A check as the code works with it. CheckDocument is the same in its written form. */
export interface Check<Target = unknown> {
  key: string
  name: string
  service?: string
  tags: string[]
  importance: Importance
  kind: string
  /** What the kind needs; typed by the kind's folder. */
  target: Target
  /** Judged by Hemeron itself, not asked from locations. */
  isInside: boolean
  every: Milliseconds
  from: LocationChoice
  /** All locations in every period, or one location a period in turn. */
  turns: 'together' | 'in-turn'
  /** Keys of the checks this one depends on. */
  needs: string[]
  /** The hours in which it runs; always when there are none. */
  hours?: Hours
  window?: WindowRule
  /** How long one try may take in all. */
  wait: Milliseconds
  pass: Condition[]
  /** The whole check turned round: it passes when the target does not answer as described. */
  turned: boolean
  down: DownRule
  up: { tries: number }
  slow?: SlowRule
}

/** The written form: durations, sizes and sets as text, defaults left out. The schema says what is allowed. */
export type CheckDocument = { check: string; name: string } & Record<string, unknown>

export const CHECK_DEFAULTS = {
  every: 60_000,
  wait: 10_000,
  importance: 'normal' as Importance,
  down: { tries: 2, apart: 10_000, locations: 2 },
  up: { tries: 2 },
  slow: { for: 300_000, locations: 2, spreads: 6, margin: 0.1 }
}

/** How often a check may run: every 10 s to once a day. */
export const CADENCE = { shortest: 10_000, longest: 86_400_000 }
/** How long a try may take. */
export const WAIT = { shortest: 100, longest: 120_000 }
