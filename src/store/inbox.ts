import { gunzipSync, gzipSync } from 'node:zlib'
import type { Call, InsideAnswer, InsideQuestion, Member, Push } from '../core/inside/inside'
import type { Sample } from '../core/numbers/points'
import { nameOf } from '../core/numbers/sample'
import { INSIDE } from '../core/places/places'
import { OCCASIONS } from '../core/observation'
import type { CheckState } from '../core/states/check-state'
import { DAY, MINUTE, type Instant } from '../core/units'
import { readSettings } from './settings'
import { change, row, rows, type Queryable } from './database'

const [CALL, PUSH] = [0, 1]
/** How long calls and numbers are kept, and how many are looked at. */
const KEPT = { calls: 400 * DAY, pushes: DAY }
const CALLS_SEEN = 200
const PUSHES_SEEN = 3000
/** When nobody was asked for so long, Hemeron was away. */
const AWAY = MINUTE

const pack = (value: unknown) => gzipSync(JSON.stringify(value), { level: 1 })
const unpack = <Shape>(payload: Buffer) => JSON.parse(gunzipSync(payload).toString()) as Shape

/** Keeps what a job said, and has its check judged at once. */
export async function putCall(on: Queryable, check: number, call: Call): Promise<void> {
  const { at, ...rest } = call
  await change(on, 'INSERT INTO inbox (check_id, at, kind, payload) VALUES (?, ?, ?, ?)', [check, at, CALL, pack(rest)])
  await judgeNow(on, [check], at)
}

/** Keeps numbers that were pushed, and has their check judged at once. */
export async function putNumbers(on: Queryable, check: number, samples: Sample[], now: Instant): Promise<void> {
  await change(on, 'INSERT INTO inbox (check_id, at, kind, payload) VALUES (?, ?, ?, ?)', [check, now, PUSH, pack(samples)])
  await judgeNow(on, [check], now)
}

/** Asks for checks to be judged now, because something they judge has changed. */
export async function judgeNow(on: Queryable, checks: number[], now: Instant): Promise<void> {
  for (const check of checks) {
    await change(on, `INSERT IGNORE INTO run_request (check_id, location_id, at, occasion)
      SELECT c.id, l.id, ?, ? FROM check_definition c JOIN location l ON l.location_key = ? WHERE c.id = ? AND c.deleted_at IS NULL AND c.paused_at IS NULL`, [now, OCCASIONS.indexOf('told'), INSIDE, check])
  }
}

/** The latest calls of a job, oldest first. */
export async function latestCalls(on: Queryable, check: number, most = CALLS_SEEN): Promise<Call[]> {
  const found = await rows<{ at: number; payload: Buffer }>(on, 'SELECT at, payload FROM inbox WHERE check_id = ? AND kind = ? ORDER BY at DESC, id DESC LIMIT ?', [check, CALL, most])
  return found.reverse().map(({ at, payload }) => ({ at, ...unpack<Omit<Call, 'at'>>(payload) }))
}

/** The numbers that were last pushed. */
export async function latestPush(on: Queryable, check: number): Promise<Push | undefined> {
  const found = await row<{ at: number; payload: Buffer }>(on, 'SELECT at, payload FROM inbox WHERE check_id = ? AND kind = ? ORDER BY at DESC, id DESC LIMIT 1', [check, PUSH])
  return found && { at: found.at, samples: unpack<Sample[]>(found.payload) }
}

/** Numbers that were pushed since a moment, oldest first: the newest push whole, of the others only what is named. */
export async function pushesSince(on: Queryable, check: number, since: Instant, names: string[]): Promise<Push[]> {
  const found = await rows<{ at: number; payload: Buffer }>(on,
    'SELECT at, payload FROM inbox WHERE check_id = ? AND kind = ? AND at >= ? ORDER BY at DESC, id DESC LIMIT ?', [check, PUSH, since, PUSHES_SEEN])
  if (found.length === 0) {
    const last = await latestPush(on, check)
    return last ? [last] : []
  }
  const wanted = new Set(names)
  return found.map(({ at, payload }, index) => {
    const samples = unpack<Sample[]>(payload)
    return { at, samples: index === 0 ? samples : samples.filter(([key]) => wanted.has(nameOf(key))) }
  }).reverse()
}

/** Checks by key, with the states they are in. */
export async function membersOf(on: Queryable, keys: string[]): Promise<Member[]> {
  if (keys.length === 0) return []
  const found = await rows<{ key: string; name: string; state: CheckState; since: number; paused: number | null }>(on,
    'SELECT c.live_key AS `key`, c.name, s.state, s.since_at AS since, c.paused_at AS paused FROM check_definition c JOIN check_state s ON s.check_id = c.id WHERE c.live_key IN (?)', [keys])
  return keys.flatMap((key) => {
    const member = found.find((each) => each.key === key)
    return member ? [{ key, name: member.name, state: member.paused === null ? member.state : 'paused' as const, since: member.since }] : []
  })
}

/** Notes that Hemeron is there to be told things; a stretch in which it was not is remembered. Gives the last such stretch. */
async function beAwake(on: Queryable, now: Instant): Promise<InsideAnswer['away']> {
  await change(on, `INSERT INTO awake (id, until_at) VALUES (1, ?) ON DUPLICATE KEY UPDATE
    away_from = IF(? - until_at > ?, until_at, away_from), away_to = IF(? - until_at > ?, ?, away_to), until_at = GREATEST(until_at, ?)`, [now, now, AWAY, now, AWAY, now, now])
  const found = await row<{ from: number | null; to: number | null }>(on, 'SELECT away_from AS `from`, away_to AS `to` FROM awake WHERE id = 1')
  return found?.from == null || found.to === null ? undefined : { from: found.from, to: found.to }
}

/** What Hemeron knows of a check by itself; of one that is not saved only other checks. */
export async function answerInside(on: Queryable, check: number | null, { calls, pushes, members }: InsideQuestion, now: Instant): Promise<InsideAnswer> {
  const away = await beAwake(on, now)
  const made = check === null ? undefined : (await row<{ at: number }>(on, 'SELECT created_at AS at FROM check_definition WHERE id = ?', [check]))?.at
  return {
    now, zone: (await readSettings(on)).zone, ...(made === undefined ? {} : { made }), ...(away ? { away } : {}),
    calls: calls && check !== null ? await latestCalls(on, check) : [],
    pushes: pushes && check !== null ? await pushesSince(on, check, pushes.since, pushes.names) : [],
    members: await membersOf(on, members ?? [])
  }
}

export async function dropOldInbox(on: Queryable, now: Instant): Promise<void> {
  await change(on, 'DELETE FROM inbox WHERE kind = ? AND at < ? LIMIT 20000', [PUSH, now - KEPT.pushes])
  await change(on, 'DELETE FROM inbox WHERE kind = ? AND at < ? LIMIT 20000', [CALL, now - KEPT.calls])
}
