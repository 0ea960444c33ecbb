import { MINUTE } from '../units'
import type { Column, Tries } from './tries'

const { isNaN: isMissing } = Number
const { floor } = Math

/** Successive tries of a check at a location are not independent: within so long they count once. */
const EPISODE = 5 * MINUTE

/** Bins of a histogram of ratios. */
export const BINS = 256

/** One value of a column, added up: tries, what is bad about them, and the episodes they make. */
export interface Group { column: number; code: number; n: number; bad: number; sum: number; cells: number; badCells: number; goodCells: number; bins?: Float64Array }

/** The episode of each try. */
export function cellsOf(tries: Tries): Float64Array {
  const cells = new Float64Array(tries.count)
  for (let index = 0; index < tries.count; index += 1) cells[index] = floor(tries.at[index]! / EPISODE)
  return cells
}

/** Adds up every value of a column: tries, what is bad about them, and how many episodes they make. */
export function groupsOf(tries: Tries, { codes, names }: Column, column: number, pairs: Int32Array, pairCount: number, cells: Float64Array, amount: (index: number) => number, bins?: Uint8Array): Group[] {
  const groups: Group[] = names.map((_, code) => ({ column, code, n: 0, bad: 0, sum: 0, cells: 0, badCells: 0, goodCells: 0, ...(bins ? { bins: new Float64Array(BINS) } : {}) }))
  const size = names.length * pairCount
  const [seen, seenBad, seenGood] = [new Float64Array(size).fill(-1), new Float64Array(size).fill(-1), new Float64Array(size).fill(-1)]
  for (let index = 0; index < tries.count; index += 1) {
    const code = codes[index]!
    if (code < 0) continue
    const bad = amount(index)
    if (isMissing(bad)) continue
    const group = groups[code]!
    const cell = cells[index]!
    const place = pairs[index]! * names.length + code
    group.n += 1
    group.sum += bad
    if (bins) group.bins![bins[index]!]! += 1
    if (seen[place] !== cell) group.cells += 1
    seen[place] = cell
    if (bad > 0) {
      group.bad += 1
      if (seenBad[place] !== cell) group.badCells += 1
      seenBad[place] = cell
    } else {
      if (seenGood[place] !== cell) group.goodCells += 1
      seenGood[place] = cell
    }
  }
  return groups.filter((group) => group.n > 0)
}

/** What the tries of every value would have taken before, added up. */
export function groupSums(tries: Tries, excess: Float64Array, expected: (index: number) => number): (column: number, code: number) => number {
  const sums = new Map<number, Float64Array>()
  return (column, code) => {
    let found = sums.get(column)
    if (!found) {
      const { codes, names } = tries.columns[column]!
      sums.set(column, found = new Float64Array(names.length))
      for (let index = 0; index < tries.count; index += 1) if (codes[index]! >= 0 && !isMissing(excess[index]!)) found[codes[index]!]! += expected(index)
    }
    return found[code]!
  }
}
