import type { Instant, Milliseconds } from '../units'
import { MINUTE, SECOND } from '../units'
import type { LocationMemory, StateRule } from './location-memory'

export const STATES = ['up', 'warning', 'slow', 'suspect', 'down', 'planned', 'paused', 'nodata'] as const
export type CheckState = (typeof STATES)[number]

export const STATE_NAMES: Record<CheckState, string> = {
  up: 'Up', warning: 'Warning', slow: 'Slow', suspect: 'Suspect', down: 'Down', planned: 'Planned work', paused: 'Paused', nodata: 'No data'
}

/** What the memories of all locations say together. */
export interface Judgement {
  state: CheckState
  /** Confirmed as down or slow, whatever state is shown. */
  down: boolean
  slow: boolean
  /** Locations at which the failure is confirmed, and those at which it is only suspected. */
  failing: number
  suspecting: number
  /** Locations that must agree before the check is Down. */
  needed: number
  locations: number
  /** The first failure (or slowness) at the affected locations, and the last pass before it. */
  since?: Instant
  lastPass?: Instant
  reason?: string
  sentence?: string
}

/**
 * Judges a check from what is remembered at each of its locations. Pure.
 * A confirmed fact wins over an open suspicion: down, slow, suspect, warning, up, in this order.
 * @param memories one entry for each location the check runs from; undefined where nothing was observed yet
 */
export function judgeCheck(memories: (LocationMemory | undefined)[], rule: StateRule): Judgement {
  const seen = memories.filter((memory) => memory !== undefined)
  const failing = seen.filter((memory) => memory.failing)
  const suspecting = seen.filter((memory) => !memory.failing && memory.failingSince !== undefined)
  const slow = seen.filter((memory) => memory.slow)
  const warning = seen.filter((memory) => memory.warning)
  const needed = Math.max(1, Math.min(rule.down.locations, memories.length))
  const isDown = failing.length >= needed
  const isSlow = rule.slow !== undefined && slow.length >= Math.max(1, Math.min(rule.slow.locations, memories.length))
  const counts = { down: isDown, slow: isSlow, failing: failing.length, suspecting: suspecting.length, needed, locations: memories.length }
  if (seen.length === 0) return { state: 'nodata', ...counts }
  if (isDown) return { state: 'down', ...counts, ...troubleOf(failing, (memory) => memory.failingSince) }
  if (isSlow) return { state: 'slow', ...counts, ...troubleOf(slow, (memory) => memory.slowSince) }
  const suspects = [...failing, ...suspecting]
  if (suspects.length > 0) return { state: 'suspect', ...counts, ...troubleOf(suspects, (memory) => memory.failingSince) }
  if (warning.length >= needed) return { state: 'warning', ...counts, ...troubleOf(warning, (memory) => memory.lastAt) }
  return { state: 'up', ...counts }
}

/** The earliest onset among affected locations, with the words of the location it was seen at. */
function troubleOf(affected: LocationMemory[], onset: (memory: LocationMemory) => Instant | undefined) {
  const first = [...affected].sort((a, b) => (onset(a) ?? a.lastAt) - (onset(b) ?? b.lastAt))[0]!
  const passes = affected.map((memory) => memory.passBefore).filter((at) => at !== undefined)
  return {
    since: onset(first) ?? first.lastAt,
    ...(passes.length > 0 ? { lastPass: Math.min(...passes) } : {}),
    reason: first.reason,
    sentence: first.sentence
  }
}

/** How long a check may be silent before it has no data: three periods and one try, half a minute at least. */
export function silenceAllowed(every: Milliseconds, wait: Milliseconds): Milliseconds {
  return Math.max(3 * every, MINUTE / 2) + wait + 5 * SECOND
}

/** Whether the newest observation is too old. A check that is new is given the same time from its start. */
export function isSilent(newestAt: Instant | undefined, startedAt: Instant, every: Milliseconds, wait: Milliseconds, now: Instant): boolean {
  return now - Math.max(newestAt ?? 0, startedAt) > silenceAllowed(every, wait)
}

/** What is still missing before the check is Down: said on its page while it is Suspect. */
export function missingForDown(memories: (LocationMemory | undefined)[], rule: StateRule): { locations: number; tries: number } {
  const judgement = judgeCheck(memories, rule)
  const locations = Math.max(0, judgement.needed - judgement.failing)
  const left = memories
    .filter((memory) => memory?.failing !== true)
    .map((memory) => Math.max(1, rule.down.tries - failuresCounted(memory, rule)))
    .sort((a, b) => a - b)
  return { locations, tries: left.slice(0, locations).reduce((sum, tries) => sum + tries, 0) }
}

function failuresCounted(memory: LocationMemory | undefined, rule: StateRule): number {
  if (!memory) return 0
  if (rule.down.of === undefined) return /f*$/.exec(memory.recent)![0].length
  return [...memory.recent.slice(-rule.down.of)].filter((outcome) => outcome === 'f').length
}
