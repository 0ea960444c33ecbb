import type { Pool } from 'mysql2/promise'
import { acceptedCheck, readCheck } from '../core/definitions/read-check'
import type { Check, CheckDocument } from '../core/definitions/check'
import { HemeronError, type Problem } from '../core/problems'
import type { Instant } from '../core/units'
import { kinds } from '../kinds/definitions'
import { change, fromJson, isDuplicate, row, rows, transaction, type Queryable } from './database'
import { bumpDefinitions, listLocations } from './locations'
import { audit } from './people'

export interface StoredCheck {
  id: number
  check: Check
  document: CheckDocument
  version: number
  serviceId: number | null
  createdAt: Instant
  changedAt: Instant
  pausedAt: Instant | null
  mutedAt: Instant | null
}

interface CheckRow {
  id: number
  document: unknown
  version: number
  service_id: number | null
  created_at: number
  changed_at: number
  paused_at: number | null
  muted_at: number | null
}

const SELECT = 'SELECT id, document, version, service_id, created_at, changed_at, paused_at, muted_at FROM check_definition'

function stored(found: CheckRow): StoredCheck {
  const document = fromJson<CheckDocument>(found.document)
  return {
    id: found.id, check: acceptedCheck(document, kinds), document, version: found.version, serviceId: found.service_id,
    createdAt: found.created_at, changedAt: found.changed_at, pausedAt: found.paused_at, mutedAt: found.muted_at
  }
}

export async function listChecks(on: Queryable): Promise<StoredCheck[]> {
  return (await rows<CheckRow>(on, `${SELECT} WHERE deleted_at IS NULL ORDER BY id`)).map(stored)
}

export async function checkByKey(on: Queryable, key: string): Promise<StoredCheck | undefined> {
  const found = await row<CheckRow>(on, `${SELECT} WHERE live_key = ?`, [key])
  return found && stored(found)
}

export async function checkById(on: Queryable, id: number): Promise<StoredCheck | undefined> {
  const found = await row<CheckRow>(on, `${SELECT} WHERE id = ? AND deleted_at IS NULL`, [id])
  return found && stored(found)
}

/** Throws not-found for a key that no check has. */
export async function requireCheck(on: Queryable, key: string): Promise<StoredCheck> {
  const found = await checkByKey(on, key)
  if (!found) throw new HemeronError('not-found', `There is no check ${key.slice(0, 100)}.`)
  return found
}

/** Reads a document and checks what only the store knows: that its service and its locations exist. Throws bad-document. */
export async function acceptCheck(on: Queryable, document: unknown): Promise<{ check: Check; serviceId: number | null }> {
  const read = readCheck(document, kinds)
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  const { check } = read
  const problems: Problem[] = []
  const service = check.service === undefined ? undefined : await row<{ id: number }>(on, 'SELECT id FROM service WHERE service_key = ?', [check.service])
  if (check.service !== undefined && !service) problems.push({ path: 'service', found: `"${check.service}"`, expected: 'the key of a service that exists' })
  if (check.from !== 'all') {
    const known = new Set((await listLocations(on)).map((location) => location.key))
    check.from.forEach((key, index) => {
      if (!known.has(key)) problems.push({ path: `from[${index}]`, found: `"${key}"`, expected: `one of the locations ${[...known].slice(0, 15).join(', ')}` })
    })
  }
  if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
  return { check, serviceId: service?.id ?? null }
}

const taken = (key: string) => new HemeronError('duplicate-key', `There is a check ${key} already.`, [{ path: 'check', found: `"${key}"`, expected: 'a key that is not taken' }])

/** Adds a check and asks for a run at once at every one of its locations. Throws bad-document or duplicate-key. */
export async function addCheck(pool: Pool, document: unknown, person: number | null, now: Instant): Promise<StoredCheck> {
  const { check, serviceId } = await acceptCheck(pool, document)
  return transaction(pool, async (on) => {
    let id: number
    try {
      id = (await change(on, 'INSERT INTO check_definition (check_key, service_id, name, document, created_at, changed_at) VALUES (?, ?, ?, ?, ?, ?)',
        [check.key, serviceId, check.name, JSON.stringify(document), now, now])).insertId
    } catch (error) {
      throw isDuplicate(error) ? taken(check.key) : error
    }
    await change(on, 'INSERT INTO check_revision (check_id, version, at, person_id, document) VALUES (?, 1, ?, ?, ?)', [id, now, person, JSON.stringify(document)])
    await change(on, "INSERT INTO check_state (check_id, state, since_at) VALUES (?, 'nodata', ?)", [id, now])
    await audit(on, person, 'check added', check.key, undefined, document, now)
    await bumpDefinitions(on)
    await askForRuns(on, id, check, now)
    return (await checkById(on, id))!
  })
}

