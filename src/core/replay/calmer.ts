import type { Check, DownRule, SlowRule } from '../definitions/check'
import { speakDuration } from '../definitions/duration'
import { median } from '../usual/usual'
import { MINUTE, type Milliseconds } from '../units'
import { onlyIn } from './compare'
import type { Replayed } from './replay'

/** A change of a check's rule that could make it call less often. */
export interface Calmer {
  /** What changes, as it is said: “3 tries instead of 2”. */
  words: string
  rule: { down: DownRule; slow?: SlowRule }
  /** The same in the written form of a check, beside what stands there. */
  written: { down?: Record<string, unknown>; slow?: Record<string, unknown> }
}

/** Changes worth playing on the past: more tries, longer pauses, more locations, slow for longer. */
export function calmerRules({ down, slow }: Pick<Check, 'down' | 'slow'>, places: number): Calmer[] {
  const tries = [1, 2].map((more): Calmer => ({
    words: `${down.tries + more} tries instead of ${down.tries}`, rule: { down: { ...down, tries: down.tries + more, ...(down.of === undefined ? {} : { of: down.of + more }) }, ...(slow ? { slow } : {}) },
    written: { down: { tries: down.tries + more, ...(down.of === undefined ? {} : { of: down.of + more }) } }
  }))
  const apart = Math.max(3 * down.apart, 30_000)
  const slower: Calmer = { words: `tries ${speakDuration(apart)} apart instead of ${speakDuration(down.apart)}`, rule: { down: { ...down, apart }, ...(slow ? { slow } : {}) }, written: { down: { apart: `${apart / 1000}s` } } }
  const wider: Calmer[] = down.locations < places ? [{ words: `${down.locations + 1} locations instead of ${down.locations}`, rule: { down: { ...down, locations: down.locations + 1 }, ...(slow ? { slow } : {}) }, written: { down: { locations: down.locations + 1 } } }] : []
  const longer: Calmer[] = slow ? [{ words: `slow for ${speakDuration(3 * slow.for)} instead of ${speakDuration(slow.for)}`, rule: { down, slow: { ...slow, for: 3 * slow.for } }, written: { slow: { for: `${(3 * slow.for) / 1000}s` } } }] : []
  return [...tries, slower, ...wider, ...longer]
}

/** What a calmer rule would have done on the same past as the present one. */
export interface Calmed {
  calmer: Calmer
  before: number
  after: number
  /** How much later it calls, in the middle of all incidents that both find. */
  later: Milliseconds
}

/** Incidents at least this long must not be lost for quiet. */
const REAL = 5 * MINUTE

/**
 * The change that would have quieted a check best without losing one incident of five minutes or more; of changes that
 * quiet it alike, the one that calls soonest. Undefined when none takes a third of the incidents away.
 */
export function calmest(present: Pick<Replayed, 'incidents'>, played: readonly { calmer: Calmer; replayed: Pick<Replayed, 'incidents'> }[]): Calmed | undefined {
  const before = present.incidents.length
  const delay = ({ incidents }: Pick<Replayed, 'incidents'>) => (incidents.length === 0 ? 0 : median(incidents.map((each) => each.called - each.from)))
  return played.filter(({ replayed }) => onlyIn(present.incidents, replayed.incidents).every((lost) => (lost.to ?? Infinity) - lost.from < REAL))
    .map(({ calmer, replayed }): Calmed => ({ calmer, before, after: replayed.incidents.length, later: Math.max(0, delay(replayed) - delay({ incidents: present.incidents.filter((each) => onlyIn([each], replayed.incidents).length === 0) })) }))
    .filter(({ after }) => after <= (2 / 3) * before)
    .sort((a, b) => a.after - b.after || a.later - b.later)[0]
}
