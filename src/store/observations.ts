import { createHash } from 'node:crypto'
import { deflateRawSync, inflateRawSync } from 'node:zlib'
import { OCCASIONS, PHASES, VERDICTS, type Evidence, type Observation, type Phase } from '../core/observation'
import type { Instant } from '../core/units'
import { change, insertMany, row, rows, type Queryable } from './database'
import { stepsOf, storeSteps } from './steps'

/** The columns of an observation, in the order of observationRow. */
export const OBSERVATION_COLUMNS = `check_id, location_id, at, occasion, verdict, reason_id, sentence_id, status, ${PHASES.map((phase) => `${phase}_us`).join(', ')},
  total_us, address_id, server_id, protocol_id, sent_bytes, received_bytes, certificate_end, version, readings, loss_pm, rtt_us, resolver_id, tls_version_id, resolution_us, hops`

/** Numbers for texts that repeat. One for each process: numbers never change once given. */
const known = new Map<string, number>()

/** Gives every text its number, new ones first getting one. Works outside transactions of the caller. */
export async function numberTexts(on: Queryable, texts: Iterable<string>): Promise<Map<string, number>> {
  const missing = [...new Set(texts)].filter((text) => !known.has(text))
  if (missing.length > 0) {
    const hashed = missing.map((text) => [createHash('sha1').update(text).digest(), text.slice(0, 600)])
    await change(on, 'INSERT IGNORE INTO dictionary (text_hash, text) VALUES ?', [hashed])
    const found = await rows<{ id: number; hash: Buffer }>(on, 'SELECT id, text_hash AS hash FROM dictionary WHERE text_hash IN (?)', [hashed.map(([hash]) => hash)])
    const byHash = new Map(found.map((each) => [each.hash.toString('hex'), each.id]))
    if (known.size > 50_000) known.clear()
    hashed.forEach(([hash], index) => known.set(missing[index]!, byHash.get((hash as Buffer).toString('hex'))!))
  }
  return known
}

const textsOf = (each: Observation) => [each.reason, each.sentence, each.address, each.server, each.protocol, each.resolver, each.tlsVersion, ...(each.steps ?? []).map((step) => step.name)].filter((text) => text !== undefined)
const microseconds = (ms: number | undefined) => (ms === undefined ? null : Math.min(4_294_967_295, Math.round(ms * 1000)))

/** One observation as the row that holds it. */
export function observationRow(each: Observation, numbers: ReadonlyMap<string, number>): unknown[] {
  const number = (text: string | undefined) => (text === undefined ? null : numbers.get(text) ?? null)
  return [each.check, each.location, each.at, OCCASIONS.indexOf(each.occasion), VERDICTS.indexOf(each.verdict), number(each.reason), number(each.sentence),
    each.status ?? null, ...PHASES.map((phase) => microseconds(each.phases[phase])), microseconds(each.total), number(each.address), number(each.server),
    number(each.protocol), each.bytesSent ?? null, each.bytesReceived ?? null, each.certificateEnd ?? null, each.version, each.readings ? JSON.stringify(each.readings) : null,
    each.readings?.loss === undefined ? null : Math.round(1000 * each.readings.loss), microseconds(each.readings?.rtt ?? each.readings?.median), number(each.resolver), number(each.tlsVersion), microseconds(each.readings?.resolution), Math.min(255, Math.round(each.readings?.hops ?? 0)) || null]
}

/**
 * Stores observations with their evidence, inside the caller's transaction.
 * @returns those that were new; a repeat of one that stands already is left out
 */
export async function storeObservations(on: Queryable, observations: Observation[], numbers: ReadonlyMap<string, number>): Promise<Observation[]> {
  const keyOf = (each: { check: number; location: number; at: number }) => `${each.check}/${each.location}/${each.at}`
  const unique = [...new Map(observations.map((each) => [keyOf(each), each])).values()]
  if (unique.length === 0) return []
  const standing = await rows<{ check: number; location: number; at: number }>(on,
    'SELECT check_id AS `check`, location_id AS location, at FROM observation WHERE (check_id, location_id, at) IN (?) AND at BETWEEN ? AND ?',
    [unique.map((each) => [each.check, each.location, each.at]), Math.min(...unique.map((each) => each.at)), Math.max(...unique.map((each) => each.at))])
  const repeated = new Set(standing.map(keyOf))
  const fresh = unique.filter((each) => !repeated.has(keyOf(each)))
  await insertMany(on, `INSERT INTO observation (${OBSERVATION_COLUMNS})`, fresh.map((each) => observationRow(each, numbers)))
  await insertMany(on, 'INSERT IGNORE INTO evidence (check_id, location_id, at, content)', fresh.filter((each) => each.evidence)
    .map((each) => [each.check, each.location, each.at, deflateRawSync(JSON.stringify(each.evidence))]))
  await storeSteps(on, fresh, numbers)
  return fresh
}

