import { BESIDE, PHASES } from '../observation'
import { MINUTE, type Instant, type Milliseconds } from '../units'
import type { Tries } from './tries'

/** Tries with what tells them apart, as numbers into a dictionary of texts. */
export interface LoadedTries extends Record<TextColumn, Int32Array> {
  tries: Tries
  status: Int32Array
  /** Where single steps were loaded instead of whole tries: which one each is. */
  step?: Int32Array
  /** Texts by their numbers. */
  texts: ReadonlyMap<number, string>
  /** Of tries that passed, every so-manieth was taken; all others are there. */
  thinned: number
}

/** How long the tries are that share one sheet. */
export const SHEET: Milliseconds = 10 * MINUTE
export const sheetOf = (at: Instant): Instant => Math.floor(at / SHEET) * SHEET

/** Columns of numbers that stand for texts. */
export const TEXT_COLUMNS = ['reason', 'address', 'server', 'protocol', 'resolver', 'tlsVersion'] as const
export type TextColumn = (typeof TEXT_COLUMNS)[number]
/** Columns of measured numbers: times in milliseconds, loss as a share, steps on the way. */
export const MEASURED_COLUMNS = [...PHASES, 'total', ...BESIDE] as const
/** What is read of every sheet first: which tries it holds, and how they went. */
export const KEY_COLUMNS = ['moment', 'check', 'location', 'verdict'] as const
export const SHEET_COLUMNS = [...KEY_COLUMNS, 'status', ...TEXT_COLUMNS, ...MEASURED_COLUMNS] as const
export type SheetColumn = (typeof SHEET_COLUMNS)[number]
/** Columns of a sheet as bytes, little-endian numbers one after the other; null where no try has a value. */
export type SheetBytes = Partial<Record<SheetColumn, Uint8Array | null>>

type Numbers = Uint8Array | Uint16Array | Uint32Array | Float32Array
const isMeasured = (column: SheetColumn): boolean => (MEASURED_COLUMNS as readonly string[]).includes(column)
const widths: Partial<Record<SheetColumn, new (from: number | ArrayBuffer) => Numbers>> = { location: Uint16Array, verdict: Uint8Array, status: Uint16Array }
const typeOf = (column: SheetColumn): new (from: number | ArrayBuffer) => Numbers => widths[column] ?? (isMeasured(column) ? Float32Array : Uint32Array)

/**
 * Writes the tries of one sheet column by column. A question reads only the columns it is about, so that it costs what it asks for
 * (the layout of a column store: Copeland and Khoshafian, SIGMOD 1985).
 * @param at when the sheet begins; every try lies within SHEET after it
 */
export function packSheet(loaded: LoadedTries, at: Instant): SheetBytes {
  const { tries } = loaded
  const valueOf = (column: SheetColumn): ((index: number) => number) => {
    if (column === 'moment') return (index) => tries.at[index]! - at
    const from = column === 'check' || column === 'location' || column === 'verdict' ? tries[column] : isMeasured(column) ? tries.times[column] : loaded[column as TextColumn | 'status']
    return (index) => from?.[index] ?? Number.NaN
  }
  return Object.fromEntries(SHEET_COLUMNS.map((column) => {
    const numbers = new (typeOf(column))(tries.count)
    const value = valueOf(column)
    let isEmpty = true
    for (let index = 0; index < tries.count; index += 1) {
      numbers[index] = value(index)
      if (isMeasured(column) ? !Number.isNaN(numbers[index]!) : numbers[index] !== 0) isEmpty = false
    }
    return [column, isEmpty && !(KEY_COLUMNS as readonly string[]).includes(column) ? null : new Uint8Array(numbers.buffer, 0, numbers.byteLength)]
  }))
}

/** The numbers of a column; undefined where no try has one. Throws RangeError for bytes that are not those of so many tries. */
export function readColumn(column: SheetColumn, bytes: Uint8Array | null | undefined, count: number): Numbers | undefined {
  if (!bytes) return undefined
  // bytes from the store may begin anywhere, numbers must not
  const numbers = new (typeOf(column))(bytes.buffer.slice(bytes.byteOffset, bytes.byteOffset + bytes.byteLength) as ArrayBuffer)
  if (numbers.length !== count) throw new RangeError(`the sheet holds ${numbers.length} instead of ${count} numbers of ${column}`)
  return numbers
}