/**
 * Replaces a check's definition; its history stays. Throws edited-meanwhile when the version is not the one the
 * editor started from, so that nobody overwrites somebody else silently.
 */
export async function replaceCheck(pool: Pool, key: string, document: unknown, fromVersion: number | undefined, person: number | null, now: Instant): Promise<StoredCheck> {
  const { check, serviceId } = await acceptCheck(pool, document)
  return transaction(pool, async (on) => {
    const before = await row<CheckRow>(on, `${SELECT} WHERE live_key = ? FOR UPDATE`, [key])
    if (!before) throw new HemeronError('not-found', `There is no check ${key}.`)
    if (fromVersion !== undefined && before.version !== fromVersion) throw await editedMeanwhile(on, before, fromVersion)
    try {
      await change(on, 'UPDATE check_definition SET check_key = ?, service_id = ?, name = ?, document = ?, version = version + 1, changed_at = ? WHERE id = ?',
        [check.key, serviceId, check.name, JSON.stringify(document), now, before.id])
    } catch (error) {
      throw isDuplicate(error) ? taken(check.key) : error
    }
    await change(on, 'INSERT INTO check_revision (check_id, version, at, person_id, document) VALUES (?, ?, ?, ?, ?)',
      [before.id, before.version + 1, now, person, JSON.stringify(document)])
    await audit(on, person, 'check changed', check.key, fromJson(before.document), document, now)
    await bumpDefinitions(on)
    if (before.paused_at === null) await askForRuns(on, before.id, check, now)
    return (await checkById(on, before.id))!
  })
}

async function editedMeanwhile(on: Queryable, before: CheckRow, fromVersion: number): Promise<HemeronError> {
  const last = await row<{ name: string | null }>(on,
    'SELECT p.name FROM check_revision r LEFT JOIN person p ON p.id = r.person_id WHERE r.check_id = ? AND r.version = ?', [before.id, before.version])
  return new HemeronError('edited-meanwhile', `${last?.name ?? 'Someone else'} saved version ${before.version} while you were editing version ${fromVersion}. Nothing was overwritten.`)
}

/** Takes a check out of use. Its history stays in the store; its key is free again. */
export async function removeCheck(pool: Pool, key: string, person: number | null, now: Instant): Promise<void> {
  await transaction(pool, async (on) => {
    const found = await requireCheck(on, key)
    await change(on, 'UPDATE check_definition SET deleted_at = ? WHERE id = ?', [now, found.id])
    await change(on, 'DELETE FROM run_request WHERE check_id = ?', [found.id])
    await change(on, 'UPDATE incident SET closed_at = ?, ended_at = COALESCE(ended_at, ?), closed_by = ? WHERE check_id = ? AND closed_at IS NULL', [now, now, person, found.id])
    await audit(on, person, 'check removed', key, found.document, undefined, now)
    await bumpDefinitions(on)
  })
}

/** Pauses a check (it is not run), or lets it run again. */
export async function setPaused(pool: Pool, key: string, paused: boolean, person: number | null, now: Instant): Promise<void> {
  await transaction(pool, async (on) => {
    const found = await requireCheck(on, key)
    if (paused === (found.pausedAt !== null)) return
    await change(on, 'UPDATE check_definition SET paused_at = ?, paused_by = ?, changed_at = ? WHERE id = ?', [paused ? now : null, person, now, found.id])
    await audit(on, person, paused ? 'check paused' : 'check resumed', key, undefined, undefined, now)
    await bumpDefinitions(on)
    if (!paused) await askForRuns(on, found.id, found.check, now)
  })
}

/** Mutes a check (it runs and is recorded, nobody is told), or ends that. */
export async function setMuted(pool: Pool, key: string, muted: boolean, person: number | null, now: Instant): Promise<void> {
  const found = await requireCheck(pool, key)
  await change(pool, 'UPDATE check_definition SET muted_at = ?, muted_by = ? WHERE id = ?', [muted ? now : null, person, found.id])
  await audit(pool, person, muted ? 'check muted' : 'check unmuted', key, undefined, undefined, now)
  await bumpDefinitions(pool)
}

/** Asks for one run now at each location of a check. */
export async function askForRuns(on: Queryable, id: number, check: Check, now: Instant): Promise<number> {
  const locations = (await listLocations(on)).filter((location) => check.from === 'all' || check.from.includes(location.key))
  if (locations.length === 0) return 0
  await change(on, 'INSERT IGNORE INTO run_request (check_id, location_id, at, occasion) VALUES ?', [locations.map((location) => [id, location.id, now, 2])])
  return locations.length
}
