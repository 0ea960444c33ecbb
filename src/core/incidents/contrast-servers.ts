import type { Observation } from '../observation'

/** Fewer failing tries than this say nothing about a server. */
const LEAST_TRIES = 4

export interface ServerContrast {
  /** The one server that gave every failing answer and hardly any passing one; undefined when there is none. */
  culprit?: string
  failing: Record<string, number>
  passing: Record<string, number>
}

/**
 * Sets the servers of failing tries beside those of passing ones. One server is named only when it gave all failing
 * answers, at least four of them, while other servers passed and it gave less than a tenth of the passes.
 */
export function contrastServers(failing: Observation[], passing: Observation[]): ServerContrast {
  const count = (all: Observation[]) => all.reduce<Record<string, number>>((counts, { server }) => (server === undefined ? counts : { ...counts, [server]: (counts[server] ?? 0) + 1 }), {})
  const contrast = { failing: count(failing), passing: count(passing) }
  const [only, ...others] = Object.keys(contrast.failing)
  const passes = Object.values(contrast.passing).reduce((sum, each) => sum + each, 0)
  const isAlone = only !== undefined && others.length === 0 && contrast.failing[only] === failing.length && failing.length >= LEAST_TRIES
  const othersPass = only !== undefined && passes - (contrast.passing[only] ?? 0) >= LEAST_TRIES && (contrast.passing[only] ?? 0) < passes / 10
  return isAlone && othersPass ? { culprit: only, ...contrast } : contrast
}

/** “edge-4 gave all 38 failing answers; edge-1, edge-2, edge-3 and edge-5 pass.” or undefined. */
export function speakServers({ culprit, failing, passing }: ServerContrast): string | undefined {
  if (culprit === undefined) return undefined
  const fine = Object.keys(passing).filter((server) => server !== culprit).sort()
  return `${culprit} gave all ${failing[culprit]} failing answers; ${fine.length > 4 ? `${fine.length} other servers` : fine.join(', ')} ${fine.length === 1 ? 'passes' : 'pass'}.`
}
