import type { Instant, Milliseconds } from '../units'
import { isFail, isTimed } from './bases'
import type { Column, Tries } from './tries'

/** Every try as a dot, in columns: what a browser draws. `group` is a place in the names it was asked with, 255 for none of them. */
export interface Dots {
  count: number
  /** Milliseconds after the beginning of the range. */
  at: Uint32Array
  /** The metric in its own unit; NaN for a failure. */
  value: Float32Array
  group: Uint8Array
  verdict: Uint8Array
  check: Uint32Array
  location: Uint16Array
}

const WIDTH = 4 + 4 + 4 + 2 + 1 + 1

/** Makes dots of tries: those with a time, and failures. */
export function dotsOf(tries: Tries, column: Column, shownNames: readonly string[], metric: string, from: Instant): Dots {
  const values = tries.times[metric] ?? new Float32Array(tries.count).fill(NaN)
  const groupOf = column.names.map((name) => { const place = shownNames.indexOf(name); return place < 0 ? 255 : place })
  const dots: Dots = { count: 0, at: new Uint32Array(tries.count), value: new Float32Array(tries.count), group: new Uint8Array(tries.count), verdict: new Uint8Array(tries.count), check: new Uint32Array(tries.count), location: new Uint16Array(tries.count) }
  for (let index = 0; index < tries.count; index += 1) {
    const failed = isFail(tries, index)
    if (!failed && !isTimed(tries, values, index)) continue
    const place = dots.count++
    dots.at[place] = tries.at[index]! - from
    dots.value[place] = failed ? NaN : values[index]!
    dots.group[place] = column.codes[index]! < 0 ? 255 : groupOf[column.codes[index]!]!
    dots.verdict[place] = tries.verdict[index]!
    dots.check[place] = tries.check[index]!
    dots.location[place] = tries.location[index]!
  }
  return dots
}

/** Dots in view at most, and how many places side by side a chart tells apart. */
export const MOST_DOTS = 200_000
const PLACES_ACROSS = 1600

/**
 * Leaves at most so many dots: of passing ones that would lie on each other, in the same group, the same narrow stretch of time and
 * within a hundredth of the same value, the first is kept. What fails, warns or is slow is always kept, and so is whatever lies alone.
 */
export function thinDots(dots: Dots, length: Milliseconds, most = MOST_DOTS): Dots {
  for (let across = PLACES_ACROSS; dots.count > most && across >= 50; across /= 2) {
    const taken = new Set<number>()
    const kept = new Uint32Array(dots.count)
    let count = 0
    for (let place = 0; place < dots.count; place += 1) {
      if (dots.verdict[place]! === PASS) {
        // a logarithm with steps of a hundredth, below 2^11
        const height = Math.max(0, Math.min(2047, Math.round(Math.log(dots.value[place]! + 0.01) * 100) + 500))
        const cell = (Math.floor((dots.at[place]! / length) * across) * 256 + dots.group[place]!) * 2048 + height
        if (taken.has(cell)) continue
        taken.add(cell)
      }
      kept[count++] = place
    }
    if (count <= most || across < 100) return pickDots(dots, kept.subarray(0, count))
  }
  return dots
}

const PASS = 0

function pickDots(dots: Dots, places: Uint32Array): Dots {
  const take = <Values extends Uint32Array | Float32Array | Uint8Array | Uint16Array>(from: Values, into: Values): Values => {
    for (let index = 0; index < places.length; index += 1) into[index] = from[places[index]!]!
    return into
  }
  const { length } = places
  return {
    count: length, at: take(dots.at, new Uint32Array(length)), value: take(dots.value, new Float32Array(length)), group: take(dots.group, new Uint8Array(length)), verdict: take(dots.verdict, new Uint8Array(length)),
    check: take(dots.check, new Uint32Array(length)), location: take(dots.location, new Uint16Array(length))
  }
}

/** Writes dots as bytes: the number of them, then column after column, little-endian. */
export function encodeDots(dots: Dots): Uint8Array<ArrayBuffer> {
  const { count } = dots
  const bytes = new Uint8Array(4 + count * WIDTH)
  new DataView(bytes.buffer).setUint32(0, count, true)
  let place = 4
  for (const column of [dots.at, dots.value, dots.check, dots.location, dots.group, dots.verdict]) {
    const own = column.subarray(0, count)
    bytes.set(new Uint8Array(own.buffer, own.byteOffset, own.byteLength), place)
    place += own.byteLength
  }
  return bytes
}

/** Reads what encodeDots wrote. Throws RangeError for bytes that are too few. */
export function decodeDots(buffer: ArrayBuffer): Dots {
  const count = new DataView(buffer).getUint32(0, true)
  let place = 4
  const take = <Values>(make: (part: ArrayBuffer) => Values, size: number): Values => {
    if (place + count * size > buffer.byteLength) throw new RangeError('the dots are cut off')
    const part = buffer.slice(place, place + count * size)
    place += count * size
    return make(part)
  }
  return {
    count, at: take((part) => new Uint32Array(part), 4), value: take((part) => new Float32Array(part), 4), check: take((part) => new Uint32Array(part), 4), location: take((part) => new Uint16Array(part), 2),
    group: take((part) => new Uint8Array(part), 1), verdict: take((part) => new Uint8Array(part), 1)
  }
}
