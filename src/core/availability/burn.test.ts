import fc from 'fast-check'
import { DAY, HOUR, MINUTE } from '../units'
import { speakLength } from '../definitions/duration'
import { burnRate, exhaustedIn, fastBurn, speakBurn } from './burn'
import type { StateSpan } from './availability'

const now = 100 * HOUR
const down = (from: number, to: number | undefined = undefined): StateSpan[] => [
  { state: 'up', from: 0, to: now - from }, { state: 'down', from: now - from, ...(to === undefined ? {} : { to: now - to }) }, ...(to === undefined ? [] : [{ state: 'up' as const, from: now - to }])
]
const up: StateSpan[] = [{ state: 'up', from: 0 }]

describe('the burn of an error budget', () => {
  it('is the bad share over the share that may be bad', () => {
    expect(burnRate({ up: 99, down: 1 }, 0.999)).toBeCloseTo(10)
    expect(burnRate({ up: 0, down: 0 }, 0.999)).toBeUndefined()
    expect(burnRate({ up: 1, down: 1 }, 1)).toBeUndefined()
  })
  it('is fast when a long and a short stretch agree', () => {
    // one minute of the last hour is 16.7 times 0.1 %
    expect(fastBurn([down(MINUTE)], 0.999, now)).toMatchObject({ over: HOUR, worst: 0 })
    expect(fastBurn([down(MINUTE)], 0.999, now)!.rate).toBeCloseTo(16.67, 1)
    expect(fastBurn([down(20 * MINUTE, 10 * MINUTE)], 0.999, now)).toMatchObject({ over: 6 * HOUR })
  })
  it('is over when the short stretch is clean, however bad the long one was', () => expect(fastBurn([down(5 * HOUR, 31 * MINUTE)], 0.999, now)).toBeUndefined())
  it('counts every check the same, and names the one that was down longest', () => {
    expect(fastBurn([up, up, down(5 * MINUTE), down(2 * MINUTE)], 0.999, now)).toMatchObject({ worst: 2 })
    expect(fastBurn([...Array.from({ length: 30 }, () => up), down(MINUTE)], 0.999, now)).toBeUndefined()
  })
  it('never claims a fast burn of what was never down', () => fc.assert(fc.property(fc.double({ min: 0.5, max: 0.99999, noNaN: true }), fc.integer({ min: 1, max: 5 }), (objective, count) => fastBurn(Array.from({ length: count }, () => up), objective, now) === undefined)))
  it('says when the rest is gone', () => {
    expect(exhaustedIn(0.5, 30 * DAY, 15)).toBe(DAY)
    expect(exhaustedIn(-1, 30 * DAY, 15)).toBe(0)
    expect(speakBurn({ rate: 16.7, over: HOUR }, '99.9%', 14 * HOUR, speakLength)).toBe('17 times faster than 99.9% allows, over the last 1 h; at this pace the rest is gone in 14 h')
    expect(speakBurn({ rate: 6.4, over: 6 * HOUR }, '99.9%', 0, speakLength)).toMatch(/^6\.4 times faster .* nothing of it is left$/)
  })
})
