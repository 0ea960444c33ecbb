import { isFail, isTimed } from '../findout/bases'
import { selectPercentile } from '../findout/select'
import type { Tries } from '../findout/tries'
import { PHASES, type PhaseTimes } from '../observation'
import type { Milliseconds } from '../units'

/** How the tries of one check went at one location. Times are of those that did not fail. */
export interface PlaceTimes {
  tries: number
  passed: number
  /** The middle time of each phase. */
  phases: PhaseTimes
  p50?: Milliseconds
  p95?: Milliseconds
}

/** Adds up tries by their location. */
export function placeTimes(tries: Tries): Map<number, PlaceTimes> {
  const places = new Map<number, number[]>()
  for (let index = 0; index < tries.count; index += 1) {
    const own = places.get(tries.location[index]!)
    if (own) own.push(index)
    else places.set(tries.location[index]!, [index])
  }
  return new Map([...places].map(([location, own]) => {
    const timed = (metric: string) => { const values = tries.times[metric]; return values === undefined ? new Float32Array(0) : Float32Array.from(own.filter((index) => isTimed(tries, values, index)), (index) => values[index]!) }
    const percentile = (metric: string, share: number) => selectPercentile(timed(metric), share)
    const phases = Object.fromEntries(PHASES.flatMap((phase) => { const middle = percentile(phase, 0.5); return middle === undefined ? [] : [[phase, middle]] }))
    const [p50, p95] = [percentile('total', 0.5), percentile('total', 0.95)]
    return [location, { tries: own.length, passed: own.filter((index) => !isFail(tries, index)).length, phases, ...(p50 === undefined ? {} : { p50 }), ...(p95 === undefined ? {} : { p95 }) }]
  }))
}
