import fc from 'fast-check'
import { HOUR, MINUTE } from '../units'
import { isWorking, quietUntil, readPreferences } from './preferences'

const zone = 'Europe/Oslo'
const at = (text: string) => Date.parse(text)

describe('quiet hours', () => {
  const night = { quiet: ['daily 22:00-06:30'] }
  it('last until they end, over midnight, on the clock of the person', () => {
    expect(quietUntil(night, at('2026-11-25T22:15:00Z'), zone)).toBe(at('2026-11-26T05:30:00Z'))
    expect(quietUntil(night, at('2026-11-25T12:00:00Z'), zone)).toBeUndefined()
    expect(quietUntil({ ...night, zone: 'America/Santiago' }, at('2026-11-25T22:15:00Z'), zone)).toBeUndefined()
    expect(quietUntil({ ...night, zone: 'America/Santiago' }, at('2026-11-26T03:00:00Z'), zone)).toBe(at('2026-11-26T09:30:00Z'))
    expect([quietUntil({}, at('2026-11-25T22:15:00Z'), zone), quietUntil({ quiet: [] }, at('2026-11-25T22:15:00Z'), zone)]).toEqual([undefined, undefined])
  })
  it('end in the future, and a person is disturbed right after', () => fc.assert(fc.property(fc.integer({ min: at('2026-01-01T00:00:00Z') / MINUTE, max: at('2027-01-01T00:00:00Z') / MINUTE }), (minute) => {
    const now = minute * MINUTE
    const until = quietUntil(night, now, zone)
    if (until === undefined) return
    expect(until).toBeGreaterThan(now)
    // eight hours and a half, or an hour more where the clock is set back on the way
    expect(until - now).toBeLessThanOrEqual(9.5 * HOUR)
    expect(quietUntil(night, until, zone)).toBeUndefined()
  })))
})

describe('working hours', () => {
  it('are always for someone who has said none', () => expect([isWorking({}, at('2026-11-28T03:00:00Z'), zone), isWorking({ working: [] }, at('2026-11-28T03:00:00Z'), zone)]).toEqual([true, true]))
  it('are several stretches, on the clock of the person', () => {
    const working = ['mon-fri 08:00-16:00', 'sat 10:00-12:00']
    expect([
      isWorking({ working }, at('2026-11-25T07:00:00Z'), zone), isWorking({ working }, at('2026-11-25T15:00:00Z'), zone), isWorking({ working }, at('2026-11-28T09:30:00Z'), zone), isWorking({ working }, at('2026-11-29T09:30:00Z'), zone), isWorking({ working, zone: 'America/Santiago' }, at('2026-11-25T15:00:00Z'), zone)
    ]).toEqual([true, false, true, false, true])
  })
})

describe('preferences as they are written', () => {
  it('are read with one stretch or several', () => expect(readPreferences({ quiet: 'daily 22:00-06:00', working: ['mon-fri 08:00-16:00'], by: { down: ['push'] }, takeByLink: true })).toEqual({ preferences: { quiet: ['daily 22:00-06:00'], working: ['mon-fri 08:00-16:00'], by: { down: ['push'] }, takeByLink: true } }))
  it.each([[{ zone: 'Mars/Base' }, 'zone'], [{ quiet: 'at night' }, 'quiet'], [{ by: { down: ['pigeon'] } }, 'by.down'], [{ by: { sometimes: [] } }, 'by'], [{ takeByLink: 'yes' }, 'takeByLink'], [{ unknown: 1 }, '']])('%j are refused, with the place', (value, path) => {
    const read = readPreferences(value)
    expect('problems' in read && read.problems[0]!.path.startsWith(path)).toBe(true)
  })
})
