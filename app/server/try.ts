import type { CheckDocument } from '@/core/definitions/check'
import { HemeronError } from '@/core/problems'
import type { Observation } from '@/core/observation'
import { database } from '@/store/database'
import { settleForTry } from '@/store/define-one'
import type { Location } from '@/store/locations'
import { askForTry, tryResults } from '@/store/probes'
import { setTimeout as sleep } from 'node:timers/promises'

/** A definition to run once without recording it: one that is not saved, or a stored check with values for this run only. */
export interface TryWish {
  document: CheckDocument
  /** The stored check it belongs to, whose secrets it has. */
  check?: number
  variables?: Record<string, string>
}

/** Begins a try at every location of a definition. Throws bad-document. */
export async function beginTryOf({ document, check, variables }: TryWish, now: number): Promise<{ id: string; locations: Location[]; wait: number }> {
  const { settled, locations } = await settleForTry(database(), document, check ?? null, variables)
  const id = await askForTry(database(), document, locations.map((location) => location.id), now, { ...(check === undefined ? {} : { check }), ...(variables ? { variables } : {}) })
  return { id, locations, wait: settled.check.wait }
}

/** Runs a definition once and waits for all answers, or as long as they may take. Throws bad-document or no-probe. */
export async function tryToTheEnd(wish: TryWish, signal: AbortSignal): Promise<{ location: Location; observation: Observation }[]> {
  const asked = Date.now()
  const { id, locations, wait } = await beginTryOf(wish, asked)
  const until = asked + wait + 5000
  for (;;) {
    const results = await tryResults(database(), id)
    const answered = results.flatMap(({ location, observation }) => (observation ? [{ location: locations.find((each) => each.id === location)!, observation }] : []))
    if (answered.length === locations.length || signal.aborted) return answered
    if (Date.now() > until) {
      if (answered.length === 0) throw new HemeronError('no-probe', 'No probe answered. Is one running for these locations?')
      return answered
    }
    await sleep(60)
  }
}

/** Reads `{ "NAME": "value" }` for one run. Throws bad-document. */
export function readRunVariables(given: unknown): Record<string, string> | undefined {
  if (given === undefined) return undefined
  const isFine = given !== null && typeof given === 'object' && !Array.isArray(given) && Object.values(given).every((value) => typeof value === 'string' && value.length <= 8000)
  if (!isFine) throw new HemeronError('bad-document', undefined, [{ path: 'variables', found: JSON.stringify(given).slice(0, 80), expected: 'names with their values as text' }])
  return given as Record<string, string>
}
