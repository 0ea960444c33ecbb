import { CronExpressionParser } from 'cron-parser'
import { HOUR, MINUTE, type Instant, type Milliseconds } from '../units'

/** How often a job is expected to call: at an interval, or at the times of a cron expression in a zone. */
export type Rhythm = { every: Milliseconds } | { cron: string; zone: string }

/** What is wrong with a cron expression, as what was expected; undefined when it can be read and comes round. */
export function cronProblem(cron: string): string | undefined {
  const expected = 'a cron expression of five fields that comes round, such as 30 3 * * 1-5'
  if (cron.trim().split(/\s+/).length !== 5) return expected
  try {
    CronExpressionParser.parse(cron, { currentDate: new Date(0), tz: 'UTC' }).next()
    return undefined
  } catch {
    return expected
  }
}

/** The last times of a cron expression up to a moment, newest first. */
export function timesUpTo(cron: string, zone: string, at: Instant, count: number): Instant[] {
  // the parser looks at what lies strictly before, in whole seconds
  const times = CronExpressionParser.parse(cron, { currentDate: new Date(at + 1000), tz: zone })
  const found: Instant[] = []
  try {
    while (found.length < count) {
      const time = times.prev().getTime()
      if (time <= at) found.push(time)
    }
  } catch {
    // a rule such as the 29th of February may have no earlier time within what the parser follows
  }
  return found
}

/** The next time of a cron expression after a moment. */
export const nextTime = (cron: string, zone: string, at: Instant): Instant => CronExpressionParser.parse(cron, { currentDate: new Date(at), tz: zone }).next().getTime()

/** How much earlier than its time a call still counts for it: clocks differ a little. */
export const earliness = (between: Milliseconds): Milliseconds => Math.min(5 * MINUTE, between / 4)

/** The longest pause that makes sense to judge as one interval. */
export const INTERVAL = { shortest: 30_000, longest: 400 * 24 * HOUR }
