'use server'

import { revalidatePath } from 'next/cache'
import { applyEdit, BULK_PARTS, type BulkEdit } from '@/core/bulk/bulk-edit'
import { differences, type Difference } from '@/core/definitions/differences'
import { HemeronError, type Problem } from '@/core/problems'
import { askForRuns, listChecks } from '@/store/checks'
import { database } from '@/store/database'
import { defineAll, previewDefinitions, type Wanted } from '@/store/define'
import { removeView, saveView, setTagColour } from '@/store/views'
import { allChecks } from '../server/definitions'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

const changed = () => revalidatePath('/', 'layout')

async function wantedBy(keys: string[], edit: BulkEdit): Promise<Wanted[]> {
  const chosen = new Set(keys)
  return (await allChecks()).filter((stored) => chosen.has(stored.check.key)).map((stored) => {
    const edited = applyEdit(stored.document, edit)
    if ('expected' in edited) throw new HemeronError('bad-document', `Expected ${edited.expected}.`)
    return { kind: 'check', key: stored.check.key, document: edited.document, fromVersion: stored.version }
  })
}

export interface BulkPreview {
  changes: { key: string; name: string; differences: Difference[] }[]
  /** Checks that are as the edit would make them already. */
  unchanged: number
  problems: Problem[]
}

/** Exactly what an edit would change, check by check. Nothing is written. */
export async function previewEdit(keys: string[], edit: BulkEdit): Promise<Result<BulkPreview>> {
  return attempt(async () => {
    await signedInAs('editor')
    const wanted = await wantedBy(keys, edit)
    const { drafts, problems } = await previewDefinitions(database(), wanted)
    return {
      changes: drafts.map(({ key, before, after }) => ({ key, name: String(after!.name), differences: differences(before, after) })),
      unchanged: wanted.length - drafts.length, problems
    }
  })
}

/** Applies an edit to all of some checks or to none. Gives the change, to undo it by. */
export async function applyToMany(keys: string[], edit: BulkEdit): Promise<Result<number | undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const wanted = await wantedBy(keys, edit)
    const change = await defineAll(database(), wanted, `${titleOf(edit)} for ${wanted.length} ${wanted.length === 1 ? 'check' : 'checks'}`, person.id, Date.now())
    changed()
    return change
  })
}

function titleOf(edit: BulkEdit): string {
  const name = (part: string) => BULK_PARTS.find((each) => each.part === part)?.name ?? part
  switch (edit.act) {
    case 'set': return `Set ${name(edit.part)} to ${edit.text}`
    case 'give-back': return `Gave ${name(edit.part)} back to the service`
    case 'service': return edit.key === null ? 'Took out of their service' : `Moved to the service ${edit.key}`
    case 'from': return 'Set the locations'
    case 'add-tags': return `Tagged ${edit.tags.join(', ')}`
    case 'remove-tags': return `Took the tag ${edit.tags.join(', ')} away`
  }
}

/** Takes many checks out of use at once. */
export async function removeMany(keys: string[]): Promise<Result<number | undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    const change = await defineAll(database(), keys.map((key) => ({ kind: 'check', key, document: null })), `Stopped watching ${keys.length} checks`, person.id, Date.now())
    changed()
    return change
  })
}

export async function runMany(keys: string[]): Promise<Result<number>> {
  return attempt(async () => {
    await signedInAs('responder')
    const chosen = (await listChecks(database())).filter((stored) => keys.includes(stored.check.key) && stored.pausedAt === null)
    for (const stored of chosen) await askForRuns(database(), stored.id, stored.check, Date.now())
    return chosen.length
  })
}

export async function keepView(name: string, query: string, shared: boolean): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('viewer')
    await saveView(database(), person.id, name, query, shared)
    changed()
    return undefined
  })
}

export async function dropView(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('viewer')
    await removeView(database(), person.id, id)
    changed()
    return undefined
  })
}

export async function colourTag(name: string, colour: string): Promise<Result<undefined>> {
  return attempt(async () => {
    await signedInAs('editor')
    await setTagColour(database(), name, colour)
    changed()
    return undefined
  })
}
