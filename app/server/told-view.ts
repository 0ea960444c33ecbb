import { runsOf, runsTable } from '@/core/calls/runs'
import type { KindDefinition } from '@/core/definitions/kind'
import type { EvidenceTable } from '@/core/observation'
import { STATE_NAMES } from '@/core/states/check-state'
import { kinds } from '@/kinds/definitions'
import type { StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { latestCalls, latestPush, membersOf } from '@/store/inbox'
import { inletAddress, takes } from './inlet'

const NUMBERS_SHOWN = 500

export interface ToldView {
  what?: 'calls' | 'numbers'
  /** The check's own address; only for those who may change it. */
  address?: string
  table?: EvidenceTable
}

/** What a check that Hemeron judges itself was told, as its page shows it; undefined for all others. */
export async function toldView(stored: StoredCheck, mayEdit: boolean): Promise<ToldView | undefined> {
  if (!stored.check.isInside) return undefined
  const what = takes(stored)
  const address = mayEdit ? await inletAddress(stored) : undefined
  const table = what === 'calls' ? runsTable(runsOf(await latestCalls(database(), stored.id))) : what === 'numbers' ? await numbersTable(stored) : await membersTable(stored)
  return { ...(what ? { what } : {}), ...(address ? { address } : {}), ...(table && table.rows.length > 0 ? { table } : {}) }
}

async function numbersTable(stored: StoredCheck): Promise<EvidenceTable | undefined> {
  const push = await latestPush(database(), stored.id)
  return push && { title: `${push.samples.length} numbers, as they last came`, columns: [{ name: 'number', as: 'code' }, { name: 'value', as: 'number' }], rows: push.samples.slice(0, NUMBERS_SHOWN).map(([key, value]) => [key, Number(value.toPrecision(8))]) }
}

async function membersTable(stored: StoredCheck): Promise<EvidenceTable> {
  const kind = kinds[stored.check.kind] as unknown as KindDefinition
  const members = await membersOf(database(), kind.members?.(stored.settled.resolved[stored.check.kind] as Record<string, unknown>) ?? [])
  return { title: 'The checks it judges', columns: [{ name: 'check' }, { name: 'state' }, { name: 'since', as: 'moment' }], rows: members.map((member) => [member.name, STATE_NAMES[member.state], member.since]) }
}
