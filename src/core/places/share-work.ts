import { scatter } from '../schedule/next-run'

/**
 * Which of several probes at one location runs a check: rendezvous hashing, so that the work is shared evenly and a probe
 * that comes or goes moves only its own part.
 * @param probes numbers of the probes that are alive
 */
export function probeFor(check: number, location: number, probes: readonly number[]): number | undefined {
  let best: number | undefined
  let most = -1
  for (const probe of probes) {
    const weight = scatter(check * 2_654_435_761 + location * 97 + scatter(probe * 40_503))
    if (weight > most || (weight === most && probe < best!)) {
      best = probe
      most = weight
    }
  }
  return best
}
