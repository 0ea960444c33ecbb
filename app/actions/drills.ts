'use server'

import { revalidatePath } from 'next/cache'
import { HemeronError } from '@/core/problems'
import { settings, signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** Switches a made-up fault of the demo world on or off. */
export async function switchDrill(key: string, on: boolean): Promise<Result<undefined>> {
  return attempt(async () => {
    await signedInAs('responder')
    const { world } = await settings()
    if (world === '' || !/^[a-z0-9-]{1,40}$/.test(key)) throw new HemeronError('not-found', 'There are drills in the demo only.')
    const answer = await fetch(`${world}/drills/${key}/${on ? 'on' : 'off'}`, { method: 'POST', signal: AbortSignal.timeout(5000) })
    if (!answer.ok) throw new HemeronError('not-found', 'There is no such drill.')
    revalidatePath('/drills')
    return undefined
  })
}

/** Presses a key in a call of the demo world; gives what the voice says then. */
export async function pressKey(call: string, key: string): Promise<Result<string>> {
  return attempt(async () => {
    await signedInAs('responder')
    const { world } = await settings()
    const answer = world === '' ? undefined : await fetch(`${world}/press?${new URLSearchParams({ call, key }).toString()}`, { method: 'POST', signal: AbortSignal.timeout(8000) })
    if (!answer?.ok) throw new HemeronError('not-found', 'That call is over.')
    revalidatePath('/drills')
    return ((await answer.json()) as { said: string }).said
  })
}
