import type { LoadedTries } from '../core/findout/sheet'
import type { Observation, StepTime } from '../core/observation'
import type { Instant } from '../core/units'
import { insertMany, rows, type Queryable, type Row } from './database'
import { textsOf, type WantedTries } from './tries-in-columns'

/** The columns of a step, in the order of stepRows. */
export const STEP_COLUMNS = 'check_id, location_id, at, place, name_id, took_us, status, failed'
const MOST_MICROSECONDS = 4_294_967_295

/** The steps of an observation as the rows that hold them. */
export const stepRows = ({ check, location, at, steps }: Observation, numbers: ReadonlyMap<string, number>): unknown[][] => (steps ?? []).map((each, place) =>
  [check, location, at, place, numbers.get(each.name)!, Math.min(MOST_MICROSECONDS, Math.round(each.took * 1000)), each.status ?? null, each.failed === true ? 1 : 0])

export async function storeSteps(on: Queryable, observations: Observation[], numbers: ReadonlyMap<string, number>): Promise<void> {
  await insertMany(on, `INSERT IGNORE INTO observation_step (${STEP_COLUMNS})`, observations.flatMap((each) => stepRows(each, numbers)))
}

/** The steps of observations of one check, by location and moment. */
export async function stepsOf(on: Queryable, check: number, from: Instant, to: Instant): Promise<Map<string, StepTime[]>> {
  const found = await rows<{ location: number; at: number; name: string; took: number; status: number | null; failed: number }>(on,
    'SELECT s.location_id AS location, s.at, d.text AS name, s.took_us AS took, s.status, s.failed FROM observation_step s JOIN dictionary d ON d.id = s.name_id WHERE s.check_id = ? AND s.at >= ? AND s.at <= ? ORDER BY s.location_id, s.at, s.place', [check, from, to])
  const byTry = new Map<string, StepTime[]>()
  for (const { location, at, name, took, status, failed } of found) {
    const key = `${location}/${at}`
    const own = byTry.get(key) ?? []
    byTry.set(key, own)
    own.push({ name, took: took / 1000, ...(status === null ? {} : { status }), ...(failed === 1 ? { failed: true } : {}) })
  }
  return byTry
}

const [PASS, FAIL] = [0, 3]

/**
 * Reads single steps into columns as if each were a try: its time is what it took, it failed when it was the one at which the try
 * failed, and everything else is as of its try. In the order of their time.
 */
export async function loadSteps(on: Queryable, { checks, locations, from, to, thinned = 1 }: Omit<WantedTries, 'metric' | 'leaveOut'>): Promise<LoadedTries> {
  const read = checks.length === 0 || locations.length === 0 ? [] : (await (on as unknown as { query: (options: object) => Promise<[Row[]]> }).query({
    sql: `SELECT o.at, o.check_id, o.location_id, IF(s.failed, ?, IF(o.verdict = ?, ?, o.verdict)), s.took_us, s.name_id, COALESCE(s.status, 0), IF(s.failed, COALESCE(o.reason_id, 0), 0),
        COALESCE(o.address_id, 0), COALESCE(o.server_id, 0), COALESCE(o.protocol_id, 0), COALESCE(o.resolver_id, 0), COALESCE(o.tls_version_id, 0)
      FROM observation_step s JOIN observation o ON o.check_id = s.check_id AND o.location_id = s.location_id AND o.at = s.at
      WHERE s.check_id IN (?) AND s.location_id IN (?) AND s.at >= ? AND s.at < ? AND o.occasion <> 3 ${thinned > 1 ? 'AND (o.verdict > 0 OR (o.at DIV 60000 + o.location_id) % ? = 0)' : ''} ORDER BY o.at`,
    values: [FAIL, FAIL, PASS, checks, locations, from, to, ...(thinned > 1 ? [thinned] : [])], rowsAsArray: true
  }))[0] as unknown as number[][]
  const column = (place: number) => Int32Array.from(read, (each) => each[place]!)
  const [step, reason, address, server, protocol, resolver, tlsVersion] = [5, 7, 8, 9, 10, 11, 12].map(column) as [Int32Array, Int32Array, Int32Array, Int32Array, Int32Array, Int32Array, Int32Array]
  return {
    tries: { count: read.length, at: Float64Array.from(read, (each) => each[0]!), check: column(1), location: column(2), verdict: Uint8Array.from(read, (each) => each[3]!), times: { total: Float32Array.from(read, (each) => each[4]! / 1000) }, columns: [] },
    status: column(6), step, reason, address, server, protocol, resolver, tlsVersion, texts: await textsOf(on, [step, reason, address, server, protocol, resolver, tlsVersion]), thinned
  }
}
