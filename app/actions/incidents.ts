'use server'

import { revalidatePath } from 'next/cache'
import { HemeronError } from '@/core/problems'
import type { IncidentAct } from '@/core/incidents/incident'
import { database } from '@/store/database'
import { actOnIncident, type ActDetails } from '@/store/incident-acts'
import { requireCheck } from '@/store/checks'
import { beginPractice } from '../server/practice'
import { personOfRequest, signedInAs } from '../server/session'
import { readLink, takeByLink } from '../server/take-link'
import { attempt, type Result } from './result'

/** Acts on an incident as the person who is signed in. */
export async function act(id: number, what: IncidentAct, given: ActDetails): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    await actOnIncident(database(), id, what, person, given, Date.now())
    revalidatePath('/', 'layout')
    return undefined
  })
}

/** Takes an incident from the link in a message, as the person it was sent to. Gives what happened. */
export async function takeFromMessage(token: string): Promise<Result<string>> {
  return attempt(async () => {
    const now = Date.now()
    const linked = await readLink(token, now)
    if ('wrong' in linked) throw new HemeronError('wrong-state', linked.wrong)
    if (!linked.delivery.takeByLink && (await personOfRequest())?.id !== linked.person.id) throw new HemeronError('not-signed-in', `${linked.person.name} takes incidents after signing in only.`)
    const said = await takeByLink(linked, now)
    revalidatePath('/', 'layout')
    return said
  })
}

/** Begins a practice outage; gives the number of its incident. */
export async function practise(check: string, state: 'down' | 'slow', lasts: string): Promise<Result<number>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    const incident = await beginPractice(await requireCheck(database(), check), { state, lasts }, person, Date.now())
    revalidatePath('/', 'layout')
    return incident.id
  })
}
