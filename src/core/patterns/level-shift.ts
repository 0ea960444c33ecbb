import { median } from '../usual/usual'
import type { Instant } from '../units'

/** One number a day: what is typical on it. */
export interface DayValue { at: Instant; value: number }

export interface LevelShift {
  /** The first day of the new level. */
  began: Instant
  before: number
  after: number
  /** It crept over many days, or came from one day to the next. */
  shape: 'sudden' | 'creeping'
  chance: number
}

/** Fewer days than this on either side of a change say nothing. */
const LEAST_DAYS = 4
/** A change matters from this share on. */
const WORTH = 0.1

/**
 * Finds the one change of level in a series of days that is least likely to be chance: Pettitt's test (A. N. Pettitt, 1979)
 * on ranks, which needs no distribution; p ≈ 2 exp(−6 K² / (n³ + n²)). A change is creeping when a straight line over
 * all days explains more of the ranks' spread than the step does.
 * @returns undefined when none is below 1 %, or it is worth less than a tenth
 */
export function levelShift(days: readonly DayValue[]): LevelShift | undefined {
  const n = days.length
  if (n < 2 * LEAST_DAYS) return undefined
  const values = days.map((each) => each.value)
  let best = 0
  for (let split = LEAST_DAYS; split <= n - LEAST_DAYS; split += 1) {
    let sum = 0
    for (let i = 0; i < split; i += 1) for (let j = split; j < n; j += 1) sum += Math.sign(values[j]! - values[i]!)
    if (Math.abs(sum) > Math.abs(best)) best = sum
  }
  const chance = Math.min(1, 2 * Math.exp((-6 * best * best) / (n ** 3 + n ** 2)))
  // the test says that there is a change and leans towards the middle; where it is says the step that fits best
  const splits = Array.from({ length: n - 2 * LEAST_DAYS + 1 }, (_, index) => LEAST_DAYS + index)
  const place = splits.reduce((found, split) => (spreadLeftByStep(values, split) < spreadLeftByStep(values, found) ? split : found))
  const [before, after] = [median(values.slice(0, place)), median(values.slice(place))]
  if (chance >= 0.01 || Math.abs(after - before) < WORTH * before) return undefined
  return { began: days[place]!.at, before, after, shape: spreadLeftByLine(values) < 0.8 * spreadLeftByStep(values, place) ? 'creeping' : 'sudden', chance }
}

const mean = (values: number[]) => values.reduce((sum, each) => sum + each, 0) / values.length
const squares = (values: number[], of: (index: number) => number) => values.reduce((sum, each, index) => sum + (each - of(index)) ** 2, 0)

function spreadLeftByStep(values: number[], place: number): number {
  const [low, high] = [mean(values.slice(0, place)), mean(values.slice(place))]
  return squares(values, (index) => (index < place ? low : high))
}

function spreadLeftByLine(values: number[]): number {
  const [x, y] = [(values.length - 1) / 2, mean(values)]
  const slope = values.reduce((sum, each, index) => sum + (index - x) * (each - y), 0) / values.reduce((sum, _, index) => sum + (index - x) ** 2, 0)
  return squares(values, (index) => y + slope * (index - x))
}

/** “412 ms since Tue 17, 340 ms before” or “creeping up since Tue 17, from 340 to 412 ms”. */
export function speakShift({ began, before, after, shape }: LevelShift, day: (at: Instant) => string, speak: (value: number) => string): string {
  return shape === 'creeping' ? `creeping ${after > before ? 'up' : 'down'}, from ${speak(before)} to ${speak(after)}, the change centres on ${day(began)}` : `${speak(after)} since ${day(began)}, ${speak(before)} before`
}
