import { gunzipSync, gzipSync } from 'node:zlib'
import { randomBytes } from 'node:crypto'
import type { Pool } from 'mysql2/promise'
import { HemeronError, problemSentence } from '../core/problems'
import { OCCASIONS, type Observation, type Occasion } from '../core/observation'
import { MINUTE, SECOND, type Instant } from '../core/units'
import type { CheckDocument } from '../core/definitions/check'
import { acceptedSettled } from '../core/layers/settle'
import type { VariableValue } from '../core/layers/variables'
import { formatDuration } from '../core/definitions/duration'
import type { Beat } from '../core/schedule/next-run'
import { cadence } from '../core/schedule/running'
import { spread } from '../core/schedule/spread'
import { kinds } from '../kinds/definitions'
import { change, fromJson, insertMany, row, rows, transaction, type Queryable } from './database'
import { hashToken } from './people'
import { INSIDE, locationsOf } from '../core/places/places'
import { probeFor } from '../core/places/share-work'
import { definitionsNumber, listLocations, openProxies, setCut, type Location } from './locations'
import { note } from './live'
import { listChecks, type StoredCheck } from './checks'
import { openWindows, readPlannedCalendar } from './planned'
import { openSecrets } from './secrets'
import { readSettings } from './settings'
import { readWorld, surroundingsOf, type World } from './world'

/** How many shares the checks are dealt into; an engine leases whole shares. */
export const SHARES = 8
const LEASE = 20 * SECOND
/** A run that a probe took but did not answer is offered again after this time, and dropped after RUN_LIFE. */
const RETAKEN = 20 * SECOND
const RUN_LIFE = 3 * MINUTE

export interface Probe {
  id: number
  name: string
  seenAt: Instant | null
  version: string | null
  /** Milliseconds by which its clock is ahead of the server's. */
  clockOffset: number | null
  /** Observations that wait on its disk. */
  backlog: number | null
  /** The 99th percentile of how late its runs began, in milliseconds. */
  lateness: number | null
  checks: number | null
  locations: number[]
}

/** Adds a probe for some locations and gives its token, which cannot be read again. */
export async function addProbe(on: Queryable, name: string, locations: number[], now: Instant): Promise<string> {
  const token = `probe_${randomBytes(24).toString('base64url')}`
  const { insertId } = await change(on, 'INSERT INTO probe (name, token_hash, created_at) VALUES (?, ?, ?)', [name, hashToken(token), now])
  await change(on, 'INSERT INTO probe_location (probe_id, location_id) VALUES ?', [locations.map((location) => [insertId, location])])
  return token
}

/** Gives a probe also the place from which Hemeron judges what only itself can know. */
export async function holdInside(on: Queryable, token: string): Promise<void> {
  await change(on, 'INSERT IGNORE INTO probe_location (probe_id, location_id) SELECT p.id, l.id FROM probe p JOIN location l ON l.location_key = ? WHERE p.token_hash = ?', [INSIDE, hashToken(token)])
}

/** Whether a probe works at that place; only such a probe is told what checks were told. */
export async function holdsInside(on: Queryable, probe: Pick<Probe, 'id'>): Promise<boolean> {
  return (await row(on, 'SELECT 1 FROM probe_location pl JOIN location l ON l.id = pl.location_id WHERE pl.probe_id = ? AND l.location_key = ?', [probe.id, INSIDE])) !== undefined
}

const PROBE = 'SELECT id, name, seen_at AS seenAt, version, clock_offset AS clockOffset, backlog, lateness, checks FROM probe'

export async function listProbes(on: Queryable): Promise<Probe[]> {
  const probes = await rows<Omit<Probe, 'locations'>>(on, `${PROBE} ORDER BY id`)
  const places = await rows<{ probe: number; location: number }>(on, 'SELECT probe_id AS probe, location_id AS location FROM probe_location')
  return probes.map((probe) => ({ ...probe, locations: places.filter((each) => each.probe === probe.id).map((each) => each.location) }))
}

/** What a probe says of itself. */
export interface ProbeHealth {
  clockOffset: number | null
  backlog: number
  lateness: number
  checks: number
  /** By location: since when none of its reference targets answers, or null. */
  lines: { location: number; cutSince: Instant | null }[]
}

