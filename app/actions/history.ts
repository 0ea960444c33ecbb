'use server'

import { revalidatePath } from 'next/cache'
import { database } from '@/store/database'
import { restoreVersion } from '@/store/history'
import type { DefinitionKind } from '@/store/define'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** Puts an earlier version of a definition in place again. */
export async function restore(kind: DefinitionKind, subject: number, version: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await restoreVersion(database(), kind, subject, version, person.id, Date.now())
    revalidatePath('/', 'layout')
    return undefined
  })
}
