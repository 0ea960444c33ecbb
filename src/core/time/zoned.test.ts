import fc from 'fast-check'
import { DAY, HOUR, MINUTE } from '../units'
import { dayStart, dayStartFrom, fromLocal, hourOfWeek, isZone, minuteOfDay, readLocal, speakDay, speakMoment, speakSpan, toLocal, writeLocal } from './zoned'

const zone = 'Europe/Oslo'
const at = (text: string) => Date.parse(text)
const now = at('2026-11-25T13:00:00Z')
const zones = fc.constantFrom('Europe/Oslo', 'America/Santiago', 'Asia/Kathmandu', 'Australia/Lord_Howe', 'UTC')
const instant = fc.integer({ min: at('2024-01-01T00:00:00Z') / MINUTE, max: at('2028-01-01T00:00:00Z') / MINUTE }).map((minutes) => minutes * MINUTE)

describe('a moment in words', () => {
  it.each([
    ['2026-11-25T11:05:00Z', '12:05'], ['2026-11-24T23:30:00Z', '00:30'], ['2026-11-24T22:30:00Z', 'Tue 24, 23:30'], ['2026-11-19T12:00:00Z', 'Thu 19, 13:00'], ['2026-11-02T12:00:00Z', '2 Nov, 13:00']
  ])('%s is %s', (moment, said) => expect(speakMoment(at(moment), zone, now)).toBe(said))
  it.each([
    ['2026-11-25T08:14:00Z', '2026-11-25T08:39:00Z', '09:14 to 09:39'], ['2026-11-23T23:00:00Z', '2026-11-24T23:30:00Z', 'Tue 24, 00:00 to today, 00:30'], ['2026-11-25T20:00:00Z', '2026-11-26T01:00:00Z', 'today, 21:00 to Thu 26, 02:00'], ['2026-11-23T08:00:00Z', '2026-11-23T11:00:00Z', 'Mon 23, 09:00 to 12:00'],
    // the end of a day belongs to it
    ['2026-11-24T22:00:00Z', '2026-11-24T23:00:00Z', 'Tue 24, 23:00 to 00:00']
  ])('%s to %s is %s', (from, to, said) => expect(speakSpan({ from: at(from), to: at(to) }, zone, now)).toBe(said))
  it('names the day with its number', () => expect(speakDay(now, zone)).toBe('Wed 25'))
})

describe('the clock of a zone', () => {
  it('leads back to the instant, or, of an hour that comes twice, to the first of both', () => fc.assert(fc.property(instant, zones, (moment, each) => {
    const back = fromLocal(toLocal(moment, each), each)
    expect(toLocal(back, each)).toBe(toLocal(moment, each))
    expect(back).toBeLessThanOrEqual(moment)
    expect(moment - back).toBeLessThanOrEqual(HOUR)
  })))
  it('begins each day at its midnight, whatever the length of the day', () => fc.assert(fc.property(instant, zones, (moment, each) => {
    const [begin, next] = [dayStart(moment, each), dayStartFrom(moment, 1, each)]
    expect(begin).toBeLessThanOrEqual(moment)
    expect(next).toBeGreaterThan(moment)
    expect(Math.abs(next - begin - DAY)).toBeLessThanOrEqual(HOUR)
    expect(dayStart(begin, each)).toBe(begin)
  })))
  it('counts hours of the week and minutes of the day', () => fc.assert(fc.property(instant, zones, (moment, each) => {
    expect(hourOfWeek(moment, each)).toBeGreaterThanOrEqual(0)
    expect(hourOfWeek(moment, each)).toBeLessThan(168)
    expect(Math.floor(minuteOfDay(moment, each) / 60)).toBe(hourOfWeek(moment, each) % 24)
    expect(minuteOfDay(moment, each) % 60).toBe((toLocal(moment, each) / MINUTE) % 60)
  })))
  it('is read and written in the same form', () => fc.assert(fc.property(instant, (moment) => expect(readLocal(writeLocal(moment))).toBe(moment))))
  it('knows zones by their names', () => expect([isZone('Europe/Oslo'), isZone('Mars/Base'), isZone('')]).toEqual([true, false, false]))
  it.each(['2026-11-24', '2026-11-24 10:00', '24.11.2026', '2026-13-40T10:00', ''])('does not take %s for a time', (text) => expect(readLocal(text)).toBeUndefined())
})
