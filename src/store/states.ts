import type { CheckState } from '../core/states/check-state'
import type { LocationMemory } from '../core/states/location-memory'
import type { StateSpan } from '../core/availability/availability'
import type { Stretch, Trouble } from '../core/ribbons/ribbon'
import type { PhaseTimes, Verdict } from '../core/observation'
import type { Instant } from '../core/units'
import { change, fromJson, insertMany, rows, type Queryable } from './database'

export interface StoredState {
  check: number
  state: CheckState
  since: Instant
  lastPass: Instant | null
  reason: string | null
  sentence: string | null
  failing: number
  suspecting: number
  locations: number
  newest: Instant | null
}

/** What the last observation at a location was, for tables that show it. */
export interface LastSeen {
  at: Instant
  verdict: Verdict
  reason?: string
  sentence?: string
  status?: number
  server?: string
  phases: PhaseTimes
  total: number
  certificateEnd?: Instant
  readings?: Record<string, number>
}

const SELECT_STATE = `SELECT check_id AS \`check\`, state, since_at AS since, last_pass_at AS lastPass, reason, sentence, failing, suspecting, locations, newest_at AS newest
  FROM check_state`

export async function listStates(on: Queryable, checks?: number[]): Promise<Map<number, StoredState>> {
  if (checks?.length === 0) return new Map()
  const found = await rows<StoredState>(on, checks ? `${SELECT_STATE} WHERE check_id IN (?)` : SELECT_STATE, checks ? [checks] : [])
  return new Map(found.map((each) => [each.check, each]))
}

export async function storeStates(on: Queryable, states: StoredState[]): Promise<void> {
  await insertMany(on, 'INSERT INTO check_state (check_id, state, since_at, last_pass_at, reason, sentence, failing, suspecting, locations, newest_at)',
    states.map((each) => [each.check, each.state, each.since, each.lastPass, each.reason, each.sentence?.slice(0, 500) ?? null, each.failing, each.suspecting, each.locations, each.newest]),
    `ON DUPLICATE KEY UPDATE state = VALUES(state), since_at = VALUES(since_at), last_pass_at = VALUES(last_pass_at), reason = VALUES(reason), sentence = VALUES(sentence),
    failing = VALUES(failing), suspecting = VALUES(suspecting), locations = VALUES(locations), newest_at = VALUES(newest_at)`)
}

/** The state of a check, which nobody else changes until the caller's transaction ends. */
export async function lockState(on: Queryable, check: number): Promise<CheckState | undefined> {
  return (await rows<{ state: CheckState }>(on, 'SELECT state FROM check_state WHERE check_id = ? FOR UPDATE', [check]))[0]?.state
}

/** Notes that checks were seen, and nothing else about them. */
export async function touchStates(on: Queryable, seen: { check: number; newest: Instant }[]): Promise<void> {
  for (const { check, newest } of seen) await change(on, 'UPDATE check_state SET newest_at = ? WHERE check_id = ?', [newest, check])
}

export async function storeChanges(on: Queryable, changes: Omit<StateChange, 'id'>[]): Promise<void> {
  await insertMany(on, 'INSERT INTO state_change (check_id, decided_at, since_at, last_pass_at, from_state, to_state, reason, sentence, failing, locations)',
    changes.map((each) => [each.check, each.decided, each.since, each.lastPass, each.from, each.to, each.reason, each.sentence?.slice(0, 500) ?? null, each.failing, each.locations]))
}

export interface StateChange {
  id: number
  check: number
  decided: Instant
  since: Instant
  lastPass: Instant | null
  from: CheckState
  to: CheckState
  reason: string | null
  sentence: string | null
  failing: number
  locations: number
}

const SELECT_CHANGE = `SELECT id, check_id AS \`check\`, decided_at AS decided, since_at AS since, last_pass_at AS lastPass, from_state AS \`from\`, to_state AS \`to\`,
  reason, sentence, failing, locations FROM state_change`

/** Changes of state, newest first. */
export async function listChanges(on: Queryable, filter: { check?: number; from: Instant; to: Instant; limit: number }): Promise<StateChange[]> {
  return rows<StateChange>(on, `${SELECT_CHANGE} WHERE ${filter.check === undefined ? '' : 'check_id = ? AND '} ${filter.check === undefined ? 'decided_at' : 'since_at'} >= ? AND since_at < ? ORDER BY since_at DESC, id DESC LIMIT ?`,
    [...(filter.check === undefined ? [] : [filter.check]), filter.from, filter.to, filter.limit])
}

