import type { Push } from '../inside/inside'
import type { Numbers, Points, Sample } from './points'
import type { Instant, Milliseconds } from '../units'
import { judgeLimits, type LimitOutcome } from '../conditions/limits'
import type { Limits } from '../conditions/condition'

/**
 * Puts pushes together. The latest numbers are those of the newest push, and those that came at most `span` before it:
 * several scripts may push to one check.
 */
export function numbersOf(pushes: readonly Push[], span: Milliseconds = 0): Numbers {
  const series: Record<string, Points> = {}
  const sorted = [...pushes].sort((a, b) => a.at - b.at)
  for (const { at, samples } of sorted) for (const [key, value] of samples) (Object.hasOwn(series, key) ? series[key]! : (series[key] = [])).push([at, value])
  const newest = sorted.at(-1)?.at ?? 0
  return { latest: Object.entries(series).flatMap(([key, points]): Sample[] => (points.at(-1)![0] >= newest - span ? [[key, points.at(-1)![1]]] : [])), series }
}

/**
 * How fast a counter grows, per second. A counter that falls has begun anew, so that its value is what it has grown by.
 */
export function ratesOf(points: Points): Points {
  return points.slice(1).map(([at, value], index): Points[number] => {
    const [before, old] = points[index]!
    return [at, (value >= old ? value - old : value) / ((at - before) / 1000)]
  }).filter(([, rate]) => Number.isFinite(rate))
}

export interface LimitRule {
  limits: Limits
  /** How long a number must stay beyond a limit. */
  for: Milliseconds
  /** Share of a limit by which a number must come back inside to be good again. */
  margin: number
}

/** An end moved inwards by the margin, for a number that is beyond it already. */
const inside = (limits: Limits, margin: number): Limits => Object.fromEntries(Object.entries(limits).map(([end, value]) => {
  const isUpper = end === 'max' || end === 'warnMax'
  return [end, value + (isUpper ? -1 : 1) * Math.abs(value) * margin]
}))

const RANK: Record<LimitOutcome, number> = { held: 0, warned: 1, failed: 2 }

/**
 * Judges a number by its recent past: beyond a limit when it has been so for the whole time, good again only when it is
 * back inside by the margin. Hard and softer ends each have their own memory.
 * @param points oldest first
 * @returns the outcome now, and since when a limit is passed, also while its time is not yet over
 */
export function judgeSeries({ limits, for: time, margin }: LimitRule, points: Points): { outcome: LimitOutcome; beyondSince?: Instant } {
  const ends = (names: (keyof Limits)[]): Limits => Object.fromEntries(names.flatMap((name) => (limits[name] === undefined ? [] : [[name, limits[name]]])))
  const hard = follow(ends(['min', 'max']), time, margin, points)
  const soft = follow(ends(['warnMin', 'warnMax']), time, margin, points)
  const since = hard.since ?? soft.since
  return { outcome: hard.isBeyond ? 'failed' : soft.isBeyond ? 'warned' : 'held', ...(since === undefined ? {} : { beyondSince: since }) }
}

function follow(limits: Limits, time: Milliseconds, margin: number, points: Points): { isBeyond: boolean; since?: Instant } {
  if (Object.keys(limits).length === 0) return { isBeyond: false }
  const back = inside(limits, margin)
  let since: Instant | undefined
  let isBeyond = false
  for (const [at, value] of points) {
    const passes = RANK[judgeLimits(isBeyond ? back : limits, value)] > 0
    if (!passes) [since, isBeyond] = [undefined, false]
    else {
      since ??= at
      isBeyond = isBeyond || at - since >= time
    }
  }
  return { isBeyond, ...(since === undefined ? {} : { since }) }
}

/** The mean of some points in each of equally long steps of time; null for a step in which there is none. */
export function atEvenTimes(points: Points, from: Instant, to: Instant, steps: number): (number | null)[] {
  const sums = Array.from({ length: steps }, () => ({ sum: 0, count: 0 }))
  for (const [at, value] of points) {
    const step = sums[Math.min(steps - 1, Math.floor(((at - from) / (to - from)) * steps))]
    if (!step || at < from || at > to) continue
    step.sum += value
    step.count += 1
  }
  return sums.map(({ sum, count }) => (count === 0 ? null : sum / count))
}
