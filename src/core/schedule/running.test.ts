import { parseHours } from '../hours/hours'
import { cadence, restReason } from './running'

const now = Date.parse('2026-11-23T05:00:00Z')
const free = { paused: false, window: false, zone: 'UTC', now }
const hours = { at: [parseHours('mon-fri 06:00-22:00')!] }

describe('what keeps a check from running', () => {
  it('is a person, a closed window, or the clock, and nothing otherwise', () => {
    expect(restReason({}, free)).toBeUndefined()
    expect(restReason({ hours, window: { only: true } }, { ...free, paused: true })).toBe('paused by a person')
    expect(restReason({ window: { only: true } }, free)).toBe('no release window is open')
    expect(restReason({ window: { only: true } }, { ...free, window: true })).toBeUndefined()
    expect(restReason({ window: { only: false, every: 10_000 } }, free)).toBeUndefined()
    expect(restReason({ hours }, free)).toBe('outside its hours, until 06:00')
    expect(restReason({ hours }, { ...free, now: now + 2 * 3_600_000 })).toBeUndefined()
    expect(restReason({ hours: { ...hours, zone: 'Europe/Oslo' } }, free)).toBeUndefined()
  })

  it('and how often it runs follows an open window where the check says so', () => {
    const check = { every: 300_000, window: { only: false, every: 10_000 } }
    expect([cadence(check, false), cadence(check, true), cadence({ every: 300_000 }, true), cadence({ every: 300_000, window: { only: true } }, true)]).toEqual([300_000, 10_000, 300_000, 300_000])
  })
})
