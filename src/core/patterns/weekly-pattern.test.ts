import { DAY, HOUR, MINUTE } from '../units'
import { speakWeekly, weeklyPattern } from './weekly-pattern'

const monday = Date.parse('2026-10-19T00:00:00Z')
const range = { from: monday, to: monday + 35 * DAY }
const at = (days: number[], hour: number) => days.map((day, index) => ({ check: 1, location: 1, kind: 'fail' as const, from: monday + day * DAY + hour * HOUR + index * 3 * MINUTE, to: monday + day * DAY + (hour + 1) * HOUR }))

describe('a weekly pattern', () => {
  it('is trouble that comes back at the same time of one weekday', () => expect(speakWeekly(weeklyPattern(at([1, 8, 15, 29], 4), range, 'UTC')!)).toBe('Failing on Tuesdays near 04:00, 4 of 5 weeks'))
  it('is not what happens every day', () => expect(weeklyPattern(at(Array.from({ length: 35 }, (_, day) => day), 4), range, 'UTC')).toBeUndefined())
  it('is not what happened twice', () => expect(weeklyPattern(at([1, 8], 4), range, 'UTC')).toBeUndefined())
})
