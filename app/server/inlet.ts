import type { KindDefinition } from '@/core/definitions/kind'
import { HemeronError } from '@/core/problems'
import { MINUTE } from '@/core/units'
import { kinds } from '@/kinds/definitions'
import { checkById, type StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { checkOfInlet, inletOf } from '@/store/inlet'
import { readSettings } from '@/store/settings'

/** How often a check may be told things, per minute. */
const OFTEN = 240
const heard = new Map<number, { since: number; count: number }>()

/** What a check takes at its own address: calls of a job, or numbers; undefined for most. */
export function takes(stored: Pick<StoredCheck, 'check'>): 'calls' | 'numbers' | undefined {
  return (kinds[stored.check.kind] as unknown as KindDefinition | undefined)?.takes?.(stored.check.target)
}

/** The whole address at which a check is told things; undefined when it takes nothing. */
export async function inletAddress(stored: StoredCheck): Promise<string | undefined> {
  const what = takes(stored)
  if (!what) return undefined
  const { address } = await readSettings(database())
  return `${address.replace(/\/$/, '')}/${what === 'calls' ? 'call' : 'push'}/${await inletOf(database(), stored.id)}`
}

/** The check behind an address that is told something now. Throws not-found or too-many-attempts. */
export async function toldCheck(inlet: string, what: 'calls' | 'numbers'): Promise<StoredCheck> {
  const id = await checkOfInlet(database(), inlet)
  const stored = id === undefined ? undefined : await checkById(database(), id)
  if (!stored || takes(stored) !== what) throw new HemeronError('not-found', 'No check is told anything at this address.')
  const now = Date.now()
  const window = heard.get(stored.id)
  const fresh = window && now - window.since < MINUTE ? window : { since: now, count: 0 }
  heard.set(stored.id, fresh)
  fresh.count += 1
  if (fresh.count > OFTEN) throw new HemeronError('too-many-attempts', `A check takes at most ${OFTEN} ${what === 'calls' ? 'calls' : 'pushes'} a minute.`)
  return stored
}

