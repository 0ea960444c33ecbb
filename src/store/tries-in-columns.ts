import { PHASES } from '../core/observation'
import type { Tries } from '../core/findout/tries'
import type { Instant } from '../core/units'
import { rows, type Queryable, type Row } from './database'

/** Tries with what tells them apart: numbers into the dictionary for texts. */
export interface LoadedTries {
  tries: Tries
  status: Int32Array
  /** Texts by their numbers, for the columns below. */
  texts: ReadonlyMap<number, string>
  reason: Int32Array
  address: Int32Array
  server: Int32Array
  protocol: Int32Array
  /** Of tries that passed, every so-manieth was taken; all others are there. */
  thinned: number
}

/** Phases every question can look at; the others are read when they are asked for. */
const USUAL_PHASES = ['lookup', 'connect', 'tls', 'wait', 'receive'] as const

export interface WantedTries {
  checks: number[]
  locations: number[]
  from: Instant
  to: Instant
  /** A metric beside those that are always read. */
  metric?: string
  /** Take every so-manieth passing try only. */
  thinned?: number
}

/** How many tries there are, at most: by the counts of the hours that hold them. */
export async function countTries(on: Queryable, { checks, locations, from, to }: Omit<WantedTries, 'metric' | 'thinned'>): Promise<number> {
  if (checks.length === 0 || locations.length === 0) return 0
  const [found] = await rows<{ count: number | null }>(on, "SELECT SUM(passes + warns + slows + fails) AS count FROM rollup WHERE check_id IN (?) AND span = '1h' AND location_id IN (?) AND at > ? AND at < ?", [checks, locations, from - 3_600_000, to])
  return Number(found?.count ?? 0)
}

/** Reads single tries into columns, in the order of their time; those made while a location had no line are left out. */
export async function loadTries(on: Queryable, { checks, locations, from, to, metric, thinned = 1 }: WantedTries): Promise<LoadedTries> {
  const phases = PHASES.filter((phase) => USUAL_PHASES.includes(phase as never) || phase === metric)
  const times = [...phases, 'total']
  const columns = ['at', 'check_id', 'location_id', 'verdict', 'status', 'reason_id', 'address_id', 'server_id', 'protocol_id', 'loss_pm', 'rtt_us', ...times.map((phase) => `${phase}_us`)]
  // one text a row: reading it here costs a quarter of what a column each costs the driver
  const found = checks.length === 0 || locations.length === 0 ? [] : (await (on as unknown as { query: (options: object) => Promise<[Row[]]> }).query({
    sql: `SELECT CONCAT_WS(',', ${columns.map((column, index) => (index < 4 ? column : `COALESCE(${column}, '')`)).join(', ')})
      FROM observation WHERE check_id IN (?) AND location_id IN (?) AND at >= ? AND at < ? AND occasion <> 3 ${thinned > 1 ? 'AND (verdict > 0 OR (at DIV 60000 + location_id) % ? = 0)' : ''}`,
    values: [checks, locations, from, to, ...(thinned > 1 ? [thinned] : [])], rowsAsArray: true
  }))[0] as unknown as [string][]
  const count = found.length
  const values = columns.map(() => new Float64Array(count))
  for (let index = 0; index < count; index += 1) readNumbers(found[index]![0], values, index)
  const order = inOrder(values[0]!, from)
  const whole = (column: number) => { const into = new Int32Array(count); for (let index = 0; index < count; index += 1) into[index] = values[column]![order[index]!]! || 0; return into }
  const time = (column: number, factor: number) => { const into = new Float32Array(count); for (let index = 0; index < count; index += 1) into[index] = values[column]![order[index]!]! / factor; return into }
  const [reason, address, server, protocol] = [5, 6, 7, 8].map(whole) as [Int32Array, Int32Array, Int32Array, Int32Array]
  const numbers = [...new Set([reason, address, server, protocol].flatMap((each) => [...new Set(each)]))].filter((each) => each > 0)
  const texts = numbers.length === 0 ? [] : await rows<{ id: number; text: string }>(on, 'SELECT id, text FROM dictionary WHERE id IN (?)', [numbers])
  return {
    tries: {
      count, at: Float64Array.from(order, (index) => values[0]![index]!), check: whole(1), location: whole(2), verdict: Uint8Array.from(whole(3)),
      times: { loss: time(9, 1000), rtt: time(10, 1000), ...Object.fromEntries(times.map((phase, index) => [phase, time(11 + index, 1000)])) }, columns: []
    },
    status: whole(4), texts: new Map(texts.map((each) => [each.id, each.text])), reason, address, server, protocol, thinned
  }
}

/** Reads whole numbers with commas between them into a row of columns; nothing between two commas is NaN. */
function readNumbers(text: string, into: Float64Array[], row: number): void {
  let [column, value, isSeen] = [0, 0, false]
  for (let place = 0; place <= text.length; place += 1) {
    const code = place === text.length ? COMMA : text.charCodeAt(place)
    if (code !== COMMA) {
      value = value * 10 + code - ZERO
      isSeen = true
      continue
    }
    into[column]![row] = isSeen ? value : NaN
    column += 1
    value = 0
    isSeen = false
  }
}

/** The places of moments in their order. Sorting plain numbers needs no comparing function: the place stands in the lower bits. */
function inOrder(moments: Float64Array, from: Instant): Int32Array {
  const keys = Float64Array.from(moments, (at, place) => (at - from) * PLACES + place).sort()
  return Int32Array.from(keys, (key) => key % PLACES)
}

/** More places than tries are ever read at once; with 400 days of milliseconds above them, a key stays a whole number below 2^53. */
const PLACES = 2 ** 18

const [COMMA, ZERO] = [44, 48]
