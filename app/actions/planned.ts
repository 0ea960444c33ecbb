'use server'

import { revalidatePath } from 'next/cache'
import { freeKey, keyFromName } from '@/core/definitions/key'
import { readCalendar } from '@/core/planned/icalendar'
import { HemeronError, type Problem } from '@/core/problems'
import { requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import { requireService } from '@/store/define-one'
import { addPlanned, closeWindow, endPlanned, listPlanned, openWindow, removePlanned } from '@/store/planned'
import { settings, signedInAs } from '../server/session'
import { attempt, type Result } from './result'

const changed = () => revalidatePath('/', 'layout')

/** Plans work or a release window; its key is made from its title. */
export async function plan(document: Record<string, unknown>): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const taken = new Set((await listPlanned(database())).map((each) => each.planned.key))
    await addPlanned(database(), [{ ...document, planned: freeKey(keyFromName(String(document.title), 'planned'), (key) => taken.has(key)) }], person.id, Date.now())
    changed()
    return undefined
  })
}

/** Ends what is on now, or prolongs it by some milliseconds. */
export async function endPlan(key: string, to: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    await endPlanned(database(), key, to, person.id, Date.now())
    changed()
    return undefined
  })
}

export async function removePlan(key: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await removePlanned(database(), key, person.id, Date.now())
    changed()
    return undefined
  })
}

/** Takes a calendar's events as planned work: all that can be read, when nothing is wrong. */
export async function takeCalendar(text: string, concerned: Record<string, unknown> | undefined): Promise<Result<{ count: number; problems: Problem[] }>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    if (text.length > 1_000_000) throw new HemeronError('too-large', 'The calendar has more than a million characters.')
    const taken = new Set((await listPlanned(database())).map((each) => each.planned.key))
    const { documents, problems } = readCalendar(text, (await settings()).zone, (key) => taken.has(key))
    if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
    await addPlanned(database(), documents.map((document) => (concerned ? { ...document, for: concerned } : document)), person.id, Date.now())
    changed()
    return { count: documents.length, problems }
  })
}

/** Opens or closes a release window of a check or a service. */
export async function turnWindow(place: 'check' | 'service', key: string, open: boolean, minutes: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    const subject = place === 'check' ? await requireCheck(database(), key).then((stored) => ({ id: stored.id, key })) : await requireService(database(), key)
    const now = Date.now()
    if (open) await openWindow(database(), place, subject, minutes > 0 ? now + minutes * 60_000 : null, person.id, now)
    else await closeWindow(database(), place, subject, person.id, now)
    changed()
    return undefined
  })
}
