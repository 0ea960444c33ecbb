import type { Instant } from '../units'

/** One number under its name, with its labels as in an exposition: `disk.used{mount="/"}`. */
export type Sample = [name: string, value: number]

/** What one number has been, oldest first. */
export type Points = [at: Instant, value: number][]

/** What is known of a check's numbers: the newest of each, and the recent ones of those that conditions look at. */
export interface Numbers {
  latest: Sample[]
  series: Readonly<Record<string, Points>>
}
