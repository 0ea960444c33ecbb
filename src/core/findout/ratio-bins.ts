import { isTimed } from './bases'
import { BINS, cellsOf } from './groups'
import type { Tries } from './tries'

const { isNaN: isMissing } = Number
const { exp, log, max, min, round } = Math

/** What all bins span on the logarithm of a ratio: from e⁻³ to e³. */
const BIN_SPAN = 6

/** The bin of each try's time as a multiple of what it is compared with: 256 bins from e⁻³ to e³. */
export function ratioBins(tries: Tries, values: Float32Array, pairs: Int32Array, base: Float64Array, excess: Float64Array): Uint8Array {
  const bins = new Uint8Array(tries.count)
  for (let index = 0; index < tries.count; index += 1) if (!isMissing(excess[index]!)) bins[index] = binOf(values[index]! / base[pairs[index]!]!)
  return bins
}

export const binOf = (ratio: number) => max(0, min(BINS - 1, round((log(max(1e-6, ratio)) / BIN_SPAN + 0.5) * BINS)))
const ratioOf = (bin: number) => exp((bin / BINS - 0.5) * BIN_SPAN)

export function meanBin(bins: Float64Array): number {
  let [sum, count] = [0, 0]
  for (let bin = 0; bin < BINS; bin += 1) {
    sum += bin * bins[bin]!
    count += bins[bin]!
  }
  return count === 0 ? 0 : sum / count
}

/** The middle ratio of a histogram. */
export function ratioAt(bins: Float64Array): number {
  const all = bins.reduce((sum, count) => sum + count, 0)
  let seen = 0
  for (let bin = 0; bin < BINS; bin += 1) {
    seen += bins[bin]!
    if (seen * 2 >= all && all > 0) return ratioOf(bin)
  }
  return 1
}

/** The histogram of a reference against its own middles, and how many episodes it holds. */
export function referenceBins(reference: Tries, values: Float32Array, pairs: Int32Array, base: Float64Array): [Float64Array, number] {
  const bins = new Float64Array(BINS)
  const cells = cellsOf(reference)
  const last = new Float64Array(base.length).fill(-1)
  let count = 0
  for (let index = 0; index < reference.count; index += 1) {
    const expected = base[pairs[index]!]!
    if (!isTimed(reference, values, index) || isMissing(expected)) continue
    bins[binOf(values[index]! / expected)]! += 1
    if (last[pairs[index]!] !== cells[index]) count += 1
    last[pairs[index]!] = cells[index]!
  }
  return [bins, count]
}
