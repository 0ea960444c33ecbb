import ICAL from 'ical.js'
import { shifts, type Rota } from './rota'
import { DAY, type Instant } from '../units'

/** How far back and ahead a calendar of shifts reaches. */
const RANGE = { before: 14 * DAY, after: 90 * DAY }

/**
 * Shifts as iCalendar (RFC 5545): of one rota with a person in each title, or of one person over all rotas. Times are in
 * UTC, so every calendar shows them on its own clock; the identity of a shift is its rota and beginning, so that a
 * calendar that asks again replaces it.
 */
export function writeShifts(rotas: readonly Rota[], names: ReadonlyMap<string, string>, now: Instant, person?: string): string {
  const calendar = new ICAL.Component('vcalendar')
  calendar.addPropertyWithValue('version', '2.0')
  calendar.addPropertyWithValue('prodid', '-//Hemeron//Rotas//EN')
  for (const rota of rotas) {
    for (const shift of shifts(rota, { from: now - RANGE.before, to: now + RANGE.after })) {
      if (shift.person === undefined || (person !== undefined && shift.person !== person)) continue
      const event = new ICAL.Component('vevent')
      const name = names.get(shift.person) ?? shift.person
      event.addPropertyWithValue('uid', `${rota.key}-${shift.from}@hemeron`)
      event.addPropertyWithValue('dtstamp', ICAL.Time.fromJSDate(new Date(Math.floor(now / 1000) * 1000), true))
      event.addPropertyWithValue('dtstart', ICAL.Time.fromJSDate(new Date(shift.from), true))
      event.addPropertyWithValue('dtend', ICAL.Time.fromJSDate(new Date(shift.to), true))
      event.addPropertyWithValue('summary', `${person === undefined ? `${name}, ` : ''}${rota.name}${shift.isCover ? ', standing in' : ''}`)
      calendar.addSubcomponent(event)
    }
  }
  return `${calendar.toString()}\r\n`
}
