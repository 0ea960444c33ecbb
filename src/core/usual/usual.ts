import { hourOfWeek } from '../time/zoned'
import type { Instant } from '../units'

/** What a metric is at one hour of the week: its median and a robust spread (1.4826 × median absolute deviation). */
export interface Usual {
  median: number
  spread: number
  samples: number
}

export const HOURS_OF_WEEK = 168
/** Fewer hours than this, neighbours included, say nothing about what is usual. */
export const LEAST_SAMPLES = 3

/**
 * What is usual at every hour of the week. Each hour takes its own weeks and, while those are few, the hours
 * just before and after it and the same hour of other days.
 * @param values one value an hour, times in trouble left out by the caller
 */
export function usualByHour(values: { at: Instant; value: number }[], zone: string): (Usual | undefined)[] {
  const hours: number[][] = Array.from({ length: HOURS_OF_WEEK }, () => [])
  for (const { at, value } of values) hours[hourOfWeek(at, zone)]!.push(value)
  return hours.map((own, hour) => {
    const samples = own.length >= LEAST_SAMPLES ? [...own] : [
      ...own, ...own, ...hours[(hour + 1) % HOURS_OF_WEEK]!, ...hours[(hour + HOURS_OF_WEEK - 1) % HOURS_OF_WEEK]!,
      ...[1, 2, 3, 4, 5, 6].flatMap((day) => hours[(hour + day * 24) % HOURS_OF_WEEK]!)
    ]
    if (samples.length < LEAST_SAMPLES) return undefined
    const middle = median(samples)
    const deviation = median(samples.map((value) => Math.abs(value - middle)))
    return { median: middle, spread: Math.max(1.4826 * deviation, 0.02 * middle), samples: own.length }
  })
}

/** The middle value; the mean of the two middle ones when their number is even. */
export function median(values: number[]): number {
  const sorted = [...values].sort((a, b) => a - b)
  const half = sorted.length >> 1
  return sorted.length % 2 === 1 ? sorted[half]! : (sorted[half - 1]! + sorted[half]!) / 2
}
