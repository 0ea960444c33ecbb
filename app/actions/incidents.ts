'use server'

import { revalidatePath } from 'next/cache'
import type { IncidentAct } from '@/core/incidents/incident'
import { database } from '@/store/database'
import { actOnIncident } from '@/store/incidents'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** Acts on an incident as the person who is signed in. */
export async function act(id: number, what: IncidentAct, given: { to?: number; text?: string }): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    await actOnIncident(database(), id, what, person, given, Date.now())
    revalidatePath('/', 'layout')
    return undefined
  })
}
