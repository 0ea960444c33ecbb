import fc from 'fast-check'
import { STATES } from '../states/check-state'
import { DAY, HOUR, MINUTE } from '../units'
import { addAvailability, availability, budgetLeft, outageLength, speakAvailability, type StateSpan } from './availability'

/** Spans without a gap or an overlap, from some time before a range to some time after it. */
const timeline = fc.array(fc.record({ state: fc.constantFrom(...STATES), length: fc.integer({ min: 1, max: 300 }) }), { minLength: 1, maxLength: 30 }).map((pieces) => {
  let at = -100 * MINUTE
  return pieces.map(({ state, length }): StateSpan => ({ state, from: at, to: (at += length * MINUTE) }))
})
const range = { from: 0, to: DAY }

describe('the availability of a check', () => {
  it('counts slow, warning and suspect time as up, and leaves out what counts against nobody', () => {
    const spans: StateSpan[] = (['up', 'slow', 'warning', 'suspect', 'down', 'nodata', 'planned', 'paused'] as const).map((state, hour) => ({ state, from: hour * HOUR, to: (hour + 1) * HOUR }))
    expect(availability(spans, range)).toEqual({ up: 4 * HOUR, down: HOUR, unknown: HOUR, excluded: 2 * HOUR, share: 0.8, lowest: 4 / 6, highest: 5 / 6, outages: 1, longest: HOUR })
  })
  it('sees an outage that lasts, and only the part of it within the range', () => {
    expect(availability([{ state: 'up', from: -HOUR, to: 23 * HOUR }, { state: 'down', from: 23 * HOUR }], range)).toMatchObject({ down: HOUR, outages: 1, longest: HOUR })
    expect(availability([{ state: 'down', from: -5 * HOUR, to: HOUR }], range)).toMatchObject({ down: HOUR, outages: 1, share: 0 })
    expect(availability([{ state: 'down', from: DAY, to: 2 * DAY }], range)).toMatchObject({ down: 0, outages: 0 })
  })
  it('says nothing of a time nothing is known of', () => {
    expect(availability([], range)).not.toHaveProperty('share')
    expect(availability([{ state: 'nodata', from: 0, to: DAY }], range)).toMatchObject({ lowest: 0, highest: 1, unknown: DAY })
    expect(availability([{ state: 'paused', from: 0, to: DAY }], range)).not.toHaveProperty('lowest')
  })
  it('adds up to the part of the range that is covered, with the share between its bounds', () => fc.assert(fc.property(timeline, (spans) => {
    const found = availability(spans, range)
    const covered = spans.reduce((sum, span) => sum + Math.max(0, Math.min(span.to!, range.to) - Math.max(span.from, range.from)), 0)
    expect(found.up + found.down + found.unknown + found.excluded).toBe(covered)
    expect(found.longest).toBeLessThanOrEqual(found.down)
    if (found.share !== undefined) {
      expect(found.share).toBeGreaterThanOrEqual(found.lowest! - 1e-12)
      expect(found.share).toBeLessThanOrEqual(found.highest! + 1e-12)
    }
  })))
  it('of two halves of a range is that of the whole', () => fc.assert(fc.property(timeline, fc.integer({ min: 1, max: 1439 }), (spans, minute) => {
    const at = minute * MINUTE
    const [whole, halves] = [availability(spans, range), addAvailability([availability(spans, { from: 0, to: at }), availability(spans, { from: at, to: DAY })])]
    for (const part of ['up', 'down', 'unknown', 'excluded'] as const) expect(halves[part]).toBe(whole[part])
    expect(halves.share ?? -1).toBeCloseTo(whole.share ?? -1, 12)
    // an outage over the middle is seen in both
    expect(halves.outages - whole.outages).toBeGreaterThanOrEqual(0)
    expect(halves.outages - whole.outages).toBeLessThanOrEqual(1)
  })))
  it('of several checks counts every minute the same', () => {
    const [good, bad] = [availability([{ state: 'up', from: 0, to: DAY }], range), availability([{ state: 'down', from: 0, to: HOUR }, { state: 'up', from: HOUR, to: 3 * HOUR }], range)]
    expect(addAvailability([good, bad])).toMatchObject({ up: 26 * HOUR, down: HOUR, share: 26 / 27, outages: 1, longest: HOUR })
    expect(addAvailability([])).toMatchObject({ up: 0, outages: 0, longest: 0 })
  })
})

describe('the length of an outage', () => {
  it('lies between what was seen of it and what it may have been', () => {
    expect(outageLength({ lastPass: 0, firstFail: MINUTE }, { lastFail: 10 * MINUTE, firstPass: 11 * MINUTE })).toEqual({ least: 9 * MINUTE, most: 11 * MINUTE })
    expect(outageLength({ firstFail: MINUTE }, { firstPass: 3 * MINUTE })).toEqual({ least: 2 * MINUTE, most: 2 * MINUTE })
  })
  it('is never less than nothing, nor more at least than at most', () => fc.assert(fc.property(fc.nat(1000), fc.nat(1000), fc.nat(1000), fc.nat(1000), (pass, fail, last, end) => {
    const [firstFail, lastFail, firstPass] = [pass + fail, pass + fail + last, pass + fail + last + end]
    const { least, most } = outageLength({ lastPass: pass, firstFail }, { lastFail, firstPass })
    expect(least).toBe(last)
    expect(most).toBe(firstPass - pass)
    expect(most).toBeGreaterThanOrEqual(least)
  })))
})

describe('an error budget', () => {
  const seen = (up: number, down: number) => ({ up, down, unknown: 0, excluded: 0, outages: 0, longest: 0 })
  it('is whole at first, gone at the objective and negative beyond', () => {
    expect(budgetLeft(seen(1000, 0), 0.999)).toBe(1)
    expect(budgetLeft(seen(999, 1), 0.999)).toBeCloseTo(0, 9)
    expect(budgetLeft(seen(998, 2), 0.999)).toBeCloseTo(-1, 9)
    expect([budgetLeft(seen(0, 0), 0.999), budgetLeft(seen(0, 0), 1)]).toEqual([undefined, undefined])
    expect([budgetLeft(seen(10, 0), 1), budgetLeft(seen(9, 1), 1)]).toEqual([1, -1])
  })
})

describe('an availability in words', () => {
  it.each([[1, '100.00'], [0.99999, '99.99'], [0.9994, '99.94'], [0.962, '96.20'], [0, '0.00'], [0.5, '50.00']])('%d is %s', (share, said) => expect(speakAvailability(share)).toBe(said))
  it('is never said to be more than it is', () => fc.assert(fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (share) => expect(Number(speakAvailability(share))).toBeLessThanOrEqual(share * 100 + 1e-6))))
})
