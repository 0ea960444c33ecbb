'use server'

import { revalidatePath } from 'next/cache'
import type { CheckDocument } from '@/core/definitions/check'
import { freeKey, keyFromName } from '@/core/definitions/key'
import { HemeronError } from '@/core/problems'
import type { Observation } from '@/core/observation'
import { askForRuns, haltChecks, listChecks, requireCheck, resumeChecks, type HaltWish } from '@/store/checks'
import { addCheck, removeCheck, replaceCheck } from '@/store/define-one'
import { database } from '@/store/database'
import { undoChange } from '@/store/history'
import { renewInlet } from '@/store/inlet'
import { tryResults } from '@/store/probes'
import { signedInAs } from '../server/session'
import { beginTryOf } from '../server/try'
import { attempt, type Result } from './result'

const changed = () => revalidatePath('/', 'layout')

/** Saves a new check; its key is made from its name when it has none that is free. It runs at once everywhere. */
export async function startWatching(document: CheckDocument, chosenKey: boolean): Promise<Result<string>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const taken = new Set((await listChecks(database())).map((stored) => stored.check.key))
    const key = chosenKey ? document.check : freeKey(keyFromName(document.name), (wanted) => taken.has(wanted))
    const stored = await addCheck(database(), { ...document, check: key }, person.id, Date.now())
    changed()
    return stored.check.key
  })
}

/** Saves a changed check, unless someone else saved it since `version`. */
export async function saveCheck(key: string, document: CheckDocument, version: number): Promise<Result<{ key: string; version: number }>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const stored = await replaceCheck(database(), key, document, version, person.id, Date.now())
    changed()
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

/** Gives a check that is told things another address. */
export async function renewAddress(key: string): Promise<Result<undefined>> {
  return attempt(async () => {
    await signedInAs('editor')
    await renewInlet(database(), (await requireCheck(database(), key)).id)
    changed()
    return undefined
  })
}

/** Pauses or mutes checks, with an end and a reason where they are given. */
export async function halt(kind: 'pause' | 'mute', keys: string[], wish: HaltWish): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await haltChecks(database(), kind, keys, wish, person.id, Date.now())
    changed()
    return undefined
  })
}

/** Lets paused checks run again, or ends their mute. */
export async function resume(kind: 'pause' | 'mute', keys: string[]): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await resumeChecks(database(), kind, keys, person.id, Date.now())
    changed()
    return undefined
  })
}

/** Takes a check out of use. Gives the number of the change, by which it can be undone with its history. */
export async function remove(key: string): Promise<Result<number | undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const change = await removeCheck(database(), key, person.id, Date.now())
    changed()
    return change
  })
}

/** Takes back everything a change did. */
export async function undo(change: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await undoChange(database(), change, person.id, Date.now())
    changed()
    return undefined
  })
}

/** Begins a try of a definition that is not saved; `of` is the stored check it belongs to, `variables` count for this run only. */
export async function beginTry(document: CheckDocument, of?: string, variables?: Record<string, string>): Promise<Result<{ id: string; locations: { id: number; place: string }[] }>> {
  return attempt(async () => {
    await signedInAs('responder')
    const check = of === undefined ? undefined : (await requireCheck(database(), of)).id
    const { id, locations } = await beginTryOf({ document, ...(check === undefined ? {} : { check }), ...(variables ? { variables } : {}) }, Date.now())
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