/** The spans of each check's states over a range, from the change before it on. Checks without any change are left out. */
export async function stateSpans(on: Queryable, checks: number[], range: { from: Instant; to: Instant }): Promise<Map<number, StateSpan[]>> {
  const spans = new Map<number, StateSpan[]>()
  if (checks.length === 0) return spans
  const before = await rows<{ check: number; state: CheckState; since: number }>(on,
    `SELECT c.check_id AS \`check\`, c.to_state AS state, c.since_at AS since FROM state_change c JOIN
     (SELECT check_id, MAX(id) AS id FROM state_change WHERE check_id IN (?) AND since_at < ? GROUP BY check_id) l ON l.id = c.id`, [checks, range.from])
  const within = await rows<{ check: number; state: CheckState; since: number; lastPass: number | null }>(on,
    `SELECT check_id AS \`check\`, to_state AS state, since_at AS since, last_pass_at AS lastPass FROM state_change
     WHERE check_id IN (?) AND since_at >= ? AND since_at < ? ORDER BY since_at, id`, [checks, range.from, range.to])
  for (const { check, state } of before) spans.set(check, [{ state, from: range.from }])
  for (const { check, state, since, lastPass } of within) {
    const list = spans.get(check) ?? []
    const last = list.at(-1)
    if (last) last.to = since
    list.push({ state, from: since, ...(lastPass === null ? {} : { lastPass }) })
    spans.set(check, list)
  }
  return spans
}

export async function listMemories(on: Queryable, checks: number[]): Promise<{ check: number; location: number; memory: LocationMemory; last: LastSeen }[]> {
  if (checks.length === 0) return []
  const found = await rows<{ check: number; location: number; memory: unknown; last: unknown }>(on,
    'SELECT check_id AS `check`, location_id AS location, memory, last FROM location_state WHERE check_id IN (?)', [checks])
  return found.map((each) => ({ ...each, memory: fromJson<LocationMemory>(each.memory), last: fromJson<LastSeen>(each.last) }))
}

export async function storeMemories(on: Queryable, memories: { check: number; location: number; memory: LocationMemory; last: LastSeen }[]): Promise<void> {
  await insertMany(on, 'INSERT INTO location_state (check_id, location_id, memory, last)',
    memories.map((each) => [each.check, each.location, JSON.stringify(each.memory), JSON.stringify(each.last)]),
    'ON DUPLICATE KEY UPDATE memory = VALUES(memory), last = VALUES(last)')
}

/** Opens a stretch of trouble at a location. */
export async function openStretches(on: Queryable, stretches: Stretch[]): Promise<void> {
  await insertMany(on, 'INSERT IGNORE INTO stretch (check_id, location_id, kind, from_at, to_at, reason)',
    stretches.map((each) => [each.check, each.location, each.kind, each.from, each.to ?? null, each.reason ?? null]))
}

/** Ends the open stretch of a kind at a location, or at all locations of the check. */
export async function closeStretches(on: Queryable, ends: { check: number; location?: number; kind: Trouble; to: Instant }[]): Promise<void> {
  for (const end of ends) {
    await change(on, `UPDATE stretch SET to_at = GREATEST(from_at, ?) WHERE check_id = ? AND kind = ? AND to_at IS NULL ${end.location === undefined ? '' : 'AND location_id = ?'}`,
      [end.to, end.check, end.kind, ...(end.location === undefined ? [] : [end.location])])
  }
}

/** Ends one stretch that is known by its beginning. */
export async function endStretch(on: Queryable, stretch: Pick<Stretch, 'check' | 'location' | 'kind' | 'from'>, to: Instant): Promise<void> {
  await change(on, 'UPDATE stretch SET to_at = ? WHERE check_id = ? AND location_id = ? AND kind = ? AND from_at = ?', [to, stretch.check, stretch.location, stretch.kind, stretch.from])
}

/** Stretches of trouble that touch a range. */
export async function listStretches(on: Queryable, checks: number[], range: { from: Instant; to: Instant }): Promise<Stretch[]> {
  if (checks.length === 0) return []
  const found = await rows<{ check: number; location: number; kind: Trouble; from: number; to: number | null; reason: string | null }>(on,
    `SELECT check_id AS \`check\`, location_id AS location, kind, from_at AS \`from\`, to_at AS \`to\`, reason FROM stretch
     WHERE check_id IN (?) AND from_at < ? AND (to_at IS NULL OR to_at > ?) ORDER BY from_at`, [checks, range.to, range.from])
  return found.map(({ to, reason, ...each }) => ({ ...each, ...(to === null ? {} : { to }), ...(reason === null ? {} : { reason }) }))
}

/** When the certificate each check last saw ends; checks without one are left out. */
export async function certificateEnds(on: Queryable): Promise<Map<number, Instant>> {
  const found = await rows<{ check: number; end: number }>(on,
    "SELECT check_id AS `check`, MIN(CAST(JSON_VALUE(last, '$.certificateEnd') AS UNSIGNED)) AS end FROM location_state WHERE JSON_VALUE(last, '$.certificateEnd') IS NOT NULL GROUP BY check_id")
  return new Map(found.map((each) => [each.check, Number(each.end)]))
}
