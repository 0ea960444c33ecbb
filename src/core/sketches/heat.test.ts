import fc from 'fast-check'
import { heatOf, type Seen } from './heat'

const seen = fc.array(fc.record({ value: fc.integer({ min: 1, max: 30_000_000 }), count: fc.integer({ min: 1, max: 500 }) }), { maxLength: 30 })

describe('heat', () => {
  it('counts every value once, at its point', () => fc.assert(fc.property(fc.array(seen, { minLength: 1, maxLength: 12 }), (points: Seen[]) => {
    const heat = heatOf(points)
    const count = (point: Seen) => point.reduce((sum, each) => sum + each.count, 0)
    if (!heat) return expect(points.every((each) => each.length === 0)).toBe(true)
    expect(heat.counts).toHaveLength(points.length * heat.rows)
    points.forEach((point, place) => expect(heat.counts.slice(place * heat.rows, (place + 1) * heat.rows).reduce((sum, each) => sum + each, 0)).toBe(count(point)))
  })))
  it('puts times into equal rows, and what is far beyond all others into the last', () => {
    const heat = heatOf([[{ value: 50_000, count: 990 }, { value: 100_000, count: 9 }], [{ value: 9_000_000, count: 1 }]])!
    expect(heat.most).toBeCloseTo(105, 5)
    expect(heat.counts[Math.floor((50 / 105) * heat.rows)]).toBe(990)
    expect(heat.counts[Math.floor((100 / 105) * heat.rows)]).toBe(9)
    expect(heat.counts[2 * heat.rows - 1]).toBe(1)
  })
})
