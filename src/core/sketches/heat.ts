import type { Milliseconds } from '../units'

/** How often each time was seen at each point of a line. */
export interface Heat {
  /** Where the rows end; what took longer is in the last one. */
  most: Milliseconds
  rows: number
  /** Point after point, each from the lowest row up. */
  counts: number[]
}

/** Values in microseconds with how often each was seen. */
export type Seen = { value: number; count: number }[]

const ROWS = 36
/** What is rarer than this lies beyond the edge, so that a few outliers do not flatten everything else. */
const SHOWN = 0.998

/**
 * Counts values into equal rows of time, for every point of a line by itself. Values are known as well as the sketches they come from hold them.
 * @returns undefined where nothing was seen
 */
export function heatOf(points: readonly Seen[]): Heat | undefined {
  const all = points.flat().sort((a, b) => a.value - b.value)
  const total = all.reduce((sum, each) => sum + each.count, 0)
  if (total === 0) return undefined
  let seen = 0
  const edge = all.find((each) => (seen += each.count) >= SHOWN * total)!.value
  const most = Math.max(1, (edge / 1000) * 1.05)
  const counts = new Array<number>(points.length * ROWS).fill(0)
  points.forEach((point, place) => {
    for (const { value, count } of point) counts[place * ROWS + Math.min(ROWS - 1, Math.floor((value / 1000 / most) * ROWS))]! += count
  })
  return { most, rows: ROWS, counts }
}
