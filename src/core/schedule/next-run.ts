import type { Instant, Milliseconds } from '../units'

/** When a check runs at a location: once in each period. In turn, a location has one place of several in the round. */
export interface Beat {
  check: number
  location: number
  every: Milliseconds
  /** Its place in the round, from 0, and how many locations take turns; missing when all run together. */
  turn?: { index: number; of: number }
}

/** The time between two runs at one location. */
export function periodOf({ every, turn }: Beat): Milliseconds {
  return every * (turn?.of ?? 1)
}

/**
 * The place of a check at a location within its period, so that load is even over time and the locations of one check
 * see it at different moments. Locations in turn follow one another by exactly one cadence.
 * @returns milliseconds from 0 to the period − 1, always the same for the same numbers
 */
export function phaseOf({ check, location, every, turn }: Beat): Milliseconds {
  if (turn) return (scatter(check * 2_654_435_761) % every) + turn.index * every
  return scatter(check * 2_654_435_761 + location * 40_503) % every
}

/** The first scheduled run strictly after a moment. */
export function nextRun(beat: Beat, after: Instant): Instant {
  const [period, phase] = [periodOf(beat), phaseOf(beat)]
  return (Math.floor((after - phase) / period) + 1) * period + phase
}

/** The beats of a check at its locations, given in the order of their turns. */
export function beatsOf(check: number, locations: number[], every: Milliseconds, turns: 'together' | 'in-turn'): Beat[] {
  return locations.map((location, index) => ({ check, location, every, ...(turns === 'in-turn' ? { turn: { index, of: locations.length } } : {}) }))
}

/** The next run of a check at whichever of its locations comes first. */
export function nextRunAnywhere(beats: Beat[], after: Instant): { at: Instant; location: number } | undefined {
  return beats.map((beat) => ({ location: beat.location, at: nextRun(beat, after) })).sort((a, b) => a.at - b.at)[0]
}

/** Requests an hour that reach the target: runs of all locations, or of one in turn, each with its requests. */
export function requestsAnHour(every: Milliseconds, locations: number, requests: number, turns: 'together' | 'in-turn' = 'together'): number {
  return Math.round((3_600_000 / every) * (turns === 'together' ? locations : Math.min(1, locations)) * requests)
}

/** Mixes the bits of a number (the finaliser of MurmurHash3, 32 bit). */
export function scatter(number: number): number {
  let hash = number >>> 0
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return (hash ^ (hash >>> 16)) >>> 0
}
