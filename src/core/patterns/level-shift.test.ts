import { seededRandom } from '../seeded-random'
import { DAY } from '../units'
import { levelShift, speakShift } from './level-shift'

const series = (length: number, value: (day: number) => number) => Array.from({ length }, (_, day) => ({ at: day * DAY, value: value(day) }))

describe('a change of level', () => {
  it('is found on the day it came', () => {
    const random = seededRandom(8)
    for (const day of [8, 17, 28]) {
      const found = levelShift(series(35, (each) => (each < day ? 300 : 380) * (0.97 + 0.06 * random())))!
      expect(Math.abs(found.began / DAY - day)).toBeLessThanOrEqual(1)
      expect(found.shape).toBe('sudden')
    }
  })
  it('is told apart from creeping', () => {
    const random = seededRandom(3)
    const found = levelShift(series(35, (day) => (300 + 4 * day) * (0.98 + 0.04 * random())))!
    expect(found.shape).toBe('creeping')
    expect(speakShift(found, (at) => `day ${at / DAY}`, (value) => `${Math.round(value)} ms`)).toMatch(/^creeping up, from \d+ ms to \d+ ms/)
  })
  it('is claimed of noise hardly ever, and not of what is too short or too small', () => {
    const random = seededRandom(12)
    const claims = Array.from({ length: 200 }, () => levelShift(series(35, () => 300 * (0.7 + 0.6 * random())))).filter((each) => each !== undefined)
    expect(claims.length).toBeLessThanOrEqual(4)
    expect(levelShift(series(7, (day) => 300 + 100 * day))).toBeUndefined()
    expect(levelShift(series(35, (day) => (day < 20 ? 300 : 309)))).toBeUndefined()
  })
})
