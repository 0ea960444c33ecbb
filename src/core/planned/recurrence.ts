import * as rrule from 'rrule'
import { fromLocal, readLocal, toLocal } from '../time/zoned'
import { DAY, type Instant } from '../units'
import type { Planned } from './planned'

// the package has named exports for bundlers and a default one for Node.js
const { RRule } = 'RRule' in rrule ? rrule : (rrule as unknown as { default: typeof rrule }).default

/** One time that planned work takes place. */
export interface Occurrence {
  from: Instant
  to: Instant
}

/** How far a rule is followed to see whether it ever fires: past two leap days. */
const HORIZON = 9 * 366 * DAY
/**
 * Rules are followed 7 600 years from now, where days and weekdays fall just as they do today (the calendar repeats after
 * 400 years): the library gives up in the year 9999, and so a rule that never fires is known after 373 years, not 7 973.
 */
const LATER = 19 * 146_097 * DAY
const FREQUENCIES = ['DAILY', 'WEEKLY', 'MONTHLY', 'YEARLY']

/** What is wrong with a rule, said as what was expected; undefined when it can be read. */
export function ruleProblem(rule: string): string | undefined {
  const frequency = /(?:^|;)FREQ=([A-Z]+)/.exec(rule)?.[1]
  if (!frequency || !FREQUENCIES.includes(frequency)) return `an RRULE (RFC 5545) with FREQ= one of ${FREQUENCIES.join(', ')}`
  try {
    const read = new RRule(RRule.parseString(rule))
    return read.options.freq === undefined ? 'an RRULE (RFC 5545)' : undefined
  } catch (error) {
    return `an RRULE (RFC 5545); ${(error as Error).message.includes('property') ? (error as Error).message : 'one of its parts cannot be read'}`
  }
}

/**
 * The rule on a clock without a zone: local times stand as if they were UTC, so that 02:00 stays 02:00 through daylight
 * saving. `until` bounds how far it is followed.
 */
function rule(planned: Planned, until: number): rrule.RRule {
  const options = RRule.parseString(planned.repeats!)
  const own = options.until ? options.until.getTime() : Infinity
  return new RRule({ ...options, dtstart: new Date(readLocal(planned.from)! + LATER), until: new Date(Math.min(own, until) + LATER) })
}

/**
 * The local times at which a rule fires, from its beginning to `until`, oldest first, at most `most`; its beginning comes
 * first whether or not the rule names it. Local times count as if they were UTC.
 */
export function firings(repeats: string, begin: number, until: number, most: number): number[] {
  const options = RRule.parseString(repeats)
  const own = options.until ? options.until.getTime() : Infinity
  const found = new RRule({ ...options, dtstart: new Date(begin + LATER), until: new Date(Math.min(own, until) + LATER) })
    .all((_, index) => index < most).map((date) => date.getTime() - LATER)
  return found[0] === begin ? found : [begin, ...found]
}

/**
 * The times planned work takes place that touch a range, oldest first. Each lasts equally long on the clock on the wall
 * of a stopwatch: an hour is an hour also in the night when the clocks change.
 * @param ends other ends for single times, by their beginning: ended early, or prolonged
 */
export function occurrences(planned: Planned, range: { from: Instant; to: Instant }, ends: Readonly<Record<string, Instant>> = {}): Occurrence[] {
  const longest = Math.max(planned.lasts, ...Object.entries(ends).map(([from, to]) => to - Number(from)))
  const begin = toLocal(range.from, planned.zone) - longest - DAY
  const end = toLocal(range.to, planned.zone) + DAY
  const except = new Set(planned.except.map((local) => readLocal(local)!))
  const locals = planned.repeats === undefined ? [readLocal(planned.from)!] : rule(planned, end).between(new Date(begin + LATER), new Date(end + LATER), true).map((date) => date.getTime() - LATER)
  return locals.filter((local) => !except.has(local)).map((local) => {
    const from = fromLocal(local, planned.zone)
    return { from, to: ends[String(from)] ?? from + planned.lasts }
  }).filter(({ from, to }) => to > range.from && from < range.to && to > from)
}

/** The first time planned work takes place; undefined when it never does. */
export function firstOccurrence(planned: Planned): Occurrence | undefined {
  const from = fromLocal(readLocal(planned.from)!, planned.zone)
  const except = new Set(planned.except.map((local) => readLocal(local)!))
  if (planned.repeats === undefined) return except.has(readLocal(planned.from)!) ? undefined : { from, to: from + planned.lasts }
  const followed = rule(planned, from + HORIZON)
  for (let at = followed.after(new Date(readLocal(planned.from)! + LATER - 1)); at; at = followed.after(at)) {
    if (except.has(at.getTime() - LATER)) continue
    const begins = fromLocal(at.getTime() - LATER, planned.zone)
    return { from: begins, to: begins + planned.lasts }
  }
  return undefined
}

/** The next time planned work takes place after a moment, within a year. */
export function nextOccurrence(planned: Planned, after: Instant, ends: Readonly<Record<string, Instant>> = {}): Occurrence | undefined {
  return occurrences(planned, { from: after, to: after + 366 * DAY }, ends)[0]
}
