import type { Observation } from '../observation'
import type { Trouble } from '../ribbons/ribbon'
import { MINUTE, type Instant, type Milliseconds } from '../units'
import { judgeCheck, type CheckState, type Judgement } from './check-state'
import { rememberTry, type LocationMemory, type StateRule } from './location-memory'
import { nextTries, type WantedTry } from './next-tries'

/** What is known of a check between two batches of observations. */
export interface Known {
  state: CheckState
  since: Instant
  newest?: Instant
  memories: Map<number, LocationMemory>
}

/** A change of state: from when it counts and what was judged. */
export interface Turn {
  from: CheckState
  to: CheckState
  since: Instant
  /** The moment the deciding observation was made. */
  at: Instant
  judgement: Judgement
  /** The last failed try at any location, for the end of an outage. */
  lastFail?: Instant
}

export interface Evaluated {
  known: Known
  judgement: Judgement
  turns: Turn[]
  opened: { location: number; kind: Trouble; from: Instant; reason?: string }[]
  closed: { location: number; kind: Trouble; to: Instant }[]
  wanted: WantedTry[]
  /** Locations whose memory changed. */
  touched: Set<number>
}

export interface EvaluatedCheck {
  rule: StateRule
  every: Milliseconds
  /** Locations the check runs from, in the order in which they are asked after a first failure. */
  locations: number[]
  /** Locations take turns instead of all running together. */
  inTurn?: boolean
  /** Whether an observation lies far enough below the limit for slow to count as quick; by default against the rule's own limit. */
  quick?: (seen: Observation) => boolean | undefined
  /** Planned work is on, or the check is not run: observations are remembered, and nothing follows from them. */
  held?: boolean
}

const STRETCH_KINDS: Partial<Record<Observation['verdict'], Trouble>> = { fail: 'fail', slow: 'slow', warn: 'warn' }

/**
 * Takes observations of one check into what is known and says everything that follows: changes of state, stretches
 * of trouble, tries to make. Pure. Observations are taken in the order of their time; one that is far older than the
 * newest known (a probe that was cut off sends it late) is history and changes no state.
 */
export function evaluate(check: EvaluatedCheck, before: Known, observations: Observation[], now: Instant): Evaluated {
  const memories = new Map(before.memories)
  const known: Known = { ...before, memories }
  const result: Evaluated = { known, judgement: judge(check, memories), turns: [], opened: [], closed: [], wanted: [], touched: new Set() }
  const late = Math.max(2 * check.every, 2 * MINUTE)
  for (const seen of [...observations].sort((a, b) => a.at - b.at)) {
    if (!check.locations.includes(seen.location) || (known.newest !== undefined && seen.at < known.newest - late)) continue
    // a location without a line proves nothing
    if (seen.occasion === 'cut-off') continue
    const memory = memories.get(seen.location)
    const quick = check.quick ? check.quick(seen) : isQuick(seen, check.rule)
    const next = rememberTry(memory, quick === undefined ? seen : { ...seen, quick }, check.rule)
    if (next === memory) continue
    memories.set(seen.location, next)
    result.touched.add(seen.location)
    known.newest = Math.max(known.newest ?? 0, seen.at)
    // the end of planned work is not decided by the first observation after it
    if (check.held || known.state === 'planned') continue
    followStretch(result, memory, seen)
    result.wanted.push(...nextTries(seen.location, seen, memories, check.rule, check.locations, Math.max(now, seen.at), check.inTurn))
    result.judgement = judge(check, memories)
    const turn = turnOf(known, result.judgement, next, seen.at, memories)
    if (!turn) continue
    result.turns.push(turn)
    known.state = turn.to
    known.since = turn.since
  }
  return result
}

/** Whether a time lies below the limit by the margin of recovery; undefined where there is no fixed limit. */
function isQuick(seen: Observation, { slow }: StateRule): boolean | undefined {
  if (!slow || slow.above === 'usual') return undefined
  const time = slow.phase === 'total' ? seen.total : seen.phases[slow.phase]
  return time === undefined ? undefined : time <= slow.above * (1 - slow.margin)
}

const judge = (check: EvaluatedCheck, memories: Map<number, LocationMemory>) =>
  judgeCheck(check.locations.map((location) => memories.get(location)), check.rule)

function followStretch(result: Evaluated, memory: LocationMemory | undefined, seen: Observation): void {
  const was = memory ? STRETCH_KINDS[memory.lastVerdict] : undefined
  const is = STRETCH_KINDS[seen.verdict]
  if (was === is) return
  if (was) result.closed.push({ location: seen.location, kind: was, to: seen.at })
  if (is) result.opened.push({ location: seen.location, kind: is, from: seen.at, reason: seen.reason })
}

function turnOf(known: Known, judgement: Judgement, memory: LocationMemory, at: Instant, memories: Map<number, LocationMemory>): Turn | undefined {
  if (judgement.state === known.state) return undefined
  const worsens = judgement.state === 'down' || judgement.state === 'slow' || judgement.state === 'suspect'
  const onset = known.state === 'down' ? memory.passingSince ?? at : worsens ? judgement.since ?? at : at
  const fails = [...memories.values()].map((each) => each.lastFailAt).filter((each) => each !== undefined)
  return {
    from: known.state, to: judgement.state, since: Math.min(at, Math.max(onset, known.since)), at, judgement,
    ...(fails.length > 0 ? { lastFail: Math.max(...fails) } : {})
  }
}
