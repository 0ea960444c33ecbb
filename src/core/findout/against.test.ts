import fc from 'fast-check'
import { DAY, HOUR, MINUTE } from '../units'
import { sheetsOf, spansAround, usualSpans } from './against'
import { SHEET } from './sheet'

const at = (text: string) => Date.parse(text)

describe('what a stretch is compared with', () => {
  it('is the same hours of the days before, by the clock of the zone', () => {
    const spans = usualSpans({ from: at('2026-10-27T08:00:00Z'), to: at('2026-10-27T09:30:00Z') }, 'Europe/Oslo')
    expect(spans).toHaveLength(14)
    // the clock went back on the 25th: nine in the morning was an hour earlier before
    expect(spans.at(-1)).toEqual({ from: at('2026-10-26T08:00:00Z'), to: at('2026-10-26T09:30:00Z') })
    expect(spans.at(-3)).toEqual({ from: at('2026-10-24T07:00:00Z'), to: at('2026-10-24T08:30:00Z') })
  })
  it('is the same weekdays of the weeks before for more than a day', () => {
    expect(usualSpans({ from: 30 * DAY, to: 33 * DAY }, 'UTC').map((each) => each.from / DAY)).toEqual([2, 9, 16, 23])
    expect(usualSpans({ from: 100 * DAY, to: 110 * DAY }, 'UTC').map((each) => each.from / DAY)).toEqual([44, 58, 72, 86])
  })
  it('never overlaps the stretch', () => fc.assert(fc.property(fc.integer({ min: 20_000, max: 21_000 }), fc.integer({ min: 1, max: 60 * 24 * 20 }), (day, minutes) => {
    const stretch = { from: day * DAY, to: day * DAY + minutes * MINUTE }
    for (const each of usualSpans(stretch, 'America/Santiago')) expect(each.to).toBeLessThanOrEqual(stretch.from)
  })))
  it('is what lies around it, as far as the question reaches', () => {
    expect(spansAround({ from: 10 * HOUR, to: 11 * HOUR }, { from: 0, to: 11.5 * HOUR }, 6 * HOUR)).toEqual([{ from: 4 * HOUR, to: 10 * HOUR }, { from: 11 * HOUR, to: 11.5 * HOUR }])
    expect(spansAround({ from: 0, to: HOUR }, { from: 0, to: HOUR }, HOUR)).toEqual([])
  })
  it('is whole where the question went on with the clock and left the stretch behind', () => {
    const stretch = { from: 10 * HOUR, to: 11 * HOUR }
    expect(spansAround(stretch, { from: 10.9 * HOUR, to: 34.9 * HOUR }, 6 * HOUR)).toEqual([{ from: 4 * HOUR, to: 10 * HOUR }, { from: 11 * HOUR, to: 12 * HOUR }])
    expect(spansAround(stretch, { from: 20 * HOUR, to: 44 * HOUR }, 6 * HOUR)).toEqual([{ from: 4 * HOUR, to: 10 * HOUR }, { from: 11 * HOUR, to: 12 * HOUR }])
  })
  it('takes a share of all ten minutes by chance, the same ones every time', () => {
    const all = sheetsOf([{ from: 0, to: 35 * DAY }])
    expect(all).toHaveLength(35 * 144)
    expect(sheetsOf([{ from: HOUR + 1, to: HOUR + SHEET + 1 }])).toEqual([HOUR, HOUR + SHEET])
    const some = sheetsOf([{ from: 0, to: 35 * DAY }], 0.2)
    expect(some).toEqual(sheetsOf([{ from: 0, to: 35 * DAY }], 0.2))
    expect(some).toHaveLength(Math.ceil(0.2 * all.length))
    // however small the share, there is something to look at
    expect(sheetsOf([{ from: HOUR, to: 2 * HOUR }], 0.0001)).toHaveLength(1)
    // every hour of the day is among them as often as any other
    const hours = Array.from({ length: 24 }, (_, hour) => some.filter((each) => Math.floor((each % DAY) / HOUR) === hour).length)
    expect(Math.min(...hours)).toBeGreaterThan(20)
  })
})
