import type { CheckDocument } from '../core/definitions/check'
import { readService } from '../core/definitions/service'
import { settleCheck, type Settled } from '../core/layers/settle'
import { locationsOf } from '../core/places/places'
import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { kinds } from '../kinds/definitions'
import { checkByKey, requireCheck, type StoredCheck } from './checks'
import type { Pool, Queryable } from './database'
import { defineAll } from './define'
import { listLocations, type Location } from './locations'
import { openSecrets } from './secrets'
import { readWorld, serviceByKey, surroundingsOf, type StoredService } from './world'

type Written = Record<string, unknown>

const asObject = (document: unknown): Written => (document !== null && typeof document === 'object' && !Array.isArray(document) ? (document as Written) : {})
const keyIn = (document: unknown, field: string) => String(asObject(document)[field] ?? '')
const nameIn = (document: unknown, field: string) => String(asObject(document).name ?? keyIn(document, field))

/** Adds a check and asks for a run at once at every one of its locations. Throws bad-document or duplicate-key. */
export async function addCheck(pool: Pool, document: unknown, person: number | null, now: Instant): Promise<StoredCheck> {
  const key = keyIn(document, 'check')
  if (await checkByKey(pool, key)) throw new HemeronError('duplicate-key', `There is a check ${key} already.`, [{ path: 'check', found: `"${key}"`, expected: 'a key that is not taken' }])
  await defineAll(pool, [{ kind: 'check', key, document: asObject(document) }], `Added ${nameIn(document, 'check')}`, person, now)
  return requireCheck(pool, key)
}

/** Replaces a check's definition; its history stays. Throws not-found, bad-document, duplicate-key or edited-meanwhile. */
export async function replaceCheck(pool: Pool, key: string, document: unknown, fromVersion: number | undefined, person: number | null, now: Instant): Promise<StoredCheck> {
  await requireCheck(pool, key)
  await defineAll(pool, [{ kind: 'check', key, document: asObject(document), ...(fromVersion === undefined ? {} : { fromVersion }) }], `Changed ${nameIn(document, 'check')}`, person, now)
  return requireCheck(pool, keyIn(document, 'check'))
}

/** Takes a check out of use. Its history stays in the store; its key is free again. */
export async function removeCheck(pool: Pool, key: string, person: number | null, now: Instant): Promise<number | undefined> {
  const { document } = await requireCheck(pool, key)
  return defineAll(pool, [{ kind: 'check', key, document: null }], `Stopped watching ${document.name}`, person, now)
}

/** Adds a service from its written form. Throws bad-document or duplicate-key. */
export async function addService(pool: Pool, document: unknown, person: number | null, now: Instant): Promise<StoredService> {
  const read = readService(document)
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  const { key } = read.service
  if (await serviceByKey(pool, key)) throw new HemeronError('duplicate-key', `There is a service ${key} already.`, [{ path: 'service', found: `"${key}"`, expected: 'a key that is not taken' }])
  await defineAll(pool, [{ kind: 'service', key, document: asObject(document) }], `Added the service ${nameIn(document, 'service')}`, person, now)
  return requireService(pool, key)
}

/** Replaces a service's definition. Throws not-found, bad-document (also for a check that would break), duplicate-key or edited-meanwhile. */
export async function replaceService(pool: Pool, key: string, document: unknown, fromVersion: number | undefined, person: number | null, now: Instant): Promise<StoredService> {
  await requireService(pool, key)
  await defineAll(pool, [{ kind: 'service', key, document: asObject(document), ...(fromVersion === undefined ? {} : { fromVersion }) }], `Changed the service ${nameIn(document, 'service')}`, person, now)
  return requireService(pool, keyIn(document, 'service'))
}

/** Throws not-found for a key that no service has. */
export async function requireService(on: Queryable, key: string): Promise<StoredService> {
  const found = await serviceByKey(on, key)
  if (!found) throw new HemeronError('not-found', `There is no service ${key.slice(0, 100)}.`)
  return found
}

/**
 * Judges a document that is not saved, in the world as it is, with values for one run where they are given.
 * @param id the stored check it belongs to, whose own secrets it then has
 * @throws bad-document
 */
export async function settleForTry(on: Queryable, document: unknown, id: number | null, run?: Record<string, string>): Promise<{ settled: Settled; locations: Location[]; document: CheckDocument }> {
  const own = asObject(document) as CheckDocument
  const read = settleCheck(own, surroundingsOf(await readWorld(on, openSecrets), own, id, run), kinds)
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  const all = await listLocations(on)
  const locations = locationsOf(read.settled.check.from, all)
  const unknown = Array.isArray(read.settled.check.from) ? read.settled.check.from.find((key) => !all.some((location) => location.key === key)) : undefined
  if (unknown !== undefined || locations.length === 0) {
    throw new HemeronError('bad-document', undefined, [{ path: 'from', found: unknown === undefined ? 'no location' : `"${unknown}"`, expected: unknown === undefined ? 'at least one location' : `one of the locations ${all.slice(0, 15).map((each) => each.key).join(', ')}` }])
  }
  return { settled: read.settled, locations, document: own }
}
