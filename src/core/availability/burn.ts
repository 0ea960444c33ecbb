import { DAY, HOUR, MINUTE, type Instant, type Milliseconds } from '../units'
import { addAvailability, availability, type Availability, type StateSpan } from './availability'

/**
 * How fast an error budget is used up: the bad share over the share that may be bad. At 1 it lasts exactly as long as the
 * objective's stretch. Undefined when nothing is known, or when nothing may be bad.
 */
export function burnRate({ up, down }: Pick<Availability, 'up' | 'down'>, objective: number): number | undefined {
  return up + down === 0 || objective >= 1 ? undefined : down / (up + down) / (1 - objective)
}

/** Too fast: over a long stretch, so that it matters, and over a short one, so that it still goes on. */
export const FAST_BURNS = [{ long: HOUR, short: 5 * MINUTE, above: 14.4 }, { long: 6 * HOUR, short: 30 * MINUTE, above: 6 }] as const

/** The longest stretch that is looked at. */
export const BURN_LOOKS_BACK = 6 * HOUR

export interface FastBurn {
  /** How many times faster than the objective allows, over `over`. */
  rate: number
  over: Milliseconds
  /** Place of the span list that was down longest in that time. */
  worst: number
}

/**
 * Whether an error budget is being used up too fast.
 * @param spans for each check of the service its states over the last six hours
 * @returns undefined when it is not
 */
export function fastBurn(spans: readonly StateSpan[][], objective: number, now: Instant): FastBurn | undefined {
  const over = (length: Milliseconds) => spans.map((each) => availability(each, { from: now - length, to: now }))
  const rateOver = (length: Milliseconds) => burnRate(addAvailability(over(length)), objective)
  const found = FAST_BURNS.find(({ long, short, above }) => (rateOver(long) ?? 0) > above && (rateOver(short) ?? 0) > above)
  if (!found) return undefined
  const down = over(found.long).map((each) => each.down)
  return { rate: rateOver(found.long)!, over: found.long, worst: down.indexOf(Math.max(...down)) }
}

/** When the budget is gone if it goes on like this: what is left × the objective's stretch / rate. Nothing is left: 0. */
export const exhaustedIn = (left: number, stretch: Milliseconds, rate: number): Milliseconds => Math.max(0, left) * stretch / rate

/** “at 31 times the pace over the last hour; at this pace the rest is gone in 14 h”. */
export function speakBurn({ rate, over }: Pick<FastBurn, 'rate' | 'over'>, objective: string, rest: Milliseconds | undefined, speak: (length: Milliseconds) => string): string {
  const pace = `${rate >= 10 ? Math.round(rate) : rate.toFixed(1)} times faster than ${objective} allows, over the last ${speak(over)}`
  return rest === undefined ? pace : rest <= 0 ? `${pace}; nothing of it is left` : `${pace}; at this pace the rest is gone in ${rest > DAY ? `${Math.round(rest / DAY)} days` : speak(rest)}`
}
