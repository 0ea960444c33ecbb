import fc from 'fast-check'
import { adjusted, fisherExact, lnGamma, normalTail, rankTest, shareAbove } from './statistics'

describe('statistics', () => {
  it('knows factorials', () => [1, 2, 5, 10, 20].forEach((n) => expect(Math.exp(lnGamma(n + 1))).toBeCloseTo(Array.from({ length: n }, (_, index) => index + 1).reduce((product, each) => product * each, 1), -Math.log10(Number.EPSILON) > 10 ? 3 : 0)))
  it('agrees with Fisher’s tea tasting: 3 of 4 right is 17 of 70', () => {
    expect(fisherExact(3, 1, 1, 3)).toBeCloseTo(17 / 70, 10)
    expect(fisherExact(4, 0, 0, 4)).toBeCloseTo(1 / 70, 10)
  })
  it('agrees with tables of the normal distribution', () => {
    for (const [z, tail] of [[0, 0.5], [1, 0.158655], [1.96, 0.0249979], [3, 0.0013499], [-1, 0.841345]] as const) expect(normalTail(z)).toBeCloseTo(tail, 5)
    expect(normalTail(8)).toBeGreaterThan(6.1e-16)
    expect(normalTail(8)).toBeLessThan(6.4e-16)
  })
  it('compares histograms, ties half', () => {
    expect(shareAbove([0, 0, 4], [4, 0, 0])).toBe(1)
    expect(shareAbove([2, 2], [2, 2])).toBe(0.5)
    expect(shareAbove([], [])).toBe(0.5)
    expect(rankTest(0.5, 50, 50)).toBeCloseTo(1, 5)
    expect(rankTest(0.9, 50, 50)).toBeLessThan(1e-10)
  })
  it('adjusts for many looks as Benjamini and Hochberg do', () => {
    const found = adjusted([0.01, 0.04, 0.03, 0.005])
    ;[0.02, 0.04, 0.04, 0.02].forEach((each, index) => expect(found[index]).toBeCloseTo(each, 12))
    fc.assert(fc.property(fc.array(fc.double({ min: 0, max: 1, noNaN: true }), { maxLength: 40 }), (values) => adjusted(values).every((each, index) => each >= values[index]! - 1e-12 && each <= 1)))
  })
})
