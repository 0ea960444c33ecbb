import type { Instant } from '../units'
import type { LocationMemory, Seen, StateRule } from './location-memory'

/** Another try that the confirmation asks for. */
export interface WantedTry {
  location: number
  at: Instant
}

/** At how many other places a first failure is looked at, per location that must agree. */
const OTHERS_PER_NEEDED = 2

/**
 * The tries that follow from one try: again at the same place until the rule can decide, and, when it is
 * the first failure of the check, at once from other locations too.
 * @param memories by location, after this try was taken in
 * @param others the check's other locations in the order in which they should be asked
 * @param inTurn locations take turns: those that fail are then asked again with every turn, not only when it is theirs
 */
export function nextTries(
  location: number, seen: Seen, memories: ReadonlyMap<number, LocationMemory>, rule: StateRule, others: number[], now: Instant, inTurn = false
): WantedTry[] {
  const memory = memories.get(location)
  if (!memory || memory.lastAt !== seen.at) return []
  const again = { location, at: Math.max(now, seen.at + rule.down.apart) }
  if (seen.verdict !== 'fail') return [...(needsAnotherPass(memory, rule) ? [again] : []), ...(inTurn ? stillFailing(location, memories, now) : [])]
  const here = needsAnotherFailure(memory, rule) ? [again] : []
  if (!isFirstFailure(location, memories, memory)) return here
  const needed = Math.min(rule.down.locations, others.length + 1) - 1
  const asked = others.filter((other) => other !== location).slice(0, needed === 0 ? 0 : Math.max(2, needed * OTHERS_PER_NEEDED))
  return [...here, ...asked.map((other) => ({ location: other, at: now }))]
}

function stillFailing(location: number, memories: ReadonlyMap<number, LocationMemory>, now: Instant): WantedTry[] {
  return [...memories].filter(([other, memory]) => other !== location && memory.failing).map(([other]) => ({ location: other, at: now }))
}

function needsAnotherFailure(memory: LocationMemory, rule: StateRule): boolean {
  if (memory.failing) return false
  if (rule.down.of === undefined) return true
  return triesSinceFirstFailure(memory) < rule.down.of
}

/** While a location recovers it is looked at again soon; so it is between the tries of a “k of the last n” rule. */
function needsAnotherPass(memory: LocationMemory, rule: StateRule): boolean {
  if (memory.failing) return memory.passesInARow < rule.up.tries
  return memory.failingSince !== undefined && rule.down.of !== undefined && triesSinceFirstFailure(memory) < rule.down.of
}

function triesSinceFirstFailure(memory: LocationMemory): number {
  const first = memory.recent.indexOf('f')
  return first === -1 ? 0 : memory.recent.length - first
}

function isFirstFailure(location: number, memories: ReadonlyMap<number, LocationMemory>, memory: LocationMemory): boolean {
  if (memory.failingSince !== memory.lastAt) return false
  return [...memories].every(([other, each]) => other === location || each.failingSince === undefined)
}
