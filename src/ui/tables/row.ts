import type { Filterable } from '@/core/table/filter'

/** A check as the table shows it. */
export interface CheckRow extends Filterable {
  sentence: string
  paused: boolean
  every: string
  from: string
  p95?: number
  usual?: number
  available?: number
}