/** Keeps what a probe says of itself and of the lines of its locations. */
export async function storeHealth(on: Queryable, probe: Probe, health: ProbeHealth, now: Instant): Promise<void> {
  await change(on, 'UPDATE probe SET seen_at = ?, clock_offset = ?, backlog = ?, lateness = ?, checks = ? WHERE id = ?', [now, health.clockOffset, health.backlog, health.lateness, health.checks, probe.id])
  let isNews = false
  for (const { location, cutSince } of health.lines) if (probe.locations.includes(location)) isNews = (await setCut(on, location, cutSince)) || isNews
  if (isNews) await note(on, [{ topic: 'state', subject: 0 }], now)
}

/** The probe behind a token. Throws not-signed-in. */
export async function probeByToken(on: Queryable, token: string): Promise<Probe> {
  const found = await row<Omit<Probe, 'locations'>>(on, `${PROBE} WHERE token_hash = ?`, [hashToken(token)])
  if (!found) throw new HemeronError('not-signed-in', 'No probe has this token.')
  const places = await rows<{ location: number }>(on, 'SELECT location_id AS location FROM probe_location WHERE probe_id = ?', [found.id])
  return { ...found, locations: places.map((each) => each.location) }
}

/** The locations of a probe with the probes that are alive at each; they share its checks. */
export type Held = { location: number; alive: number[] }[]

/** Notes that a probe is there. Gives its locations with the probes that share the work of each. */
export async function holdLocations(on: Queryable, probe: Probe, version: string, now: Instant): Promise<Held> {
  await change(on, 'UPDATE probe SET seen_at = ?, version = ? WHERE id = ?', [now, version.slice(0, 30), probe.id])
  if (probe.locations.length === 0) return []
  const found = await rows<{ location: number; probe: number }>(on, `SELECT l.location_id AS location, l.probe_id AS probe FROM probe_location l JOIN probe p ON p.id = l.probe_id
    WHERE l.location_id IN (?) AND p.seen_at > ? ORDER BY l.location_id, l.probe_id`, [probe.locations, now - LEASE])
  return [...probe.locations].sort((a, b) => a - b).map((location) => ({ location, alive: found.filter((each) => each.location === location).map((each) => each.probe) }))
}

/** Whether a check at a location is this probe's part of the work. */
const isOwn = (held: Held, probe: number, check: number, location: number): boolean => {
  const place = held.find((each) => each.location === location)
  return place !== undefined && probeFor(check, location, place.alive) === probe
}

/** A definition as a probe runs it: everything in place, and what must never be recorded. */
export interface Runnable {
  document: CheckDocument
  used: { name: string; from: VariableValue['from']; value?: string }[]
  secrets: string[]
  /** Why it cannot be run: a variable that has gone missing. */
  missing?: string
}

/** What a probe knows of a location it works at. */
export type ProbeLocation = Pick<Location, 'id' | 'key' | 'allowsInternal' | 'ranges' | 'proxy' | 'references'>

export interface Assignments {
  etag: string
  /** The workspace's zone, for hours. */
  zone: string
  locations: ProbeLocation[]
  checks: (Runnable & { id: number; version: number; locations: { id: number; turn?: Beat['turn'] }[] })[]
}

/** The mark of what a probe should be doing: it changes when definitions or its locations do. */
export async function assignmentsTag(on: Queryable, held: Held): Promise<string> {
  return `"${await definitionsNumber(on)}-${held.map(({ location, alive }) => `${location}.${alive.join('.')}`).join('_')}"`
}

/** Everything a probe needs to work on its own: its locations and the checks that run there. */
export async function assignments(on: Queryable, probe: number, held: Held, now: Instant): Promise<Assignments> {
  const etag = await assignmentsTag(on, held)
  const all = await listLocations(on)
  const own = all.filter((location) => held.some((each) => each.location === location.id))
  const [world, proxies] = [await readWorld(on, openSecrets), await openProxies(on)]
  const isOpen = await windowsOf(on, now)
  const running = (await listChecks(on)).filter((stored) => stored.pausedAt === null && (!stored.check.window?.only || isOpen(stored)))
  const checks = running.map((stored) => {
    const run = runnable(world, stored.document, stored.id)
    const every = formatDuration(cadence(stored.check, isOpen(stored)))
    return { id: stored.id, version: stored.version, ...run, document: { ...run.document, every }, locations: placesOf(stored, all).filter((place) => isOwn(held, probe, stored.id, place.id)) }
  })
  return {
    etag,
    zone: (await readSettings(on)).zone,
    locations: own.map(({ id, key, allowsInternal, ranges, references }) => ({ id, key, allowsInternal, ranges, references, proxy: proxies.get(id) ?? null })),
    checks: checks.filter((check) => check.locations.length > 0)
  }
}

