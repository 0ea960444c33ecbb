import { emptySketch, mergeEncoded, percentile } from '../sketches/sketch'
import { hourOfWeek } from '../time/zoned'
import type { Instant, Milliseconds } from '../units'
import { HOURS_OF_WEEK, LEAST_SAMPLES, type Usual } from './usual'

/** The range between the quartiles of a normal distribution, in standard deviations. */
const QUARTILES = 1.349
/** What is usual is never narrower than this share of the median: the clockwork of a steady server is not alarming. */
const LEAST_SPREAD = 0.03

/**
 * What single times usually are at every hour of the week: the median, and a robust spread from the quartiles. Hours with
 * few weeks of their own take in the hours beside them; with fewer than three windows in all nothing is said.
 * @param windows one sketch of times in microseconds for each past hour; hours in trouble are left out by the caller
 */
export function usualTimes(windows: { at: Instant; sketch: Buffer }[], zone: string): (Usual | null)[] {
  const hours: Buffer[][] = Array.from({ length: HOURS_OF_WEEK }, () => [])
  for (const { at, sketch } of windows) hours[hourOfWeek(at, zone)]!.push(sketch)
  return hours.map((own, hour) => {
    const beside = own.length >= LEAST_SAMPLES ? [] : [...hours[(hour + 1) % HOURS_OF_WEEK]!, ...hours[(hour + HOURS_OF_WEEK - 1) % HOURS_OF_WEEK]!, ...[1, 2, 3, 4, 5, 6].flatMap((day) => hours[(hour + day * 24) % HOURS_OF_WEEK]!)]
    if (own.length + beside.length < LEAST_SAMPLES) return null
    const merged = emptySketch()
    for (const sketch of [...own, ...beside]) mergeEncoded(merged, sketch)
    const [low, middle, high] = [percentile(merged, 0.25), percentile(merged, 0.5), percentile(merged, 0.75)]
    if (low === undefined || middle === undefined || high === undefined) return null
    const median = middle / 1000
    return { median, spread: Math.max((high - low) / 1000 / QUARTILES, LEAST_SPREAD * median), samples: own.length }
  })
}

/** The time above which something is slow at a moment; undefined while what is usual is not known. */
export function usualLimit(usual: readonly (Usual | null)[] | undefined, at: Instant, zone: string, spreads: number): Milliseconds | undefined {
  const hour = usual?.[hourOfWeek(at, zone)]
  return hour ? hour.median + spreads * hour.spread : undefined
}
