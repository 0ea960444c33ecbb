import { VarintWriter } from '../varints'

/** What one check saw at one location over a day: how many tries, how many failed, and the sketch of one metric as encodeSketch wrote it. */
export interface DayEntry {
  check: number
  location: number
  tries: number
  fails: number
  sketch: Uint8Array | null
}

/**
 * Writes the entries of a day one after the other: check, location, tries, fails and the length of the sketch as LEB128 numbers, then
 * the sketch. Questions over weeks read one such text a day instead of thousands of rows.
 */
export function packDay(entries: readonly DayEntry[]): Uint8Array {
  const bytes = new VarintWriter(entries.reduce((sum, each) => sum + 25 + (each.sketch?.length ?? 0), 0))
  for (const { check, location, tries, fails, sketch } of entries) {
    for (const each of [check, location, tries, fails, sketch?.length ?? 0]) bytes.number(each)
    if (sketch) bytes.raw(sketch)
  }
  return bytes.done()
}

/**
 * Walks over the entries of a packed day; a sketch is given as the places between which it lies, so that nothing is copied.
 * Throws RangeError for bytes that are cut off.
 */
export function eachOfDay(bytes: Uint8Array, take: (check: number, location: number, tries: number, fails: number, from: number, to: number) => void): void {
  let place = 0
  const number = () => {
    let byte = bytes[place++]!
    let value = byte & 127
    for (let factor = 128; byte > 127; factor *= 128) {
      byte = bytes[place++]!
      value += (byte & 127) * factor
    }
    return value
  }
  while (place < bytes.length) {
    const [check, location, tries, fails, length] = [number(), number(), number(), number(), number()]
    if (!(place + length <= bytes.length)) throw new RangeError('the day is cut off')
    take(check, location, tries, fails, place, place + length)
    place += length
  }
}
