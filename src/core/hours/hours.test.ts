import fc from 'fast-check'
import { HOUR } from '../units'
import { formatHours, isWithinHours, nextHoursTurn, parseHours, type Hours } from './hours'

const hours = (...texts: string[]): Hours => ({ at: texts.map((text) => parseHours(text)!) })
const at = (text: string) => Date.parse(text)

describe('hours', () => {
  it.each(['mon-fri 06:00-22:00', 'daily 00:00-24:00', 'sat,sun 08:00-14:00', 'mon,wed,fri 09:30-17:45', 'sun 22:00-04:00'])('reads back %s', (text) => expect(formatHours(parseHours(text)!)).toBe(text))

  it.each(['', 'mon', 'mon 6-22', 'mon 06:00', 'monday 06:00-22:00', 'mon 25:00-26:00', 'mon 06:61-07:00', 'mon 06:00-06:00', 'mon-fri-sun 06:00-07:00'])('refuses %j', (text) => expect(parseHours(text)).toBeUndefined())

  it('count on the clock of their zone, through daylight saving', () => {
    const office = { ...hours('mon-fri 08:00-17:00'), zone: 'Europe/Oslo' }
    expect(isWithinHours(office, at('2026-07-01T06:30:00Z'), 'UTC')).toBe(true)
    expect(isWithinHours(office, at('2026-12-01T06:30:00Z'), 'UTC')).toBe(false)
    expect(isWithinHours(office, at('2026-12-01T07:30:00Z'), 'UTC')).toBe(true)
    expect(isWithinHours(office, at('2026-12-05T10:00:00Z'), 'UTC')).toBe(false)
  })

  it('reach over midnight into the next day', () => {
    const night = hours('fri 22:00-04:00')
    expect(['2026-11-20T21:59:00Z', '2026-11-20T22:00:00Z', '2026-11-21T03:59:00Z', '2026-11-21T04:00:00Z', '2026-11-20T02:00:00Z'].map((text) => isWithinHours(night, at(text), 'UTC'))).toEqual([false, true, true, false, false])
  })

  it('are always when there are none', () => expect(isWithinHours(undefined, 0, 'UTC')).toBe(true))

  it('turn next at the very minute they turn', () => {
    const given = hours('mon-fri 06:00-22:00')
    expect(nextHoursTurn(given, at('2026-11-23T05:12:30Z'), 'UTC')).toBe(at('2026-11-23T06:00:00Z'))
    expect(nextHoursTurn(given, at('2026-11-27T12:00:00Z'), 'UTC')).toBe(at('2026-11-27T22:00:00Z'))
    expect(nextHoursTurn(given, at('2026-11-27T23:00:00Z'), 'UTC')).toBe(at('2026-11-30T06:00:00Z'))
    expect(nextHoursTurn(hours('daily 00:00-24:00'), 0, 'UTC')).toBeUndefined()
    fc.assert(fc.property(fc.integer({ min: 0, max: 400 * 24 }), (hour) => {
      const now = at('2026-01-01T00:07:00Z') + hour * HOUR
      const turn = nextHoursTurn(given, now, 'Europe/Oslo')!
      expect(isWithinHours(given, turn, 'Europe/Oslo')).toBe(!isWithinHours(given, now, 'Europe/Oslo'))
      expect(isWithinHours(given, turn - 60_000, 'Europe/Oslo')).toBe(isWithinHours(given, now, 'Europe/Oslo'))
    }), { numRuns: 60 })
  })
})
