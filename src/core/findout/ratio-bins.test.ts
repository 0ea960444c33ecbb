import fc from 'fast-check'
import { leanings, middles, pairsOf } from './bases'
import { BINS } from './groups'
import { madeWorld } from './made-worlds'
import { binOf, meanBin, ratioAt, ratioBins, referenceBins } from './ratio-bins'

const only = (bin: number, count = 1) => Float64Array.from({ length: BINS }, (_, place) => (place === bin ? count : 0))

describe('bins of ratios', () => {
  it('give a ratio back within a bin', () => fc.assert(fc.property(fc.double({ min: 0.06, max: 18, noNaN: true }), (ratio) => expect(Math.abs(Math.log(ratioAt(only(binOf(ratio)))) - Math.log(ratio))).toBeLessThanOrEqual(3 / BINS + 1e-9))))
  it('rise with the ratio, and end at the edges', () => {
    fc.assert(fc.property(fc.double({ min: 1e-9, max: 1e9, noNaN: true }), fc.double({ min: 1, max: 100, noNaN: true }), (ratio, times) => expect(binOf(ratio * times)).toBeGreaterThanOrEqual(binOf(ratio))))
    expect([binOf(0), binOf(1), binOf(1e12)]).toEqual([0, BINS / 2, BINS - 1])
  })
  it('have a mean and a middle', () => {
    const bins = only(100, 3)
    bins[110] = 1
    expect(meanBin(bins)).toBe(102.5)
    expect(ratioAt(bins)).toBe(ratioAt(only(100)))
    expect([meanBin(new Float64Array(BINS)), ratioAt(new Float64Array(BINS))]).toEqual([0, 1])
  })
})

describe('what times are compared with', () => {
  const { tries, stretch } = madeWorld(51, 'everything slow')
  const pairs = pairsOf(tries)
  const own = pairs.of(tries)
  const total = tries.times.total!
  const base = middles(tries, total, own, pairs.count)

  it('is the middle of each check at each location', () => {
    expect(pairs.count).toBe(48)
    for (let pair = 0; pair < pairs.count; pair += 5) {
      const values = Array.from(total).filter((_, index) => own[index] === pair && tries.verdict[index] !== 3).sort((a, b) => a - b)
      const half = values.length >> 1
      expect(base[pair]).toBeCloseTo(values.length % 2 === 1 ? values[half]! : (values[half - 1]! + values[half]!) / 2, 3)
    }
  })
  it('is nothing where there are too few to say', () => {
    const few = { ...tries, verdict: tries.verdict.map((verdict, index) => (own[index] === 3 ? 3 : verdict)) }
    expect(middles(few, total, own, pairs.count)[3]).toBeNaN()
  })
  it('leans to the right, by what times take above their middle on average', () => {
    const lean = leanings(tries, total, own, base)
    for (let pair = 0; pair < pairs.count; pair += 7) {
      const above = Array.from(total).filter((_, index) => own[index] === pair && tries.verdict[index] !== 3).map((value) => Math.min(value, 3 * base[pair]!) - base[pair]!)
      expect(lean[pair]).toBeCloseTo(above.reduce((sum, each) => sum + each, 0) / above.length, 3)
    }
  })
  it('counts every try of a histogram once, and an episode once', () => {
    const [bins, episodes] = referenceBins(tries, total, own, base)
    const timed = Array.from(tries.verdict).filter((verdict) => verdict !== 3).length
    expect(bins.reduce((sum, each) => sum + each, 0)).toBe(timed)
    expect(episodes).toBeLessThanOrEqual(timed)
    expect(episodes).toBeGreaterThan(timed / 4)
    // with half of a third slow, the middle stays near what it was
    expect(Math.abs(ratioAt(bins) - 1)).toBeLessThan(0.1)
    const excess = Float64Array.from(total, (value, index) => value - base[own[index]!]!)
    const slow = ratioBins(tries, total, own, base, excess)
    const isNow = (index: number) => tries.at[index]! >= stretch.from
    const mean = (wanted: boolean) => { const places = Array.from(slow.keys()).filter((index) => isNow(index) === wanted && tries.verdict[index] !== 3); return places.reduce((sum, index) => sum + slow[index]!, 0) / places.length }
    expect(mean(true)).toBeGreaterThan(mean(false) + 5)
  })
})
