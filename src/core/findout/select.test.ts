import fc from 'fast-check'
import { selectAt, selectPercentile } from './select'

const numbers = fc.array(fc.oneof(fc.float({ noNaN: true }).map((each) => each + 0), fc.integer({ min: 0, max: 4 })), { minLength: 1, maxLength: 200 })

describe('selecting', () => {
  it('finds what sorting would', () => fc.assert(fc.property(numbers, fc.nat(), (values, any) => {
    const rank = any % values.length
    const sorted = Float32Array.from(values).sort()
    expect(selectAt(Float32Array.from(values), rank)).toBe(sorted[rank])
  }), { numRuns: 500 }))
  it('takes the nearest rank', () => {
    expect(selectPercentile(Float32Array.of(4, 1, 3, 2), 0.5)).toBe(2)
    expect(selectPercentile(Float32Array.of(4, 1, 3, 2), 0.51)).toBe(3)
    expect(selectPercentile(Float32Array.of(7), 0.99)).toBe(7)
    expect(selectPercentile(new Float32Array(0), 0.5)).toBeUndefined()
  })
  it('is not slowed down by equal or ordered numbers', () => {
    for (const make of [(index: number) => index, () => 5, (index: number) => -index]) {
      const values = Float32Array.from({ length: 300_000 }, (_, index) => make(index))
      const [lowest, highest] = [Math.min(make(0), make(299_999)), Math.max(make(0), make(299_999))]
      expect([selectAt(values, 0), selectAt(values, 299_999)]).toEqual([lowest, highest])
    }
  })
})
