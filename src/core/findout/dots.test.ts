import fc from 'fast-check'
import { HOUR } from '../units'
import { decodeDots, dotsOf, encodeDots, thinDots, type Dots } from './dots'
import { madeWorld } from './made-worlds'

interface Plain { at: number; value: number; group: number; verdict: number }
const dotsFrom = (all: Plain[]): Dots => ({
  count: all.length, at: Uint32Array.from(all, (each) => each.at), value: Float32Array.from(all, (each) => each.value), group: Uint8Array.from(all, (each) => each.group), verdict: Uint8Array.from(all, (each) => each.verdict),
  check: Uint32Array.from(all, (_, index) => index), location: new Uint16Array(all.length)
})
const plain = ({ count, at, value, group, verdict, check }: Dots) => Array.from({ length: count }, (_, index) => ({ at: at[index]!, value: value[index]!, group: group[index]!, verdict: verdict[index]!, number: check[index]! }))

const LENGTH = 6 * HOUR
/** Tries that lie close together, as thousands of checks make them, with some that stand out. */
const dense = fc.array(fc.record({ at: fc.integer({ min: 0, max: LENGTH - 1 }), value: fc.constantFrom(100, 100.2, 101, 140), group: fc.integer({ min: 0, max: 2 }), verdict: fc.constantFrom(0, 0, 0, 0, 0, 1, 2, 3) }), { minLength: 1, maxLength: 400 })
  .map((all) => all.map((each) => ({ ...each, value: each.verdict === 3 ? Number.NaN : each.value })))

describe('dots that are thinned', () => {
  it('stay as they are while there are few enough', () => fc.assert(fc.property(dense, (all) => {
    const dots = dotsFrom(all)
    expect(thinDots(dots, LENGTH, all.length)).toBe(dots)
  })))
  it('lose none that fails, warns or is slow, and keep their order', () => fc.assert(fc.property(dense, (all) => {
    const kept = plain(thinDots(dotsFrom(all), LENGTH, Math.ceil(all.length / 2)))
    const numbers = kept.map((each) => each.number)
    expect(numbers).toEqual([...numbers].sort((a, b) => a - b))
    expect(kept.filter((each) => each.verdict > 0).length).toBe(all.filter((each) => each.verdict > 0).length)
  })))
  it('keep one wherever there was one: only what lies on another is hidden', () => fc.assert(fc.property(dense, (all) => {
    const kept = plain(thinDots(dotsFrom(all), LENGTH, Math.ceil(all.length / 2)))
    for (const each of all.filter((one) => one.verdict === 0)) {
      // on a chart of 50 places at least, within two hundredths
      expect(kept.some((one) => one.group === each.group && Math.abs(one.at - each.at) <= LENGTH / 50 && Math.abs(Math.log(one.value) - Math.log(each.value)) < 0.021)).toBe(true)
    }
  })))
  it('keep whatever lies alone, however many lie together', () => {
    const crowd: Plain[] = Array.from({ length: 30_000 }, (_, index) => ({ at: index * 700, value: 100 + (index % 3) * 0.1, group: index % 2, verdict: 0 }))
    const alone: Plain[] = [{ at: 5_000_000, value: 900, group: 0, verdict: 0 }, { at: 12_000_000, value: 12, group: 1, verdict: 0 }, { at: 12_000_001, value: 100, group: 7, verdict: 0 }]
    const kept = plain(thinDots(dotsFrom([...crowd, ...alone]), LENGTH, 5000))
    expect(kept.length).toBeLessThanOrEqual(5000)
    expect(kept.length).toBeGreaterThan(1000)
    for (const each of alone) expect(kept.filter((one) => one.value === each.value && one.group === each.group).length).toBe(1)
  })
  it('are more than asked for where all of them stand out', () => {
    const failing = dotsFrom(Array.from({ length: 500 }, (_, at) => ({ at, value: Number.NaN, group: 0, verdict: 3 })))
    expect(thinDots(failing, LENGTH, 100).count).toBe(500)
  })
})

describe('dots as bytes', () => {
  it('come back as they were', () => fc.assert(fc.property(dense, (all) => {
    const bytes = encodeDots(dotsFrom(all))
    expect(plain(decodeDots(bytes.buffer))).toEqual(plain(dotsFrom(all)))
  })))
  it('are those of every try that has a time or failed, in the colours that were asked for', () => {
    const { tries } = madeWorld(41, 'server fails')
    const server = tries.columns.find((each) => each.dimension === 'server')!
    const dots = dotsOf(tries, server, [server.names[2]!, server.names[0]!], 'total', tries.at[0]!)
    expect(dots.count).toBe(tries.count)
    for (let index = 0; index < dots.count; index += 7) {
      expect(dots.at[index]).toBe(tries.at[index]! - tries.at[0]!)
      expect(Number.isNaN(dots.value[index]!)).toBe(tries.verdict[index] === 3)
      expect(dots.group[index]).toBe(({ 2: 0, 0: 1 } as Record<number, number>)[server.codes[index]!] ?? 255)
    }
    // a metric that was not measured leaves failures alone
    expect(plain(dotsOf(tries, server, [], 'greet', tries.at[0]!)).every((each) => each.verdict === 3)).toBe(true)
  })
})
