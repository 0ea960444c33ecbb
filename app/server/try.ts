import type { Check } from '@/core/definitions/check'
import { writeCheck } from '@/core/definitions/read-check'
import { HemeronError } from '@/core/problems'
import type { Observation } from '@/core/observation'
import { kinds } from '@/kinds/definitions'
import { database } from '@/store/database'
import { listLocations, locationsOf, type Location } from '@/store/locations'
import { askForTry, tryResults } from '@/store/probes'
import { setTimeout as sleep } from 'node:timers/promises'

/** Runs a definition once at its locations without saving it and waits for all answers, or as long as they may take. */
export async function tryCheck(check: Check, signal: AbortSignal): Promise<{ location: Location; observation: Observation }[]> {
  const locations = locationsOf(check.from, await listLocations(database()))
  if (locations.length === 0) throw new HemeronError('bad-document', undefined, [{ path: 'from', found: 'no location', expected: 'at least one location' }])
  const asked = Date.now()
  const id = await askForTry(database(), writeCheck(check, kinds), locations.map((location) => location.id), asked)
  const until = asked + check.wait + 5000
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
