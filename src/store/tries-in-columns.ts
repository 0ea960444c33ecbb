import { BESIDE, PHASES, type Beside } from '../core/observation'
import { TEXT_COLUMNS, type LoadedTries, type TextColumn } from '../core/findout/sheet'
import type { Instant } from '../core/units'
import { rows, type Queryable, type Row } from './database'

/** What a text column of tries is called in the store. */
const ID_COLUMNS: Record<TextColumn, string> = { reason: 'reason_id', address: 'address_id', server: 'server_id', protocol: 'protocol_id', resolver: 'resolver_id', tlsVersion: 'tls_version_id' }

/** Phases every question can look at; the others are read when they are asked for. */
const USUAL_PHASES = ['lookup', 'connect', 'tls', 'wait', 'receive'] as const

export interface WantedTries {
  checks: number[]
  locations: number[]
  from: Instant
  to: Instant
  /** A metric beside those that are always read; `every` reads all phases. */
  metric?: string
  /** Take every so-manieth passing try only. */
  thinned?: number
  /** Moments whose tries are not wanted. */
  leaveOut?: (at: Instant) => boolean
}

/** Where the store holds what is measured beside a try, and how many of it make one: thousandths, microseconds, whole steps. */
const BESIDE_COLUMNS: Record<Beside, { column: string; per: number }> = { loss: { column: 'loss_pm', per: 1000 }, rtt: { column: 'rtt_us', per: 1000 }, resolution: { column: 'resolution_us', per: 1000 }, hops: { column: 'hops', per: 1 } }

/** How many tries there are, at most: by the counts of the hours that hold them. */
export async function countTries(on: Queryable, { checks, locations, from, to }: Omit<WantedTries, 'metric' | 'thinned'>): Promise<number> {
  if (checks.length === 0 || locations.length === 0) return 0
  const [found] = await rows<{ count: number | null }>(on, "SELECT SUM(passes + warns + slows + fails) AS count FROM rollup WHERE check_id IN (?) AND span = '1h' AND location_id IN (?) AND at > ? AND at < ?", [checks, locations, from - 3_600_000, to])
  return Number(found?.count ?? 0)
}

/** Reads single tries into columns, in the order of their time; those made while a location had no line are left out. */
export async function loadTries(on: Queryable, { checks, locations, from, to, metric, thinned = 1, leaveOut }: WantedTries): Promise<LoadedTries> {
  const phases = PHASES.filter((phase) => USUAL_PHASES.includes(phase as never) || phase === metric || metric === 'every')
  const times = [...phases, 'total']
  const columns = ['at', 'check_id', 'location_id', 'verdict', 'status', ...TEXT_COLUMNS.map((each) => ID_COLUMNS[each]), ...BESIDE.map((each) => BESIDE_COLUMNS[each].column), ...times.map((phase) => `${phase}_us`)]
  // one text a row: reading it here costs a quarter of what a column each costs the driver
  const read = checks.length === 0 || locations.length === 0 ? [] : (await (on as unknown as { query: (options: object) => Promise<[Row[]]> }).query({
    sql: `SELECT CONCAT_WS(',', ${columns.map((column, index) => (index < 4 ? column : `COALESCE(${column}, '')`)).join(', ')})
      FROM observation WHERE check_id IN (?) AND location_id IN (?) AND at >= ? AND at < ? AND occasion <> 3 ${thinned > 1 ? 'AND (verdict > 0 OR (at DIV 60000 + location_id) % ? = 0)' : ''}`,
    values: [checks, locations, from, to, ...(thinned > 1 ? [thinned] : [])], rowsAsArray: true
  }))[0] as unknown as [string][]
  const found = leaveOut ? read.filter(([text]) => !leaveOut(Number.parseInt(text, 10))) : read
  const count = found.length
  const values = columns.map(() => new Float64Array(count))
  for (let index = 0; index < count; index += 1) readNumbers(found[index]![0], values, index)
  const order = inOrder(values[0]!, from, to)
  const whole = (column: number) => { const into = new Int32Array(count); for (let index = 0; index < count; index += 1) into[index] = values[column]![order[index]!]! || 0; return into }
  const time = (column: number, factor: number) => { const into = new Float32Array(count); for (let index = 0; index < count; index += 1) into[index] = values[column]![order[index]!]! / factor; return into }
  const texts = Object.fromEntries(TEXT_COLUMNS.map((each, index) => [each, whole(5 + index)])) as Record<TextColumn, Int32Array>
  const measured = 5 + TEXT_COLUMNS.length
  return {
    tries: {
      count, at: Float64Array.from(order, (index) => values[0]![index]!), check: whole(1), location: whole(2), verdict: Uint8Array.from(whole(3)),
      times: Object.fromEntries([...BESIDE, ...times].map((each, index) => [each, time(measured + index, BESIDE_COLUMNS[each as Beside]?.per ?? 1000)])), columns: []
    },
    status: whole(4), ...texts, texts: await textsOf(on, Object.values(texts)), thinned
  }
}

/** The texts that columns of numbers stand for. */
export async function textsOf(on: Queryable, columns: Int32Array[]): Promise<Map<number, string>> {
  const numbers = new Set<number>()
  for (const column of columns) {
    let last = 0
    for (const number of column) if (number !== last) numbers.add(last = number)
  }
  numbers.delete(0)
  const texts = numbers.size === 0 ? [] : await rows<{ id: number; text: string }>(on, 'SELECT id, text FROM dictionary WHERE id IN (?)', [[...numbers]])
  return new Map(texts.map((each) => [each.id, each.text]))
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
function inOrder(moments: Float64Array, from: Instant, to: Instant): Int32Array {
  const places = 2 ** Math.ceil(Math.log2(moments.length + 1))
  if ((to - from) * places > Number.MAX_SAFE_INTEGER) throw new RangeError(`${moments.length} tries over ${to - from} ms are too many to be put in order at once`)
  const keys = Float64Array.from(moments, (at, place) => (at - from) * places + place).sort()
  return Int32Array.from(keys, (key) => key % places)
}

const [COMMA, ZERO] = [44, 48]
