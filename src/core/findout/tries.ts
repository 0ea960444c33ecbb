import type { Instant } from '../units'

/** Tries in columns, in the order of their time: a million of them fit where a million objects would not. */
export interface Tries {
  count: number
  at: Float64Array
  check: Int32Array
  location: Int32Array
  /** Place in VERDICTS. */
  verdict: Uint8Array
  /** Milliseconds by metric; NaN where it was not measured. */
  times: Record<string, Float32Array>
  /** What else is known of each try, by dimension. */
  columns: Column[]
}

/** One thing by which tries can be told apart. */
export interface Column {
  dimension: string
  /** What each try has, as a place in `names`; −1 for nothing. */
  codes: Int32Array
  names: string[]
}

/** The tries at the given places, as tries of their own. */
export function pick(tries: Tries, places: Int32Array): Tries {
  const { length } = places
  const take = <Values extends Float64Array | Int32Array | Uint8Array | Float32Array>(from: Values, into: Values): Values => {
    for (let index = 0; index < length; index += 1) into[index] = from[places[index]!]!
    return into
  }
  return {
    count: length, at: take(tries.at, new Float64Array(length)), check: take(tries.check, new Int32Array(length)), location: take(tries.location, new Int32Array(length)), verdict: take(tries.verdict, new Uint8Array(length)),
    times: Object.fromEntries(Object.entries(tries.times).map(([name, values]) => [name, take(values, new Float32Array(length))])),
    columns: tries.columns.map((column) => ({ ...column, codes: take(column.codes, new Int32Array(length)) }))
  }
}

/** The places of tries that fit. */
export function placesOf(tries: Tries, fits: (index: number) => boolean): Int32Array {
  const found = new Int32Array(tries.count)
  let count = 0
  for (let index = 0; index < tries.count; index += 1) if (fits(index)) found[count++] = index
  return found.subarray(0, count)
}

/** Tries within and outside of a stretch of time. */
export function splitAt(tries: Tries, stretch: { from: Instant; to: Instant }): { inside: Tries; outside: Tries } {
  const isInside = (index: number) => tries.at[index]! >= stretch.from && tries.at[index]! < stretch.to
  return { inside: pick(tries, placesOf(tries, isInside)), outside: pick(tries, placesOf(tries, (index) => !isInside(index))) }
}
