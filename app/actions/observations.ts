'use server'

import { setTimeout as sleep } from 'node:timers/promises'
import { HemeronError } from '@/core/problems'
import { askForRuns, requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import { listLocations } from '@/store/locations'
import { listObservations } from '@/store/observations'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** Runs a check now at one location and waits for what is seen; gives the address of that observation. */
export async function tryAgainFrom(checkKey: string, locationKey: string): Promise<Result<string>> {
  return attempt(async () => {
    await signedInAs('responder')
    const stored = await requireCheck(database(), checkKey)
    const place = (await listLocations(database())).find((each) => each.key === locationKey)
    if (!place) throw new HemeronError('not-found', 'There is no such location any more.')
    if (stored.pausedAt !== null) throw new HemeronError('wrong-state', 'The check is paused; let it run again first.')
    const begun = Date.now()
    await askForRuns(database(), stored.id, { ...stored.check, from: [locationKey] }, begun)
    for (const end = begun + stored.check.wait + 8000; Date.now() < end;) {
      await sleep(250)
      const [found] = await listObservations(database(), { check: stored.id, location: place.id, from: begun - 1000, to: Date.now() + 60_000, limit: 1 })
      if (found) return `/observations/${checkKey}/${locationKey}/${found.at}`
    }
    throw new HemeronError('wrong-state', `Nothing came from ${place.place} yet. Its probe may be away; the try will appear on the page of the check.`)
  })
}