export const textsOfAll = (observations: Observation[]) => observations.flatMap(textsOf)

type PhaseColumns = { [Column in Phase as `${Column}_us`]: number | null }

interface ObservationRow extends PhaseColumns {
  check_id: number; location_id: number; at: number; occasion: number; verdict: number; reason: string | null; sentence: string | null; status: number | null
  total_us: number
  address: string | null; server: string | null; protocol: string | null; resolver: string | null; tls_version: string | null; sent_bytes: number | null; received_bytes: number | null
  certificate_end: number | null; version: number; readings: string | null
}

function fromRow(found: ObservationRow): Observation {
  const phases = Object.fromEntries(PHASES.flatMap((phase) => {
    const us = found[`${phase}_us`]
    return us === null ? [] : [[phase, us / 1000]]
  }))
  const given = {
    reason: found.reason, sentence: found.sentence, status: found.status, address: found.address, server: found.server, protocol: found.protocol, resolver: found.resolver, tlsVersion: found.tls_version,
    bytesSent: found.sent_bytes, bytesReceived: found.received_bytes, certificateEnd: found.certificate_end
  }
  return {
    check: found.check_id, location: found.location_id, at: found.at, occasion: OCCASIONS[found.occasion]!, verdict: VERDICTS[found.verdict]!,
    phases, total: found.total_us / 1000, version: found.version,
    ...(found.readings === null ? {} : { readings: JSON.parse(found.readings) as Record<string, number> }),
    ...Object.fromEntries(Object.entries(given).filter(([, value]) => value !== null))
  }
}

export interface ObservationFilter {
  check: number
  from: Instant
  to: Instant
  location?: number
  verdict?: Observation['verdict']
  limit: number
}

/** Observations of a check over a time range, newest first. */
export async function listObservations(on: Queryable, filter: ObservationFilter): Promise<Observation[]> {
  const found = await rows<ObservationRow>(on, `SELECT o.*, r.text AS reason, s.text AS sentence, a.text AS address, v.text AS server, p.text AS protocol, n.text AS resolver, t.text AS tls_version
    FROM (SELECT ${OBSERVATION_COLUMNS} FROM observation WHERE check_id = ? AND at >= ? AND at < ?
      ${filter.location === undefined ? '' : 'AND location_id = ?'} ${filter.verdict === undefined ? '' : 'AND verdict = ?'} ORDER BY at DESC LIMIT ?) o
    LEFT JOIN dictionary r ON r.id = o.reason_id LEFT JOIN dictionary s ON s.id = o.sentence_id LEFT JOIN dictionary a ON a.id = o.address_id
    LEFT JOIN dictionary v ON v.id = o.server_id LEFT JOIN dictionary p ON p.id = o.protocol_id
    LEFT JOIN dictionary n ON n.id = o.resolver_id LEFT JOIN dictionary t ON t.id = o.tls_version_id ORDER BY o.at DESC`,
  [filter.check, filter.from, filter.to, ...(filter.location === undefined ? [] : [filter.location]),
    ...(filter.verdict === undefined ? [] : [VERDICTS.indexOf(filter.verdict)]), filter.limit])
  if (found.length === 0) return []
  const steps = await stepsOf(on, filter.check, found.at(-1)!.at, found[0]!.at)
  return found.map((each) => {
    const own = steps.get(`${each.location_id}/${each.at}`)
    return own ? { ...fromRow(each), steps: own } : fromRow(each)
  })
}

/** The evidence of one observation, where it was kept. */
export async function evidenceOf(on: Queryable, check: number, location: number, at: Instant): Promise<Evidence | undefined> {
  const found = await row<{ content: Buffer }>(on, 'SELECT content FROM evidence WHERE check_id = ? AND location_id = ? AND at = ?', [check, location, at])
  return found && JSON.parse(inflateRawSync(found.content).toString()) as Evidence
}

/** The newest observation with evidence before a moment, passing or failing, with that evidence. */
export async function nearestEvidence(on: Queryable, check: number, range: { from: Instant; to: Instant }, passing: boolean, order: 'first' | 'last', location?: number):
Promise<{ location: number; at: Instant; evidence: Evidence } | undefined> {
  const found = await row<{ location: number; at: number; content: Buffer }>(on, `SELECT o.location_id AS location, o.at, e.content FROM observation o
    JOIN evidence e ON e.check_id = o.check_id AND e.location_id = o.location_id AND e.at = o.at
    WHERE o.check_id = ? AND o.at >= ? AND o.at <= ? AND o.verdict ${passing ? '<> 3' : '= 3'} ${location === undefined ? '' : 'AND o.location_id = ?'}
    ORDER BY o.at ${order === 'first' ? 'ASC' : 'DESC'} LIMIT 1`, [check, range.from, range.to, ...(location === undefined ? [] : [location])])
  return found && { location: found.location, at: found.at, evidence: JSON.parse(inflateRawSync(found.content).toString()) as Evidence }
}
