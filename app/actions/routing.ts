'use server'

import { revalidatePath } from 'next/cache'
import { freeKey, keyFromName } from '@/core/definitions/key'
import type { DaysOff } from '@/core/routing/reach'
import type { RoutingKind } from '@/core/routing/routing-world'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { setPreferences } from '@/store/preferences'
import { defineRouting, listRouting, setDaysOff } from '@/store/routing'
import { shiftsOf } from '../server/routing-view'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

const changed = () => revalidatePath('/', 'layout')

/** Saves a team, rota or route that is there already. */
export async function saveRouting(kind: RoutingKind, key: string, document: Record<string, unknown>, fromVersion: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await defineRouting(database(), [{ kind, key, document, fromVersion }], person.id, Date.now())
    changed()
    return undefined
  })
}

/** Adds a team or rota; its key is made from its name. */
export async function addRouting(kind: 'team' | 'rota', document: Record<string, unknown>): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const taken = new Set((await listRouting(database())).filter((each) => each.kind === kind).map((each) => each.key))
    const key = freeKey(keyFromName(String(document.name ?? ''), kind), (each) => taken.has(each))
    await defineRouting(database(), [{ kind, key, document: { ...document, [kind]: key } }], person.id, Date.now())
    changed()
    return undefined
  })
}

/** Puts a new route on top, where it takes everything vital that goes down until its sentence says otherwise. */
export async function addRoute(): Promise<Result<string>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const routes = (await listRouting(database())).filter((each) => each.kind === 'route')
    const taken = new Set(routes.map((each) => each.key))
    const key = freeKey('route', (each) => taken.has(each))
    const document = { route: key, place: 1, when: { importance: 'vital', state: 'down' }, then: [{ tell: `person/${person.key}` }] }
    await defineRouting(database(), [{ kind: 'route', key, document }, ...routes.map((each, index) => ({ kind: 'route' as const, key: each.key, document: { ...each.document, place: index + 2 } }))], person.id, Date.now())
    changed()
    return key
  })
}

export async function removeRouting(kind: RoutingKind, key: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await defineRouting(database(), [{ kind, key, document: null }], person.id, Date.now())
    changed()
    return undefined
  })
}

/** The routes in another order; every one must be named once. Throws edited-meanwhile when they are not the ones there are. */
async function inOrder(keys: string[]) {
  const routes = (await listRouting(database())).filter((each) => each.kind === 'route')
  if (keys.length !== routes.length || new Set(keys).size !== keys.length || keys.some((key) => routes.every((each) => each.key !== key))) throw new HemeronError('edited-meanwhile', 'The routes have changed meanwhile. Nothing was moved.')
  return keys.map((key, index) => ({ kind: 'route' as const, key, document: { ...routes.find((each) => each.key === key)!.document, place: index + 1 } }))
}

/** Puts the routes into another order. */
export async function orderRoutes(keys: string[]): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await defineRouting(database(), await inOrder(keys), person.id, Date.now())
    changed()
    return undefined
  })
}

/** Says who would hear of more and who of fewer checks if the routes stood in another order. */
export async function previewOrder(keys: string[]): Promise<Result<string>> {
  return attempt(async () => {
    await signedInAs('editor')
    await inOrder(keys)
    return shiftsOf(keys, Date.now())
  })
}

/** Says how a person wants to be told; everyone may say it of themselves, editors of all. */
export async function savePreferences(key: string, wanted: unknown): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('viewer')
    if (person.key !== key) await signedInAs('editor')
    await setPreferences(database(), key, wanted, person.id, Date.now())
    changed()
    return undefined
  })
}

/** Says when a person is away; everyone may say it of themselves, editors of all. */
export async function saveDaysOff(key: string, off: DaysOff[]): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('viewer')
    if (person.key !== key) await signedInAs('editor')
    await setDaysOff(database(), key, off, person.id, Date.now())
    changed()
    return undefined
  })
}