/** Which tries of a sheet are wanted: 1 at the number of every check and location that is. */
export interface WantedOfSheet {
  checks: Uint8Array
  locations: Uint8Array
  from: Instant
  to: Instant
}

/** Marks some numbers for looking them up. */
export function numbered(numbers: readonly number[]): Uint8Array {
  const marked = new Uint8Array(numbers.reduce((most, each) => Math.max(most, each), 0) + 1)
  for (const each of numbers) marked[each] = 1
  return marked
}

/** The places of the wanted tries of a sheet. */
export function placesInSheet(keys: SheetBytes, at: Instant, count: number, { checks, locations, from, to }: WantedOfSheet): Int32Array {
  const [moment, check, location] = (['moment', 'check', 'location'] as const).map((column) => readColumn(column, keys[column], count)!)
  const places = new Int32Array(count)
  let found = 0
  for (let index = 0; index < count; index += 1) {
    if (checks[check![index]!] === 1 && locations[location![index]!] === 1 && at + moment![index]! >= from && at + moment![index]! < to) places[found++] = index
  }
  return places.subarray(0, found)
}

/** Of passing tries leaves about every so-manieth, chosen by a hash of minute and location (Knuth, TAOCP 6.4), so that no cadence falls in step with it. */
export function thinnedPlaces(keys: SheetBytes, at: Instant, count: number, places: Int32Array, thinned: number): Int32Array {
  if (thinned <= 1) return places
  const [moment, location, verdict] = (['moment', 'location', 'verdict'] as const).map((column) => readColumn(column, keys[column], count)!)
  return places.filter((place) => verdict![place]! > 0 || (Math.imul(Math.floor((at + moment![place]!) / MINUTE) * 61 + location![place]!, 2_654_435_761) >>> 12) % thinned === 0)
}

/** Puts the wanted tries of sheets one after the other. Columns that were not asked for stay empty: nothing, or NaN. */
export class GatheredSheets {
  readonly loaded: LoadedTries
  private filled = 0

  /** @param measured which measured numbers to make room for */
  constructor(count: number, measured: readonly string[], thinned: number) {
    const numbers = () => new Int32Array(count)
    this.loaded = {
      tries: { count, at: new Float64Array(count), check: numbers(), location: numbers(), verdict: new Uint8Array(count), times: Object.fromEntries(measured.map((each) => [each, new Float32Array(count).fill(Number.NaN)])), columns: [] },
      status: numbers(), reason: numbers(), address: numbers(), server: numbers(), protocol: numbers(), resolver: numbers(), tlsVersion: numbers(), texts: new Map(), thinned
    }
  }

  add(at: Instant, count: number, bytes: SheetBytes, places: Int32Array): void {
    const { tries } = this.loaded
    for (const [column, own] of Object.entries(bytes) as [SheetColumn, Uint8Array | null][]) {
      const numbers = readColumn(column, own, count)
      if (!numbers) continue
      if (column === 'moment') for (let index = 0; index < places.length; index += 1) tries.at[this.filled + index] = at + numbers[places[index]!]!
      else {
        const into = column === 'check' || column === 'location' || column === 'verdict' ? tries[column] : isMeasured(column) ? tries.times[column] : this.loaded[column as TextColumn | 'status']
        if (into) for (let index = 0; index < places.length; index += 1) into[this.filled + index] = numbers[places[index]!]!
      }
    }
    this.filled += places.length
  }

  /** Adds tries that stand in no sheet yet. */
  addLoaded(other: LoadedTries): void {
    const { tries } = this.loaded
    tries.at.set(other.tries.at, this.filled)
    for (const column of ['check', 'location', 'verdict'] as const) tries[column].set(other.tries[column], this.filled)
    for (const [name, into] of Object.entries(tries.times)) if (other.tries.times[name]) into.set(other.tries.times[name]!, this.filled)
    for (const column of ['status', ...TEXT_COLUMNS] as const) this.loaded[column].set(other[column], this.filled)
    this.filled += other.tries.count
  }
}
