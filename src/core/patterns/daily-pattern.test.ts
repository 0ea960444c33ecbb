import { seededRandom } from '../seeded-random'
import { DAY, HOUR, MINUTE } from '../units'
import { dailyPattern, speakPattern } from './daily-pattern'

const zone = 'Europe/Oslo'
const first = Date.parse('2026-11-01T23:00:00Z')
const range = { from: first, to: first + 10 * DAY }
type Kind = 'fail' | 'slow'
const at = (day: number, minute: number, kind: Kind = 'slow') => ({ check: 1, location: 1 + (day % 3), kind, from: first + day * DAY + minute * MINUTE, to: first + day * DAY + (minute + 20) * MINUTE })

describe('a daily pattern', () => {
  it('is trouble that begins near the same time on enough days, on the clock of the zone', () => {
    const found = dailyPattern([0, 1, 2, 4, 5, 7, 8].map((day) => at(day, 9 * 60 + 15 + (day % 4))), range, zone)!
    expect(found).toMatchObject({ kind: 'slow', minute: 9 * 60 + 15, days: 7, of: 10 })
    expect(speakPattern(found)).toBe('Slow near 09:15 on 7 of 10 days')
  })
  it('is found over midnight, and over the edge of a quarter of an hour', () => {
    expect(dailyPattern([0, 2, 4, 6, 8].map((day) => at(day, day % 4 === 0 ? 3 : 24 * 60 - 4)), range, zone)).toMatchObject({ days: 5 })
    expect(dailyPattern([0, 1, 2, 3, 4].map((day) => at(day, 6 * 60 + (day % 2 === 0 ? 13 : 16), 'fail')), range, zone)).toMatchObject({ kind: 'fail', minute: 6 * 60 + 15, days: 5 })
  })
  it('counts a day once, however often it was troubled then', () => expect(dailyPattern([0, 0, 0, 1, 1, 1].map((day, index) => at(day, 600 + index)), range, zone)).toBeUndefined())
  it('is not what happened on two days of ten, nor what begins at any time', () => {
    expect(dailyPattern([1, 6].map((day) => at(day, 600)), range, zone)).toBeUndefined()
    const everyHour = Array.from({ length: 10 }, (_, day) => Array.from({ length: 48 }, (_each, half) => at(day, half * 30))).flat()
    expect(dailyPattern(everyHour, range, zone)).toBeUndefined()
  })
  it('is claimed of chance hardly ever', () => {
    const random = seededRandom(17)
    const claims = Array.from({ length: 200 }, () => dailyPattern(Array.from({ length: 12 }, () => at(Math.floor(10 * random()), Math.floor(1440 * random()))), range, zone)).filter((each) => each !== undefined)
    expect(claims.length).toBeLessThanOrEqual(6)
  })
  it('leaves out what begins outside the days that are looked at', () => expect(dailyPattern([-3, -2, -1, 0, 10, 11].map((day) => at(day, 600)), range, zone)).toBeUndefined())
  it('keeps to the clock when it is set back', () => {
    const begin = Date.parse('2026-10-20T22:00:00Z')
    const autumn = { from: begin, to: begin + 10 * DAY + HOUR }
    // 07:00 in Oslo: 05:00 UTC before the 25th of October, 06:00 after it
    const stretches = Array.from({ length: 8 }, (_, index) => { const day = Date.parse(`2026-10-${21 + index}T0${index < 4 ? 5 : 6}:00:00Z`); return { check: 1, location: 1, kind: 'fail' as const, from: day, to: day + HOUR } })
    expect(dailyPattern(stretches, autumn, zone)).toMatchObject({ minute: 7 * 60, days: 8 })
  })
})
