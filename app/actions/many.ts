'use server'

import { revalidatePath } from 'next/cache'
import type { CheckDocument } from '@/core/definitions/check'
import { settleCheck } from '@/core/layers/settle'
import { freeKeys } from '@/core/many/read-addresses'
import type { Verdict } from '@/core/observation'
import { locationsOf } from '@/core/places/places'
import { HemeronError, problemSentence } from '@/core/problems'
import { kinds } from '@/kinds/definitions'
import { listChecks } from '@/store/checks'
import { database } from '@/store/database'
import { defineAll } from '@/store/define'
import { listLocations } from '@/store/locations'
import { askForTries, triesResults } from '@/store/probes'
import { openSecrets } from '@/store/secrets'
import { readWorld, surroundingsOf } from '@/store/world'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** The most that one call tries; the grid calls again for more. */
const AT_ONCE = 250

/** A try that has begun, or why the document cannot be run. */
export type Begun = { id: string } | { problem: string }

/** Tries many definitions at once, each from one location of its own, taking turns through all of them. */
export async function tryMany(documents: CheckDocument[], offset: number): Promise<Result<Begun[]>> {
  return attempt(async () => {
    await signedInAs('responder')
    if (documents.length > AT_ONCE) throw new HemeronError('too-large', `At most ${AT_ONCE} at once.`)
    const [world, all] = [await readWorld(database(), openSecrets), await listLocations(database())]
    const begun: Begun[] = []
    const wanted: { at: number; document: CheckDocument; locations: number[] }[] = []
    documents.forEach((document, index) => {
      const read = settleCheck(document, surroundingsOf(world, document, null), kinds)
      const places = 'settled' in read ? locationsOf(read.settled.check.from, all) : []
      if ('problems' in read) begun[index] = { problem: read.problems.map(problemSentence).join(' ') }
      else if (places.length === 0) begun[index] = { problem: 'There is no location to try from.' }
      else wanted.push({ at: index, document, locations: [places[(offset + index) % places.length]!.id] })
    })
    const ids = await askForTries(database(), wanted, Date.now())
    wanted.forEach(({ at }, index) => { begun[at] = { id: ids[index]! } })
    return begun
  })
}

/** What a try of one row brought. */
export interface RowResult {
  id: string
  verdict: Verdict
  total: number
  status?: number
  sentence?: string
  place: string
}

/** What tries have brought so far. */
export async function readMany(ids: string[]): Promise<Result<RowResult[]>> {
  return attempt(async () => {
    await signedInAs('responder')
    const places = new Map((await listLocations(database())).map((location) => [location.id, location.place]))
    return [...await triesResults(database(), ids)].flatMap(([id, [observation]]) => observation ? [{
      id, verdict: observation.verdict, total: observation.total, place: places.get(observation.location) ?? '',
      ...(observation.status === undefined ? {} : { status: observation.status }), ...(observation.sentence === undefined ? {} : { sentence: observation.sentence })
    }] : [])
  })
}

/** Starts to watch many at once, all or none. Gives how many, and the change to undo it by. */
export async function startMany(documents: CheckDocument[]): Promise<Result<{ count: number; change: number | undefined }>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const taken = new Set((await listChecks(database())).map((stored) => stored.check.key))
    const keys = freeKeys(documents.map((document) => document.name), (key) => taken.has(key))
    const change = await defineAll(database(), documents.map((document, index) => ({ kind: 'check', key: keys[index]!, document: { ...document, check: keys[index]! } })), `Added ${documents.length} checks`, person.id, Date.now())
    revalidatePath('/', 'layout')
    return { count: documents.length, change }
  })
}
