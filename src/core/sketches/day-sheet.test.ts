import fc from 'fast-check'
import { eachOfDay, packDay, type DayEntry } from './day-sheet'
import { emptyDense, mergeBytes, mergeDense, percentileOfDense } from './dense-sketch'
import { addValue, emptySketch, encodeSketch, percentile } from './sketch'

const times = fc.array(fc.oneof(fc.integer({ min: 0, max: 2_000_000 }), fc.integer({ min: 0, max: 2 ** 40 - 1 })), { maxLength: 60 })
const sketchOf = (values: number[]) => { const sketch = emptySketch(); for (const value of values) addValue(sketch, value); return sketch }

describe('a dense sketch', () => {
  it('says what the sketches it was merged from say together', () => fc.assert(fc.property(fc.array(times, { maxLength: 4 }), (parts) => {
    const [dense, other] = [emptyDense(), emptyDense()]
    for (const part of parts) {
      const encoded = encodeSketch(sketchOf(part))
      mergeBytes(other, encoded, 0, encoded.length)
    }
    mergeDense(dense, other)
    for (const share of [0.01, 0.5, 0.95, 1]) expect(percentileOfDense(dense, share)).toBe(percentile(sketchOf(parts.flat()), share))
  })))
})

describe('a packed day', () => {
  const entry = fc.record({ check: fc.nat(4_000_000_000), location: fc.nat(65_535), tries: fc.nat(100_000), fails: fc.nat(500), sketch: fc.option(times.map((values) => encodeSketch(sketchOf(values)))) })
  it('gives back every entry', () => fc.assert(fc.property(fc.array(entry, { maxLength: 20 }), (entries) => {
    const packed = packDay(entries as DayEntry[])
    const found: unknown[] = []
    eachOfDay(packed, (check, location, tries, fails, from, to) => found.push({ check, location, tries, fails, sketch: Array.from(packed.subarray(from, to)) }))
    expect(found).toEqual(entries.map((each) => ({ ...each, sketch: Array.from(each.sketch ?? []) })))
  })))
  it('that is cut off is refused', () => {
    const packed = packDay([{ check: 1, location: 2, tries: 3, fails: 0, sketch: encodeSketch(sketchOf([10, 20, 30])) }])
    expect(() => eachOfDay(packed.subarray(0, packed.length - 1), () => undefined)).toThrow(RangeError)
  })
})
