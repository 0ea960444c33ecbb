import { encodeValues } from '../sketches/sketch'
import { DAY, HOUR } from '../units'
import { usualLimit, usualTimes } from './judge-usual'

const MONDAY = Date.parse('2026-11-16T00:00:00Z')
const window = (at: number, milliseconds: number[]) => ({ at, sketch: encodeValues(milliseconds.map((each) => each * 1000)) })
const times = (middle: number) => Array.from({ length: 41 }, (_, index) => middle - 20 + index)

describe('what is usual', () => {
  it('is the median and a robust spread of that hour of the week', () => {
    const weeks = [0, 1, 2, 3].map((week) => window(MONDAY + 9 * HOUR - week * 7 * DAY, [...times(400), 9000]))
    const usual = usualTimes(weeks, 'UTC')[24 + 9]!
    expect(usual.median).toBeCloseTo(400, -1)
    expect(usual.spread).toBeGreaterThan(10)
    expect(usual.spread).toBeLessThan(25)
  })

  it('takes in the hours beside it while its own weeks are few, and says nothing with fewer than three windows', () => {
    const few = [window(MONDAY + 9 * HOUR, times(400)), window(MONDAY + 10 * HOUR, times(420))]
    expect(usualTimes(few, 'UTC').every((each) => each === null)).toBe(true)
    const more = usualTimes([...few, window(MONDAY + 8 * HOUR, times(380))], 'UTC')
    expect(more[24 + 9]!.median).toBeCloseTo(400, -1)
    expect(more[24 + 20]).toBeNull()
  })

  it('follows the clock of the zone', () => {
    const weeks = [0, 1, 2].map((week) => window(MONDAY + 9 * HOUR - week * 7 * DAY, times(400)))
    const usual = usualTimes(weeks, 'Asia/Tokyo')
    expect([usual[24 + 18], usual[24 + 9]].map((each) => each === null)).toEqual([false, true])
  })

  it('gives a limit so many spreads above, and none while it is not known', () => {
    const usual = usualTimes([0, 1, 2].map((week) => window(MONDAY + 9 * HOUR - week * 7 * DAY, times(400))), 'UTC')
    const limit = usualLimit(usual, MONDAY + 7 * DAY + 9.5 * HOUR, 'UTC', 6)!
    expect(limit).toBeCloseTo(usual[33]!.median + 6 * usual[33]!.spread)
    expect(usualLimit(usual, MONDAY + 3 * HOUR, 'UTC', 6)).toBeUndefined()
    expect(usualLimit(undefined, MONDAY, 'UTC', 6)).toBeUndefined()
  })

  it('is never narrower than three hundredths of the median', () => {
    const steady = usualTimes([0, 1, 2].map((week) => window(MONDAY + 9 * HOUR - week * 7 * DAY, Array.from({ length: 50 }, () => 300))), 'UTC')
    expect(steady[33]!.spread).toBeGreaterThanOrEqual(0.029 * 300)
  })
})
