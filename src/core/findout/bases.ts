import type { Tries } from './tries'

const FAIL = 3
/** Fewer tries of a check at a location than this say nothing about what its times are like. */
const LEAST = 5

/** Gives each check at each location a number of its own, without gaps. */
export function pairsOf(...all: Tries[]): { count: number; of: (tries: Tries) => Int32Array } {
  const numbers = new Map<number, number>()
  const numberOf = (check: number, location: number) => {
    const key = check * 65_536 + location
    let found = numbers.get(key)
    if (found === undefined) numbers.set(key, found = numbers.size)
    return found
  }
  const known = new Map(all.map((tries) => {
    const pairs = new Int32Array(tries.count)
    for (let index = 0; index < tries.count; index += 1) pairs[index] = numberOf(tries.check[index]!, tries.location[index]!)
    return [tries, pairs]
  }))
  return { count: numbers.size, of: (tries) => known.get(tries)! }
}

/**
 * The middle time of each check at each location over the tries that did not fail; NaN where there are too few.
 * @param pairs the number of each try's check and location
 */
export function middles(tries: Tries, values: Float32Array, pairs: Int32Array, count: number): Float64Array {
  const sizes = new Int32Array(count)
  for (let index = 0; index < tries.count; index += 1) if (isTimed(tries, values, index)) sizes[pairs[index]!]! += 1
  const starts = new Int32Array(count + 1)
  for (let pair = 0; pair < count; pair += 1) starts[pair + 1] = starts[pair]! + sizes[pair]!
  const gathered = new Float32Array(starts[count]!)
  const next = starts.slice()
  for (let index = 0; index < tries.count; index += 1) if (isTimed(tries, values, index)) gathered[next[pairs[index]!]!++] = values[index]!
  return Float64Array.from({ length: count }, (_, pair) => {
    const own = gathered.subarray(starts[pair]!, starts[pair + 1]!)
    if (own.length < LEAST) return NaN
    own.sort()
    const half = own.length >> 1
    return own.length % 2 === 1 ? own[half]! : (own[half - 1]! + own[half]!) / 2
  })
}

/** A time counts as this many times the middle at most, so that a few outliers do not decide what is usual. */
const OUTLIER = 3

/**
 * How far the mean time of each check at each location lies above its middle. Times lean to the right even when nothing is wrong, so that
 * what tries take above the middle is an excess only as far as it goes beyond this.
 */
export function leanings(tries: Tries, values: Float32Array, pairs: Int32Array, base: Float64Array): Float64Array {
  const [sums, counts] = [new Float64Array(base.length), new Int32Array(base.length)]
  for (let index = 0; index < tries.count; index += 1) {
    const middle = base[pairs[index]!]!
    if (!isTimed(tries, values, index) || Number.isNaN(middle)) continue
    sums[pairs[index]!]! += Math.min(values[index]!, OUTLIER * middle) - middle
    counts[pairs[index]!]! += 1
  }
  return sums.map((sum, pair) => (counts[pair]! === 0 ? 0 : sum / counts[pair]!))
}

/** Whether a try has a time that counts: failures are left out of times. */
export const isTimed = (tries: Tries, values: Float32Array, index: number): boolean => tries.verdict[index] !== FAIL && !Number.isNaN(values[index]!)
export const isFail = (tries: Tries, index: number): boolean => tries.verdict[index] === FAIL
