import { parseShare } from '../definitions/share'
import { parseSize } from '../definitions/size'
import type { Unit } from './subject'

/** The unit of a limit on a number of any kind, as it is written: 12, "85%" or "20GB". Undefined for anything else. */
function unitOf(written: unknown): Unit | undefined {
  if (typeof written === 'number') return Number.isFinite(written) ? 'number' : undefined
  if (typeof written !== 'string') return undefined
  if (parseShare(written) !== undefined) return 'share'
  return parseSize(written) === undefined ? undefined : 'size'
}

export const isAmount = (written: unknown): boolean => unitOf(written) !== undefined

/** The unit that all ends of some limits share; undefined when they differ. */
export function unitOfLimits(limits: unknown): Unit | undefined {
  const ends = Object.values((limits ?? {}) as Record<string, unknown>).flatMap((end) => (end !== null && typeof end === 'object' ? Object.values(end) : [end])).filter((end) => end !== undefined)
  const units = new Set(ends.map(unitOf))
  return units.size === 1 ? [...units][0] : undefined
}

/** Reads an end of limits, whatever its unit. */
export const readAmount = (written: unknown): number => (typeof written === 'number' ? written : parseShare(String(written)) ?? parseSize(String(written)) ?? Number.NaN)
