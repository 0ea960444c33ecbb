import type { Milliseconds } from '../units'
import type { Statistic } from './question'

/** One group of a split: its numbers, and a line over time. */
export interface GroupAnswer {
  name: string
  code: number
  tries: number
  fails: number
  p50?: number
  p95?: number
  /** The statistic that was asked for, and what it is where the question is set beside. */
  value?: number
  beside?: number
  /** The line of what it is set beside, point for point. */
  besideLine?: (number | null)[]
  loss?: number
  line: (number | null)[]
}

/** Tries that were counted, and any percentile of their times; undefined where none has a time. */
export interface Measured {
  tries: number
  fails: number
  percentile: (share: number) => Milliseconds | undefined
}

const SHARES: Record<Exclude<Statistic, 'share failing'>, number> = { p50: 0.5, p75: 0.75, p90: 0.9, p95: 0.95, p99: 0.99 }
export const shareOf = (statistic: Statistic): number | undefined => (statistic === 'share failing' ? undefined : SHARES[statistic])

/** A statistic of some tries: a percentile of their times, or the share of them that failed; undefined where there is nothing to say. */
export function statisticOf({ tries, fails, percentile }: Measured, statistic: Statistic): number | undefined {
  const share = shareOf(statistic)
  if (share !== undefined) return percentile(share)
  return tries === 0 ? undefined : fails / tries
}

/** What is said of a group, however its tries were counted: one by one, or from sketches. */
export function groupAnswer(name: string, code: number, all: Measured, line: (number | null)[], statistic: Statistic, loss?: number): GroupAnswer {
  const [p50, p95, value] = [all.percentile(0.5), all.percentile(0.95), statisticOf(all, statistic)]
  return {
    name, code, tries: all.tries, fails: all.fails, ...(p50 === undefined ? {} : { p50 }), ...(p95 === undefined ? {} : { p95 }),
    ...(value === undefined ? {} : { value }), ...(loss === undefined ? {} : { loss }), line
  }
}

/** The same from parts along the line, which are counted by themselves. */
export const groupOfParts = (name: string, code: number, all: Measured, parts: readonly Measured[], statistic: Statistic): GroupAnswer =>
  groupAnswer(name, code, all, parts.map((part) => statisticOf(part, statistic) ?? null), statistic)

/** Worst first; groups without a value last. */
export const worstFirst = (groups: GroupAnswer[]): GroupAnswer[] => groups.sort((a, b) => (b.value ?? -1) - (a.value ?? -1) || b.fails - a.fails || a.name.localeCompare(b.name))
