'use server'

import { revalidatePath } from 'next/cache'
import { differences, type Difference } from '@/core/definitions/differences'
import type { Problem } from '@/core/problems'
import { database } from '@/store/database'
import { defineAll, previewDefinitions, type Wanted } from '@/store/define'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

/** A definition of a file as it is sent: which, and what it would say. */
export type Given = Pick<Wanted, 'kind' | 'document' | 'secrets'> & { document: Record<string, unknown> }

const wantedOf = ({ kind, document, secrets }: Given): Wanted => ({ kind, key: kind === 'workspace' ? '' : String(document[kind]), document, ...(secrets ? { secrets } : {}) })

export interface ImportPreview {
  fresh: { kind: string; key: string; name: string }[]
  changed: { kind: string; key: string; name: string; differences: Difference[] }[]
  same: number
  problems: Problem[]
}

/** What a file would do: what is new, what changes, what is wrong and why. Nothing is written. */
export async function previewImport(given: Given[]): Promise<Result<ImportPreview>> {
  return attempt(async () => {
    await signedInAs('editor')
    const { drafts, problems } = await previewDefinitions(database(), given.map(wantedOf))
    const facts = (draft: (typeof drafts)[number]) => ({ kind: draft.kind, key: draft.key, name: String(draft.after?.name ?? 'the workspace') })
    return {
      fresh: drafts.filter((draft) => draft.before === null).map(facts),
      changed: drafts.filter((draft) => draft.before !== null).map((draft) => ({ ...facts(draft), differences: differences(draft.before, draft.after) })),
      same: given.length - drafts.length, problems
    }
  })
}

/** Puts everything in place, or nothing. Gives the change, to undo it by. */
export async function applyImport(given: Given[], name: string): Promise<Result<number | undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const change = await defineAll(database(), given.map(wantedOf), `Imported ${name.slice(0, 200)}`, person.id, Date.now())
    revalidatePath('/', 'layout')
    return change
  })
}
