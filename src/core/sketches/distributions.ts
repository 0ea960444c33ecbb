import type { Milliseconds } from '../units'
import { bucketsOf, type Sketch } from './sketch'

/** One step of two distributions: the share of each that lies near a time. */
export interface DistributionPoint { at: Milliseconds; before: number; after: number }

const STEPS = 60

/** Two distributions of times over the same equal steps of the logarithm of time, as shares of each; empty when neither has any. */
export function twoDistributions(before: Sketch, after: Sketch): DistributionPoint[] {
  const [old, fresh] = [bucketsOf(before), bucketsOf(after)]
  const times = [...old, ...fresh].map((each) => each.value)
  if (times.length === 0) return []
  const [least, most] = [Math.log(Math.max(1, Math.min(...times))), Math.log(Math.max(2, ...times))]
  const place = (value: number) => Math.min(STEPS - 1, Math.floor(((Math.log(Math.max(1, value)) - least) / Math.max(0.01, most - least)) * STEPS))
  const shares = (buckets: { value: number; count: number }[], total: number) => {
    const found = new Float64Array(STEPS)
    for (const { value, count } of buckets) found[place(value)]! += count / total
    return found
  }
  const [one, other] = [shares(old, before.total), shares(fresh, after.total)]
  return Array.from({ length: STEPS }, (_, step) => ({ at: Math.exp(least + ((step + 0.5) / STEPS) * (most - least)) / 1000, before: one[step]!, after: other[step]! }))
}