/** Whether a release window is open for a check: its own, its service's, or one of the calendar. */
export async function windowsOf(on: Queryable, now: Instant): Promise<(stored: Pick<StoredCheck, 'id' | 'serviceId' | 'check'>) => boolean> {
  const [open, calendar] = [await openWindows(on, now), await readPlannedCalendar(on)]
  return ({ id, serviceId, check }) => open.some((each) => (each.place === 'check' ? each.subject === id : each.subject === serviceId)) || calendar.windowOf(check, now) !== undefined
}

/** The locations of a check in the order of their turns, with the place of each in the round. */
function placesOf({ id, check }: StoredCheck, all: Location[]): { id: number; turn?: Beat['turn'] }[] {
  const order = spread(locationsOf(check.from, all), id)
  return order.map((location, index) => ({ id: location.id, ...(check.turns === 'in-turn' ? { turn: { index, of: order.length } } : {}) }))
}

/** Puts every variable in place. What people may see of them stands in `used`; values of secrets only in `secrets`. */
function runnable(world: World, document: CheckDocument, id: number | null, run?: Record<string, string>): Runnable {
  const { settled, problems } = acceptedSettled(document, surroundingsOf(world, document, id, run), kinds)
  return {
    document: settled.resolved,
    used: settled.used.map(({ name, from, secret, value }) => ({ name, from, ...(secret ? {} : { value }) })),
    secrets: settled.used.filter((each) => each.secret).map((each) => each.value),
    ...(problems.length > 0 ? { missing: problems.map(problemSentence).join(' ') } : {})
  }
}

export interface Ordered {
  runs: { id: number; check: number; location: number; at: Instant; occasion: Occasion }[]
  tries: (Runnable & { id: string; location: number })[]
}

/** Hands out the runs and tries that are due soon at some locations; each goes to one caller at a time. */
export async function takeOrders(pool: Pool, probe: number, shared: Held, now: Instant): Promise<Ordered> {
  const held = shared.map((each) => each.location)
  if (held.length === 0) return { runs: [], tries: [] }
  const waiting = await row<{ runs: number; tries: number }>(pool,
    `SELECT (SELECT COUNT(*) FROM run_request WHERE location_id IN (?) AND at <= ? AND (taken_at IS NULL OR taken_at < ?)) AS runs,
      (SELECT COUNT(*) FROM try_result WHERE location_id IN (?) AND taken_at IS NULL) AS tries`, [held, now + SECOND, now - RETAKEN, held])
  if (!waiting || (Number(waiting.runs) === 0 && Number(waiting.tries) === 0)) return { runs: [], tries: [] }
  return transaction(pool, async (on) => {
    const waitingRuns = await rows<{ id: number; check: number; location: number; at: number; occasion: number }>(on,
      `SELECT id, check_id AS \`check\`, location_id AS location, at, occasion FROM run_request
       WHERE location_id IN (?) AND at <= ? AND (taken_at IS NULL OR taken_at < ?) ORDER BY at LIMIT 500 FOR UPDATE SKIP LOCKED`, [held, now + SECOND, now - RETAKEN])
    // what is another probe's part of the work is left for it
    const runs = waitingRuns.filter((each) => isOwn(shared, probe, each.check, each.location))
    if (runs.length > 0) await change(on, 'UPDATE run_request SET taken_at = ? WHERE id IN (?)', [now, runs.map((each) => each.id)])
    const tries = await rows<{ id: string; location: number; check: number | null; document: unknown; variables: unknown }>(on,
      `SELECT r.try_id AS id, r.location_id AS location, t.check_id AS \`check\`, t.document, t.variables FROM try_result r JOIN try_request t ON t.id = r.try_id
       WHERE r.location_id IN (?) AND r.taken_at IS NULL LIMIT 200 FOR UPDATE SKIP LOCKED`, [held])
    for (const each of tries) await change(on, 'UPDATE try_result SET taken_at = ? WHERE try_id = ? AND location_id = ?', [now, each.id, each.location])
    const world = tries.length > 0 ? await readWorld(on, openSecrets) : undefined
    return {
      runs: runs.map((each) => ({ ...each, occasion: OCCASIONS[each.occasion]! })),
      tries: tries.map(({ id, location, check, document, variables }) => ({
        id, location, ...runnable(world!, fromJson<CheckDocument>(document), check, variables === null ? undefined : fromJson<Record<string, string>>(variables))
      }))
    }
  })
}

