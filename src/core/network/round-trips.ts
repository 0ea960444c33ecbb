import type { Milliseconds } from '../units'

/** What a handful of round trips says; null stands for one that did not come back. */
export interface RoundTrips {
  /** Share that did not come back, 0 to 1. */
  loss: number
  fastest?: Milliseconds
  median?: Milliseconds
  slowest?: Milliseconds
  /** Mean difference between one round trip and the next (RFC 3393, section 4.5, without its sign). */
  jitter?: Milliseconds
}

export function roundTrips(times: readonly (Milliseconds | null)[]): RoundTrips {
  const came = times.filter((time) => time !== null)
  const loss = times.length === 0 ? 1 : (times.length - came.length) / times.length
  if (came.length === 0) return { loss }
  const sorted = [...came].sort((a, b) => a - b)
  const differences = came.slice(1).map((time, index) => Math.abs(time - came[index]!))
  return {
    loss, fastest: sorted[0]!, median: medianOf(sorted), slowest: sorted.at(-1)!,
    ...(differences.length > 0 ? { jitter: differences.reduce((sum, each) => sum + each, 0) / differences.length } : {})
  }
}

/** The median of numbers in rising order, at least one. */
function medianOf(sorted: readonly number[]): number {
  const middle = Math.floor(sorted.length / 2)
  return sorted.length % 2 === 1 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2
}
