import type { Check, CheckDocument } from '../core/definitions/check'
import type { KindDefinition } from '../core/definitions/kind'
import { overridden } from '../core/layers/inherit'
import { acceptedSettled, type Settled } from '../core/layers/settle'
import { locationsOf } from '../core/places/places'
import { HemeronError, type Problem } from '../core/problems'
import type { Instant } from '../core/units'
import { kinds } from '../kinds/definitions'
import { change, fromJson, row, rows, transaction, type Pool, type Queryable } from './database'
import { bumpDefinitions, listLocations } from './locations'
import { audit } from './people'
import { readWorld, surroundingsOf, type World } from './world'

/** A pause or a mute: since when, until when, by whom and why. */
export interface Halt {
  at: Instant
  until: Instant | null
  reason: string | null
  by: string | null
}

export interface StoredCheck {
  id: number
  /** As it counts: inherited values filled in, variables by their names. */
  check: Check
  /** The check's own written form. */
  document: CheckDocument
  /** The same with everything in place, secrets masked, and where each value comes from. */
  settled: Settled
  /** Why it cannot run: variables that have gone missing since it was saved. */
  broken: Problem[]
  /** The address it goes to, with variables in place and secrets masked. */
  address: string
  /** What it says otherwise than its service. */
  overrides: string[]
  version: number
  serviceId: number | null
  createdAt: Instant
  changedAt: Instant
  pausedAt: Instant | null
  mutedAt: Instant | null
  paused: Halt | null
  muted: Halt | null
}

interface CheckRow {
  id: number
  document: unknown
  version: number
  service_id: number | null
  created_at: number
  changed_at: number
  paused_at: number | null
  pause_until: number | null
  pause_reason: string | null
  pauser: string | null
  muted_at: number | null
  mute_until: number | null
  mute_reason: string | null
  muter: string | null
}

const SELECT = `SELECT c.id, c.document, c.version, c.service_id, c.created_at, c.changed_at, c.paused_at, c.pause_until, c.pause_reason, p.name AS pauser,
  c.muted_at, c.mute_until, c.mute_reason, m.name AS muter
  FROM check_definition c LEFT JOIN person p ON p.id = c.paused_by LEFT JOIN person m ON m.id = c.muted_by`

function stored(found: CheckRow, world: World): StoredCheck {
  const document = fromJson<CheckDocument>(found.document)
  const surroundings = surroundingsOf(world, document, found.id)
  const { settled, problems } = acceptedSettled(document, surroundings, kinds)
  const kind = kinds[settled.check.kind] as unknown as KindDefinition
  const halt = (at: number | null, until: number | null, reason: string | null, by: string | null): Halt | null => (at === null ? null : { at, until, reason, by })
  return {
    id: found.id, check: settled.check, document, settled, broken: problems, address: kind.address(kind.read(settled.resolved[settled.check.kind] as never)),
    overrides: overridden(document, surroundings.service), version: found.version, serviceId: found.service_id,
    createdAt: found.created_at, changedAt: found.changed_at, pausedAt: found.paused_at, mutedAt: found.muted_at,
    paused: halt(found.paused_at, found.pause_until, found.pause_reason, found.pauser), muted: halt(found.muted_at, found.mute_until, found.mute_reason, found.muter)
  }
}

export async function listChecks(on: Queryable): Promise<StoredCheck[]> {
  const world = await readWorld(on)
  return (await rows<CheckRow>(on, `${SELECT} WHERE c.deleted_at IS NULL ORDER BY c.id`)).map((found) => stored(found, world))
}

export async function checkByKey(on: Queryable, key: string): Promise<StoredCheck | undefined> {
  const found = await row<CheckRow>(on, `${SELECT} WHERE c.live_key = ?`, [key])
  return found && stored(found, await readWorld(on))
}

export async function checkById(on: Queryable, id: number): Promise<StoredCheck | undefined> {
  const found = await row<CheckRow>(on, `${SELECT} WHERE c.id = ? AND c.deleted_at IS NULL`, [id])
  return found && stored(found, await readWorld(on))
}