/** Drops orders nobody will answer any more. */
export async function dropOldOrders(on: Queryable, now: Instant): Promise<void> {
  await change(on, 'DELETE FROM run_request WHERE at < ?', [now - RUN_LIFE])
  await change(on, 'DELETE r, t FROM try_request t LEFT JOIN try_result r ON r.try_id = t.id WHERE t.at < ?', [now - 10 * MINUTE])
}

/** Takes a batch of observations in. Once this returns they are safe; an engine evaluates them. */
export async function acceptObservations(on: Queryable, observations: Observation[], now: Instant): Promise<void> {
  const shares = new Map<number, Observation[]>()
  for (const observation of observations) {
    const share = observation.check % SHARES
    const list = shares.get(share)
    if (list) list.push(observation)
    else shares.set(share, [observation])
  }
  const batches = [...shares].map(([share, list]) => [share, now, gzipSync(JSON.stringify(list), { level: 1 })])
  if (batches.length > 0) await change(on, 'INSERT INTO arrival (share, at, payload) VALUES ?', [batches])
}

/** What a try needs to know beside the definition: the stored check it belongs to, and values for this run only. */
export interface TryOf {
  check?: number
  variables?: Record<string, string>
}

/** Asks for a try of a definition that need not be saved. Secrets are put in place only when a probe takes it. */
export async function askForTry(on: Queryable, document: CheckDocument, locations: number[], now: Instant, of: TryOf = {}): Promise<string> {
  return (await askForTries(on, [{ document, locations, ...of }], now))[0]!
}

/** Asks for many tries at once. Gives their ids in the same order. */
export async function askForTries(on: Queryable, wanted: ({ document: CheckDocument; locations: number[] } & TryOf)[], now: Instant): Promise<string[]> {
  const ids = wanted.map(() => randomBytes(16).toString('hex'))
  await insertMany(on, 'INSERT INTO try_request (id, at, document, check_id, variables)',
    wanted.map(({ document, check, variables }, index) => [ids[index], now, JSON.stringify(document), check ?? null, variables ? JSON.stringify(variables) : null]))
  await insertMany(on, 'INSERT INTO try_result (try_id, location_id)', wanted.flatMap(({ locations }, index) => locations.map((location) => [ids[index], location])))
  return ids
}

export async function answerTries(on: Queryable, answers: { id: string; location: number; observation: Observation }[]): Promise<void> {
  for (const { id, location, observation } of answers) {
    await change(on, 'UPDATE try_result SET observation = ? WHERE try_id = ? AND location_id = ?', [gzipSync(JSON.stringify(observation)), id, location])
  }
}

/** What many tries have brought so far; those without any answer are left out. */
export async function triesResults(on: Queryable, ids: string[]): Promise<Map<string, Observation[]>> {
  const results = new Map<string, Observation[]>()
  if (ids.length === 0) return results
  const found = await rows<{ id: string; observation: Buffer }>(on, 'SELECT try_id AS id, observation FROM try_result WHERE try_id IN (?) AND observation IS NOT NULL', [ids])
  for (const { id, observation } of found) results.set(id, [...(results.get(id) ?? []), JSON.parse(gunzipSync(observation).toString()) as Observation])
  return results
}

/** What a try has brought so far, by location. */
export async function tryResults(on: Queryable, id: string): Promise<{ location: number; observation?: Observation }[]> {
  const found = await rows<{ location: number; observation: Buffer | null }>(on, 'SELECT location_id AS location, observation FROM try_result WHERE try_id = ? ORDER BY location_id', [id])
  return found.map(({ location, observation }) => ({
    location, ...(observation ? { observation: JSON.parse(gunzipSync(observation).toString()) as Observation } : {})
  }))
}

/** The saved check that a try is of; null for one of a check that is not saved. */
export async function checkOfTry(on: Queryable, id: string): Promise<number | null> {
  return (await row<{ check: number | null }>(on, 'SELECT check_id AS `check` FROM try_request WHERE id = ?', [id]))?.check ?? null
}
