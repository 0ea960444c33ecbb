import type { DownRule, SlowRule } from '../definitions/check'
import type { Verdict } from '../observation'
import type { Instant } from '../units'

/** The part of a check's definition that decides its state. */
export interface StateRule {
  down: DownRule
  up: { tries: number }
  slow?: SlowRule
}

/** What one try says to the state machine. */
export interface Seen {
  at: Instant
  verdict: Verdict
  reason?: string
  sentence?: string
  /** Below the limit for slow by the margin of recovery; undefined where nothing says otherwise. */
  quick?: boolean
}

/** What is remembered of one check at one location between two tries. Plain data: it is stored as it is. */
export interface LocationMemory {
  lastAt: Instant
  lastVerdict: Verdict
  lastPassAt?: Instant
  /** Outcomes of the last tries, newest last, one letter each: p, w, s, f. At most 20. */
  recent: string
  /** The failure is confirmed here: enough tries failed. */
  failing: boolean
  /** The first failure of the present suspicion; set from the first failed try on. */
  failingSince?: Instant
  /** The last pass before failingSince; the true onset lies between the two. */
  passBefore?: Instant
  /** The last failed try, and the first pass of the present row of passes. */
  lastFailAt?: Instant
  passingSince?: Instant
  passesInARow: number
  slow: boolean
  slowSince?: Instant
  quickInARow: number
  warning: boolean
  reason?: string
  sentence?: string
}

const REMEMBERED = 20

/**
 * Takes one try into the memory of its location. Pure; tries must come in the order of their time,
 * and one that is not later than the last is ignored.
 */
export function rememberTry(memory: LocationMemory | undefined, seen: Seen, rule: StateRule): LocationMemory {
  if (memory && seen.at <= memory.lastAt) return memory
  const before = memory ?? { lastAt: 0, lastVerdict: 'pass', recent: '', failing: false, passesInARow: 0, slow: false, quickInARow: 0, warning: false }
  const recent = (before.recent + seen.verdict[0]!).slice(-REMEMBERED)
  const next: LocationMemory = { ...before, lastAt: seen.at, lastVerdict: seen.verdict, recent }
  return seen.verdict === 'fail' ? rememberFailure(next, seen, rule) : rememberPass(next, seen, rule)
}

/**
 * The memory of a location after planned work: what failed while that was on, and passed the last time, is over; what
 * still fails at the end counts from there on.
 */
export function afterPlannedWork(memory: LocationMemory): LocationMemory {
  if (memory.lastVerdict === 'fail' || memory.failingSince === undefined) return memory
  return { ...memory, failing: false, failingSince: undefined, passBefore: undefined, recent: memory.recent.replaceAll('f', ''), reason: undefined, sentence: undefined }
}

function rememberFailure(memory: LocationMemory, seen: Seen, rule: StateRule): LocationMemory {
  const first = memory.failingSince === undefined
  const next: LocationMemory = {
    ...memory,
    passesInARow: 0,
    lastFailAt: seen.at,
    reason: seen.reason,
    sentence: seen.sentence,
    ...(first ? { failingSince: seen.at, passBefore: memory.lastPassAt } : {})
  }
  return { ...next, failing: memory.failing || enoughFailures(next.recent, rule.down) }
}

/** Whether the last tries are enough to believe the failure at this location. */
function enoughFailures(recent: string, down: DownRule): boolean {
  if (down.of === undefined) return recent.length >= down.tries && /^f+$/.test(recent.slice(-down.tries))
  return [...recent.slice(-down.of)].filter((outcome) => outcome === 'f').length >= down.tries
}

function rememberPass(memory: LocationMemory, seen: Seen, rule: StateRule): LocationMemory {
  const passesInARow = memory.passesInARow + 1
  const over = passesInARow >= (memory.failing || rule.down.of !== undefined ? rule.up.tries : 1)
  // a failed try says nothing about the softer limit: it neither makes a warning nor ends one
  const warned = memory.recent.replaceAll('f', '').slice(-rule.down.tries)
  const next: LocationMemory = {
    ...memory,
    lastPassAt: seen.at,
    passingSince: memory.passesInARow === 0 ? seen.at : memory.passingSince ?? seen.at,
    passesInARow,
    warning: warned.length >= rule.down.tries && /^w+$/.test(warned),
    ...rememberSpeed(memory, seen, rule)
  }
  if (memory.failingSince !== undefined && !over) return next
  return {
    ...next,
    failing: false,
    failingSince: undefined,
    passBefore: undefined,
    recent: memory.failingSince === undefined ? memory.recent : memory.recent.replaceAll('f', ''),
    reason: seen.verdict === 'pass' ? undefined : seen.reason,
    sentence: seen.verdict === 'pass' ? undefined : seen.sentence
  }
}

function rememberSpeed(memory: LocationMemory, seen: Seen, rule: StateRule): Pick<LocationMemory, 'slow' | 'slowSince' | 'quickInARow'> {
  if (!rule.slow) return { slow: false, slowSince: undefined, quickInARow: 0 }
  if (seen.verdict === 'slow') {
    const slowSince = memory.slowSince ?? seen.at
    return { slow: memory.slow || seen.at - slowSince >= rule.slow.for, slowSince, quickInARow: 0 }
  }
  // a time between the margin and the limit neither makes slow nor ends it
  if (memory.slow && seen.quick === false) return { slow: true, slowSince: memory.slowSince, quickInARow: 0 }
  const quickInARow = memory.quickInARow + 1
  const over = !memory.slow || quickInARow >= rule.up.tries
  return { slow: memory.slow && !over, slowSince: over ? undefined : memory.slowSince, quickInARow }
}
