import type { Instant, Milliseconds } from '../units'

/**
 * The place of a check at a location within its period, so that load is even over time and the
 * locations of one check see it at different moments.
 * @returns milliseconds from 0 to every − 1, always the same for the same three numbers
 */
export function phaseOf(check: number, location: number, every: Milliseconds): Milliseconds {
  return scatter(check * 2_654_435_761 + location * 40_503) % every
}

/** The first scheduled run strictly after a moment. */
export function nextRun(check: number, location: number, every: Milliseconds, after: Instant): Instant {
  const phase = phaseOf(check, location, every)
  return (Math.floor((after - phase) / every) + 1) * every + phase
}

/** The next run of a check at whichever of its locations comes first. */
export function nextRunAnywhere(check: number, locations: number[], every: Milliseconds, after: Instant): { at: Instant; location: number } | undefined {
  return locations
    .map((location) => ({ location, at: nextRun(check, location, every, after) }))
    .sort((a, b) => a.at - b.at)[0]
}

/** Requests an hour that reach the target: runs of all locations, each with its requests. */
export function requestsAnHour(every: Milliseconds, locations: number, requests: number): number {
  return Math.round((3_600_000 / every) * locations * requests)
}

/** Mixes the bits of a number (the finaliser of MurmurHash3, 32 bit). */
export function scatter(number: number): number {
  let hash = number >>> 0
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return (hash ^ (hash >>> 16)) >>> 0
}
