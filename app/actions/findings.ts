'use server'

import { revalidatePath } from 'next/cache'
import { readMark } from '@/core/marks/mark'
import { HemeronError } from '@/core/problems'
import { addBoard, changeBoard, removeBoard } from '@/store/boards'
import { database } from '@/store/database'
import { addMark, removeMark } from '@/store/marks'
import { putParty, removeParty } from '@/store/parties'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** Sets a mark; gives its number. */
export async function setMark(given: { title: string; kind: string; detail?: string; at?: string; service?: string }): Promise<Result<number>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    const now = Date.now()
    const read = readMark(Object.fromEntries(Object.entries(given).filter(([, value]) => value !== '' && value !== undefined)), now)
    if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
    const id = await addMark(database(), read.mark, person.id, now)
    revalidatePath('/', 'layout')
    return id
  })
}

export async function takeMarkAway(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    await removeMark(database(), id, person.id, Date.now())
    revalidatePath('/', 'layout')
    return undefined
  })
}

/** Adds or changes a party by its written form. */
export async function saveParty(document: Record<string, unknown>): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await putParty(database(), document, person.id, Date.now())
    revalidatePath('/find-out/parties')
    return undefined
  })
}

export async function takePartyAway(key: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await removeParty(database(), key, person.id, Date.now())
    revalidatePath('/find-out/parties')
    return undefined
  })
}

/** Makes a board, or changes the one with a number; gives its number. */
export async function saveBoard(given: { id?: number; name: string; checks: string[]; locations: string[] }): Promise<Result<number>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const { id: known, ...board } = given
    if (known !== undefined) await changeBoard(database(), { id: known, ...board }, person.id, Date.now())
    const id = known ?? await addBoard(database(), board, person.id, Date.now())
    revalidatePath('/find-out/places')
    return id
  })
}

export async function takeBoardAway(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await removeBoard(database(), id, person.id, Date.now())
    revalidatePath('/find-out/places')
    return undefined
  })
}
