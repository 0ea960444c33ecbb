import type { Check } from '../definitions/check'
import { isWithinHours, nextHoursTurn } from '../hours/hours'
import { speakMoment } from '../time/zoned'
import type { Instant, Milliseconds } from '../units'

/** What decides whether and how often a check runs at a moment, beside its definition. */
export interface Circumstances {
  paused: boolean
  /** A release window is open for it. */
  window: boolean
  zone: string
  now: Instant
}

/** How often a check runs: more densely in an open release window where it says so. */
export function cadence(check: Pick<Check, 'every' | 'window'>, windowOpen: boolean): Milliseconds {
  return windowOpen ? check.window?.every ?? check.every : check.every
}

/** Why a check is not run at a moment, in words; undefined when it is. */
export function restReason(check: Pick<Check, 'hours' | 'window'>, { paused, window, zone, now }: Circumstances): string | undefined {
  if (paused) return 'paused by a person'
  if (check.window?.only && !window) return 'no release window is open'
  if (isWithinHours(check.hours, now, zone)) return undefined
  const next = nextHoursTurn(check.hours!, now, zone)
  return next === undefined ? 'outside its hours' : `outside its hours, until ${speakMoment(next, check.hours!.zone ?? zone, now)}`
}
