'use server'

import { revalidatePath } from 'next/cache'
import type { CheckDocument } from '@/core/definitions/check'
import { freeKey, keyFromName } from '@/core/definitions/key'
import { HemeronError } from '@/core/problems'
import type { Observation } from '@/core/observation'
import { addCheck, askForRuns, listChecks, removeCheck, replaceCheck, requireCheck, setMuted, setPaused, acceptCheck } from '@/store/checks'
import { database } from '@/store/database'
import { listLocations, locationsOf } from '@/store/locations'
import { askForTry, tryResults } from '@/store/probes'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** Saves a new check; its key is made from its name when it has none that is free. It runs at once everywhere. */
export async function startWatching(document: CheckDocument, chosenKey: boolean): Promise<Result<string>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const taken = new Set((await listChecks(database())).map((stored) => stored.check.key))
    const key = chosenKey ? document.check : freeKey(keyFromName(document.name), (wanted) => taken.has(wanted))
    const stored = await addCheck(database(), { ...document, check: key }, person.id, Date.now())
    revalidatePath('/', 'layout')
    return stored.check.key
  })
}

/** Saves a changed check, unless someone else saved it since `version`. */
export async function saveCheck(key: string, document: CheckDocument, version: number): Promise<Result<{ key: string; version: number }>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const stored = await replaceCheck(database(), key, document, version, person.id, Date.now())
    revalidatePath('/', 'layout')
    return { key: stored.check.key, version: stored.version }
  })
}

export async function runNow(key: string): Promise<Result<number>> {
  return attempt(async () => {
    await signedInAs('responder')
    const stored = await requireCheck(database(), key)
    if (stored.pausedAt !== null) throw new HemeronError('wrong-state', 'The check is paused; let it run again first.')
    return askForRuns(database(), stored.id, stored.check, Date.now())
  })
}

export async function pause(key: string, on: boolean): Promise<Result<undefined>> {
  return turn(setPaused, key, on)
}

export async function mute(key: string, on: boolean): Promise<Result<undefined>> {
  return turn(setMuted, key, on)
}

async function turn(set: typeof setPaused, key: string, on: boolean): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await set(database(), key, on, person.id, Date.now())
    revalidatePath('/', 'layout')
    return undefined
  })
}

/** Removes a check. Its definition can be started again as a new one. */
export async function remove(key: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await removeCheck(database(), key, person.id, Date.now())
    revalidatePath('/', 'layout')
    return undefined
  })
}

/** Begins a try of a definition that is not saved. */
export async function beginTry(document: CheckDocument): Promise<Result<{ id: string; locations: { id: number; place: string }[] }>> {
  return attempt(async () => {
    await signedInAs('responder')
    const { check } = await acceptCheck(database(), document)
    const locations = locationsOf(check.from, await listLocations(database()))
    if (locations.length === 0) throw new HemeronError('no-probe', 'There is no location to try from.')
    const id = await askForTry(database(), document, locations.map((location) => location.id), Date.now())
    return { id, locations: locations.map(({ id: location, place }) => ({ id: location, place })) }
  })
}

/** What a try has brought so far. */
export async function readTry(id: string): Promise<Result<{ location: number; observation?: Observation }[]>> {
  return attempt(async () => {
    await signedInAs('responder')
    return tryResults(database(), id)
  })
}
