import fc from 'fast-check'
import { HOUR, MINUTE, SECOND } from '../units'
import { beatsOf, nextRun, nextRunAnywhere, periodOf, phaseOf, requestsAnHour, scatter } from './next-run'
import { spread } from './spread'

const beat = fc.record({ check: fc.integer({ min: 1, max: 5000 }), location: fc.integer({ min: 1, max: 60 }), every: fc.constantFrom(10 * SECOND, MINUTE, 5 * MINUTE, HOUR) })
const moment = fc.integer({ min: 1_700_000_000_000, max: 1_900_000_000_000 })

describe('the next run', () => {
  it('comes after the moment, within a period, and is the same from anywhere before it', () => fc.assert(fc.property(beat, moment, fc.nat(), (each, now, number) => {
    const next = nextRun(each, now)
    expect(next).toBeGreaterThan(now)
    expect(next - now).toBeLessThanOrEqual(periodOf(each))
    expect(nextRun(each, now + (number % (next - now)))).toBe(next)
    expect(nextRun(each, next)).toBe(next + periodOf(each))
  })))
  it('is at its own place of the period, from nothing to less than the whole', () => fc.assert(fc.property(beat, moment, (each, now) => {
    expect(phaseOf(each)).toBeGreaterThanOrEqual(0)
    expect(phaseOf(each)).toBeLessThan(periodOf(each))
    expect(nextRun(each, now) % periodOf(each)).toBe(phaseOf(each))
  })))
  it('of locations in turn goes round them one cadence apart', () => fc.assert(fc.property(fc.integer({ min: 1, max: 5000 }), fc.integer({ min: 1, max: 12 }), moment, (check, count, now) => {
    const locations = Array.from({ length: count }, (_, index) => index + 1)
    const beats = beatsOf(check, locations, MINUTE, 'in-turn')
    const runs: { at: number; location: number }[] = []
    for (let at = now; runs.length < 2 * count;) {
      const next = nextRunAnywhere(beats, at)!
      runs.push(next)
      at = next.at
    }
    for (let index = 1; index < runs.length; index += 1) expect(runs[index]!.at - runs[index - 1]!.at).toBe(MINUTE)
    expect(runs.slice(count).map((each) => each.location)).toEqual(runs.slice(0, count).map((each) => each.location))
    expect(new Set(runs.map((each) => each.location)).size).toBe(count)
  })))
  it('of locations together comes to each in every period', () => {
    const beats = beatsOf(7, [1, 2, 3], MINUTE, 'together')
    expect(new Set(beats.map((each) => phaseOf(each))).size).toBe(3)
    expect(nextRunAnywhere(beats, 0)!.at).toBe(Math.min(...beats.map((each) => nextRun(each, 0))))
    expect(nextRunAnywhere([], 0)).toBeUndefined()
  })
  it('spreads many checks evenly over the period', () => {
    const counts = new Array<number>(10).fill(0)
    for (let check = 1; check <= 500; check += 1) for (let location = 1; location <= 12; location += 1) counts[Math.floor(phaseOf({ check, location, every: MINUTE }) / (6 * SECOND))]! += 1
    // 600 in each tenth, give or take
    for (const count of counts) expect(Math.abs(count - 600)).toBeLessThan(120)
  })
})

describe('requests an hour', () => {
  it.each([[MINUTE, 12, 1, 'together', 720], [MINUTE, 12, 1, 'in-turn', 60], [10 * SECOND, 3, 4, 'together', 4320], [24 * HOUR, 12, 1, 'together', 1], [MINUTE, 0, 1, 'in-turn', 0]] as const)('every %d ms from %d places with %d each, %s, are %d', (every, locations, requests, turns, expected) => expect(requestsAnHour(every, locations, requests, turns)).toBe(expected))
})

describe('mixing bits', () => {
  it('gives whole numbers of 32 bits, different for neighbours', () => fc.assert(fc.property(fc.nat(4_000_000_000), (number) => {
    const found = scatter(number)
    expect(Number.isInteger(found) && found >= 0 && found < 2 ** 32).toBe(true)
    expect(scatter(number + 1)).not.toBe(found)
  })))
  it('turns about half of the bits when one is turned', () => {
    const bits = (number: number) => number.toString(2).replaceAll('0', '').length
    const turned = Array.from({ length: 2000 }, (_, number) => bits((scatter(number) ^ scatter(number ^ 1)) >>> 0))
    expect(Math.abs(turned.reduce((sum, each) => sum + each, 0) / turned.length - 16)).toBeLessThan(1)
  })
})

describe('the order of locations', () => {
  const places = ['NO', 'NO', 'NO', 'DK', 'CL', 'CL', 'CL', 'CL', 'PT'].map((country, index) => ({ id: index + 1, country, network: `N${index}` }))
  it('has every country once before any a second time, each location once', () => fc.assert(fc.property(fc.integer({ min: 1, max: 10_000 }), (check) => {
    const order = spread(places as never, check) as unknown as typeof places
    expect(new Set(order.slice(0, 4).map((each) => each.country)).size).toBe(4)
    expect(order.map((each) => each.id).sort((a, b) => a - b)).toEqual(places.map((each) => each.id))
    // no country is asked a third time before every other one that has two was asked twice
    const seen = new Map<string, number>()
    for (const each of order) {
      const turn = (seen.get(each.country) ?? 0) + 1
      seen.set(each.country, turn)
      for (const country of new Set(places.map((place) => place.country))) if (places.filter((place) => place.country === country).length >= turn) expect(seen.get(country) ?? 0).toBeGreaterThanOrEqual(turn - 1)
    }
  })))
  it('is another one for another check, and always the same for the same', () => {
    const ids = (check: number) => (spread(places as never, check) as unknown as typeof places).map((each) => each.id).join()
    expect(ids(3)).toBe(ids(3))
    expect(new Set(Array.from({ length: 40 }, (_, check) => ids(check))).size).toBeGreaterThan(20)
  })
})
