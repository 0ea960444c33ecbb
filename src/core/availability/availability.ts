import type { CheckState } from '../states/check-state'
import type { Instant, Milliseconds } from '../units'

/** A check in one state from one moment to the next; `to` is missing while it lasts. */
export interface StateSpan {
  state: CheckState
  from: Instant
  to?: Instant
  /** For Down: the last pass before it. The outage began after this and not after `from`. */
  lastPass?: Instant
}

export interface Availability {
  up: Milliseconds
  down: Milliseconds
  /** Time without data: neither up nor down. */
  unknown: Milliseconds
  /** Planned work and pauses, which count against nobody. */
  excluded: Milliseconds
  /** up / (up + down); undefined when neither was seen. */
  share?: number
  /** If all the unknown time had been down, and if it had been up. */
  lowest?: number
  highest?: number
  outages: number
  longest: Milliseconds
}

/**
 * The arithmetic of availability over a range. A minute is bad when the check as a whole is Down: slow, warning
 * and suspect time is available. Overlapping spans are an error of the caller.
 */
export function availability(spans: StateSpan[], range: { from: Instant; to: Instant }): Availability {
  const sum = { up: 0, down: 0, unknown: 0, excluded: 0, outages: 0, longest: 0 }
  for (const span of spans) {
    const length = Math.min(span.to ?? range.to, range.to) - Math.max(span.from, range.from)
    if (length <= 0) continue
    if (span.state === 'down') {
      sum.down += length
      sum.outages += 1
      sum.longest = Math.max(sum.longest, length)
    } else if (span.state === 'nodata') sum.unknown += length
    else if (span.state === 'planned' || span.state === 'paused') sum.excluded += length
    else sum.up += length
  }
  const known = sum.up + sum.down
  const all = known + sum.unknown
  return {
    ...sum,
    ...(known > 0 ? { share: sum.up / known } : {}),
    ...(all > 0 ? { lowest: sum.up / all, highest: (sum.up + sum.unknown) / all } : {})
  }
}

/** Adds the time of several checks, as for a service: every check's minutes count the same. */
export function addAvailability(all: Availability[]): Availability {
  const add = (pick: (each: Availability) => number) => all.reduce((sum, each) => sum + pick(each), 0)
  const [up, down, unknown] = [add((each) => each.up), add((each) => each.down), add((each) => each.unknown)]
  return {
    up, down, unknown,
    excluded: add((each) => each.excluded),
    ...(up + down > 0 ? { share: up / (up + down) } : {}),
    ...(up + down + unknown > 0 ? { lowest: up / (up + down + unknown), highest: (up + unknown) / (up + down + unknown) } : {}),
    outages: add((each) => each.outages),
    longest: Math.max(0, ...all.map((each) => each.longest))
  }
}

/** How long an outage lasted, as a range: its onset lies between the last pass and the first failure, its end between the last failure and the first pass. */
export function outageLength(onset: { lastPass?: Instant; firstFail: Instant }, end: { lastFail?: Instant; firstPass: Instant }): { least: Milliseconds; most: Milliseconds } {
  const least = Math.max(0, (end.lastFail ?? end.firstPass) - onset.firstFail)
  return { least, most: Math.max(least, end.firstPass - (onset.lastPass ?? onset.firstFail)) }
}

/**
 * The share of the error budget that is left: 1 when nothing failed, 0 when it is used up, negative beyond.
 * Budget = (1 − objective) of the known time in the objective's stretch.
 */
export function budgetLeft(seen: Availability, objective: number): number | undefined {
  const allowed = (1 - objective) * (seen.up + seen.down)
  if (allowed === 0) return seen.up + seen.down === 0 ? undefined : seen.down > 0 ? -1 : 1
  return 1 - seen.down / allowed
}

/** Says a share with as many decimals as carry meaning: `99.94`, `100.00`, `96.20`; never rounded up to 100. */
export function speakAvailability(share: number): string {
  const percent = Math.floor(share * 1e4 + 1e-9) / 100
  return percent.toFixed(2)
}
