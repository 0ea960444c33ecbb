import { median } from '../usual/usual'
import type { Instant, Milliseconds } from '../units'
import { isFail, isTimed, middles, pairsOf } from './bases'
import { groupAnswer, shareOf, worstFirst, type GroupAnswer } from './group-answer'
import type { Statistic } from './question'
import { selectPercentile } from './select'
import type { Column, Tries } from './tries'

/**
 * Answers a question from single tries: every value of a column with its numbers and its line, worst first.
 * @param metric the name of the time that is looked at
 */
export function answer(tries: Tries, column: Column, metric: string, statistic: Statistic, range: { from: Instant; to: Instant }, step: Milliseconds): GroupAnswer[] {
  const values = tries.times[metric] ?? new Float32Array(tries.count).fill(NaN)
  const points = Math.max(1, Math.ceil((range.to - range.from) / step))
  const places = groupPlaces(column, tries.count)
  const groups = places.flatMap((own, code): GroupAnswer[] => {
    if (own.length === 0) return []
    const { seen, failed, fails, timed, pointOf } = counted(tries, values, own, range.from, step, points)
    const share = shareOf(statistic)
    const loss = meanLoss(tries, own)
    const line = share === undefined ? Array.from(seen, (all, point) => (all === 0 ? null : failed[point]! / all)) : pointwise(timed, pointOf, points, share)
    // from here on the times are moved around
    return [groupAnswer(column.names[code]!, code, { tries: own.length, fails, percentile: (wanted) => selectPercentile(timed, wanted) }, line, statistic, loss)]
  })
  return worstFirst(groups)
}

/** The tries of a group at every point of the line: how many, how many failed, and the times with the points they lie at. */
function counted(tries: Tries, values: Float32Array, own: Int32Array, from: Instant, step: Milliseconds, points: number): { seen: Int32Array; failed: Int32Array; fails: number; timed: Float32Array; pointOf: Int32Array } {
  const [seen, failed] = [new Int32Array(points), new Int32Array(points)]
  const [timed, pointOf] = [new Float32Array(own.length), new Int32Array(own.length)]
  let [fails, count] = [0, 0]
  for (const index of own) {
    const point = Math.min(points - 1, Math.max(0, Math.floor((tries.at[index]! - from) / step)))
    seen[point]! += 1
    if (isFail(tries, index)) {
      fails += 1
      failed[point]! += 1
    } else if (isTimed(tries, values, index)) {
      timed[count] = values[index]!
      pointOf[count++] = point
    }
  }
  return { seen, failed, fails, timed: timed.subarray(0, count), pointOf: pointOf.subarray(0, count) }
}

/** A percentile at every point: the times are laid down point by point, then each part is looked at by itself. */
function pointwise(timed: Float32Array, pointOf: Int32Array, points: number, share: number): (number | null)[] {
  const starts = new Int32Array(points + 1)
  for (const point of pointOf) starts[point + 1]! += 1
  for (let point = 0; point < points; point += 1) starts[point + 1]! += starts[point]!
  const laid = new Float32Array(timed.length)
  const next = starts.slice()
  for (let index = 0; index < timed.length; index += 1) laid[next[pointOf[index]!]!++] = timed[index]!
  return Array.from({ length: points }, (_, point) => selectPercentile(laid.subarray(starts[point]!, starts[point + 1]!), share) ?? null)
}

/** The places of the tries of every value of a column. */
function groupPlaces({ codes, names }: Column, count: number): Int32Array[] {
  const sizes = new Int32Array(names.length)
  for (let index = 0; index < count; index += 1) if (codes[index]! >= 0) sizes[codes[index]!]! += 1
  const places = Array.from(sizes, (size) => new Int32Array(size))
  sizes.fill(0)
  for (let index = 0; index < count; index += 1) {
    const code = codes[index]!
    if (code >= 0) places[code]![sizes[code]!++] = index
  }
  return places
}

/** The mean packet loss of the tries at some places beside which it was measured. */
export const meanLoss = (tries: Tries, places: Int32Array): number | undefined => meanOf(tries.times.loss, places)

function meanOf(values: Float32Array | undefined, places: Int32Array): number | undefined {
  let [sum, count] = [0, 0]
  for (const index of places) {
    const value = values?.[index]
    if (value === undefined || Number.isNaN(value)) continue
    sum += value
    count += 1
  }
  return count === 0 ? undefined : sum / count
}

