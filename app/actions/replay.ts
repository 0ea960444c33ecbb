'use server'

import { revalidatePath } from 'next/cache'
import type { CheckDocument } from '@/core/definitions/check'
import { HemeronError } from '@/core/problems'
import { requireCheck } from '@/store/checks'
import { database } from '@/store/database'
import type { RuleReplay } from '@/core/replay/compare'
import { replayRules } from '../server/replay'
import { replaceCheck } from '@/store/define-one'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

const DAYS = [7, 14, 35]

/** What the rules of a changed definition would have done over the recorded past, beside the present ones. */
export async function replay(key: string, document: CheckDocument, days: number): Promise<Result<RuleReplay | null>> {
  return attempt(async () => {
    await signedInAs('responder')
    if (!DAYS.includes(days)) throw new HemeronError('bad-document', undefined, [{ path: 'days', found: String(days), expected: DAYS.join(', ') }])
    return (await replayRules(await requireCheck(database(), key), document, days, Date.now())) ?? null
  })
}

/** Gives a check the rule that would have quieted it, beside what else its definition says. */
export async function quieten(key: string, written: { down?: Record<string, unknown>; slow?: Record<string, unknown> }, version: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const { document, settled } = await requireCheck(database(), key)
    const beside = (field: 'down' | 'slow') => (written[field] ? { [field]: { ...((document[field] ?? settled.document[field]) as Record<string, unknown> | undefined), ...written[field] } } : {})
    await replaceCheck(database(), key, { ...document, ...beside('down'), ...beside('slow') }, version, person.id, Date.now())
    revalidatePath('/', 'layout')
    return undefined
  })
}