/** Throws not-found for a key that no check has. */
export async function requireCheck(on: Queryable, key: string): Promise<StoredCheck> {
  const found = await checkByKey(on, key)
  if (!found) throw new HemeronError('not-found', `There is no check ${key.slice(0, 100)}.`)
  return found
}

/** What people may say when they pause or mute: an end, and why. */
export interface HaltWish {
  until?: Instant
  reason?: string
}

const REASON_MOST = 300

/** Pauses checks (they are not run) or mutes them (run and recorded, nobody is told), all or none. Throws bad-document or not-found. */
export async function haltChecks(pool: Pool, kind: 'pause' | 'mute', keys: string[], wish: HaltWish, person: number | null, now: Instant): Promise<void> {
  if (wish.until !== undefined && wish.until <= now) throw new HemeronError('bad-document', undefined, [{ path: 'until', found: new Date(wish.until).toISOString(), expected: 'a time to come' }])
  if ((wish.reason ?? '').length > REASON_MOST) throw new HemeronError('bad-document', undefined, [{ path: 'reason', found: `${wish.reason!.length} characters`, expected: `at most ${REASON_MOST} characters` }])
  const columns = kind === 'pause' ? ['paused_at', 'paused_by', 'pause_until', 'pause_reason'] : ['muted_at', 'muted_by', 'mute_until', 'mute_reason']
  await transaction(pool, async (on) => {
    for (const key of keys) {
      const found = await change(on, `UPDATE check_definition SET ${columns.map((column, index) => (index === 0 ? `${column} = COALESCE(${column}, ?)` : `${column} = ?`)).join(', ')} WHERE live_key = ?`,
        [now, person, wish.until ?? null, wish.reason?.trim() || null, key])
      if (found.affectedRows === 0) throw new HemeronError('not-found', `There is no check ${key.slice(0, 100)}.`)
      await audit(on, person, kind === 'pause' ? 'check paused' : 'check muted', key, undefined, wish, now)
    }
    await bumpDefinitions(on)
  })
}

/** Ends a pause or a mute. A check that runs again does so at once. */
export async function resumeChecks(pool: Pool, kind: 'pause' | 'mute', keys: string[], person: number | null, now: Instant): Promise<void> {
  await transaction(pool, async (on) => {
    for (const key of keys) {
      const found = await requireCheck(on, key)
      if ((kind === 'pause' ? found.pausedAt : found.mutedAt) === null) continue
      await change(on, kind === 'pause'
        ? 'UPDATE check_definition SET paused_at = NULL, paused_by = NULL, pause_until = NULL, pause_reason = NULL WHERE id = ?'
        : 'UPDATE check_definition SET muted_at = NULL, muted_by = NULL, mute_until = NULL, mute_reason = NULL WHERE id = ?', [found.id])
      await audit(on, person, kind === 'pause' ? 'check resumed' : 'check unmuted', key, undefined, undefined, now)
      if (kind === 'pause') await askForRuns(on, found.id, found.check, now)
    }
    await bumpDefinitions(on)
  })
}

/** Ends pauses and mutes whose time is over. Gives how many there were. */
export async function resumeDue(pool: Pool, now: Instant): Promise<number> {
  let ended = 0
  for (const kind of ['pause', 'mute'] as const) {
    const due = await rows<{ key: string }>(pool, `SELECT check_key AS \`key\` FROM check_definition WHERE deleted_at IS NULL AND ${kind}_until <= ?`, [now])
    if (due.length > 0) await resumeChecks(pool, kind, due.map((each) => each.key), null, now)
    ended += due.length
  }
  return ended
}

/** Asks for one run now at each location of a check. */
export async function askForRuns(on: Queryable, id: number, check: Check, now: Instant): Promise<number> {
  const locations = locationsOf(check.from, await listLocations(on))
  if (locations.length === 0) return 0
  await change(on, 'INSERT IGNORE INTO run_request (check_id, location_id, at, occasion) VALUES ?', [locations.map((location) => [id, location.id, now, 2])])
  return locations.length
}
