import type { Limits } from './condition'

export type LimitOutcome = 'held' | 'warned' | 'failed'

/** Judges a number against limits: hard ends first, then the softer ones. */
export function judgeLimits(limits: Limits, value: number): LimitOutcome {
  if (limits.min !== undefined && value < limits.min) return 'failed'
  if (limits.max !== undefined && value > limits.max) return 'failed'
  if (limits.warnMin !== undefined && value < limits.warnMin) return 'warned'
  if (limits.warnMax !== undefined && value > limits.warnMax) return 'warned'
  return 'held'
}