/** The share of all tries that failed, point by point: a line beside those of the groups, for failures that times do not show. */
export function failingLine(tries: Tries, range: { from: Instant; to: Instant }, step: Milliseconds): (number | null)[] {
  const points = Math.max(1, Math.ceil((range.to - range.from) / step))
  const [seen, failed] = [new Int32Array(points), new Int32Array(points)]
  for (let index = 0; index < tries.count; index += 1) {
    const point = Math.min(points - 1, Math.max(0, Math.floor((tries.at[index]! - range.from) / step)))
    seen[point]! += 1
    if (isFail(tries, index)) failed[point]! += 1
  }
  return Array.from(seen, (all, point) => (all === 0 ? null : failed[point]! / all))
}

/** Fewer tries than these say nothing of a point. */
const LEAST_AT_POINT = 5

/**
 * How many times their own middle tries take, point by point, each set beside the middle of its check at its location: the middle of all of
 * them, which a few outliers do not move, and which far and near places share.
 */
export function ratioLine(tries: Tries, metric: string, range: { from: Instant; to: Instant }, step: Milliseconds): (number | null)[] {
  const values = tries.times[metric] ?? new Float32Array(tries.count).fill(NaN)
  const pairs = pairsOf(tries)
  const own = pairs.of(tries)
  const base = middles(tries, values, own, pairs.count)
  const points = Math.max(1, Math.ceil((range.to - range.from) / step))
  const [ratios, pointOf] = [new Float32Array(tries.count), new Int32Array(tries.count)]
  let count = 0
  for (let index = 0; index < tries.count; index += 1) {
    const middle = base[own[index]!]!
    if (!isTimed(tries, values, index) || !(middle > 0)) continue
    ratios[count] = values[index]! / middle
    pointOf[count++] = Math.min(points - 1, Math.max(0, Math.floor((tries.at[index]! - range.from) / step)))
  }
  const places = pointOf.subarray(0, count)
  const sizes = new Int32Array(points)
  for (const point of places) sizes[point]! += 1
  return pointwise(ratios.subarray(0, count), places, points, 0.5).map((each, point) => (sizes[point]! < LEAST_AT_POINT ? null : each))
}

/** At least so many points in a row, and so far above what is usual on the line, stand out. */
const [LEAST_POINTS, FAR] = [3, 4]

/**
 * The stretch of a line set that stands out most: consecutive points of one line beyond the middle by four robust spreads
 * (1.4826 × the median absolute deviation) and by a tenth. A single point between two such counts with them.
 * @param isShare the lines are shares that failed, which stand out from `least` above the middle on
 * @returns undefined when no line has one
 */
export function standsOut(groups: readonly Pick<GroupAnswer, 'line' | 'name'>[], range: { from: Instant; to: Instant }, step: Milliseconds, isShare: boolean, least = 0.1): { from: Instant; to: Instant; group: string } | undefined {
  let best: { from: Instant; to: Instant; group: string; amount: number } | undefined
  for (const { line, name } of groups) {
    const known = line.filter((each) => each !== null)
    if (known.length < 12) continue
    const middle = median(known)
    const spread = 1.4826 * median(known.map((each) => Math.abs(each - middle)))
    const limit = isShare ? Math.max(middle + least, middle + FAR * spread) : middle + Math.max(FAR * spread, 0.12 * middle)
    const isBeyond = (place: number) => (line[place] ?? -Infinity) > limit
    for (let begin = 0; begin < line.length; begin += 1) {
      if (!isBeyond(begin)) continue
      let end = begin + 1
      while (end < line.length && (isBeyond(end) || isBeyond(end + 1))) end += 1
      const amount = line.slice(begin, end).reduce<number>((sum, each) => sum + Math.max(0, ((each ?? middle) - middle) / (isShare ? 1 : Math.max(1, middle))), 0)
      // what covers most of the line is no stretch of it
      if (end - begin >= LEAST_POINTS && end - begin < line.length / 2 && (!best || amount > best.amount)) best = { from: range.from + begin * step, to: Math.min(range.to, range.from + end * step), group: name, amount }
      begin = end
    }
  }
  return best && { from: best.from, to: best.to, group: best.group }
}
