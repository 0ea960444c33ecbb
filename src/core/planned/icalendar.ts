import ICAL from 'ical.js'
import { keyFromName, freeKey } from '../definitions/key'
import { formatDuration } from '../definitions/duration'
import type { Problem } from '../problems'
import { isZone, readLocal, toLocal, writeLocal } from '../time/zoned'
import { DAY, HOUR, MINUTE, type Instant } from '../units'
import type { Planned, PlannedDocument } from './planned'
import { beginsAt } from './planned'

const YEARS = 5

/** Writes planned work as iCalendar (RFC 5545), with the changes of each zone for the years to come. */
export function writeCalendar(all: Planned[], now: Instant): string {
  const calendar = new ICAL.Component('vcalendar')
  calendar.addPropertyWithValue('prodid', '-//Hemeron//Planned work//EN')
  calendar.addPropertyWithValue('version', '2.0')
  for (const zone of new Set(all.map((planned) => planned.zone).filter((each) => each !== 'UTC'))) calendar.addSubcomponent(zoneOf(zone, now))
  for (const planned of all) calendar.addSubcomponent(eventOf(planned, now))
  return `${calendar.toString()}\r\n`
}

function eventOf(planned: Planned, now: Instant): ICAL.Component {
  const event = new ICAL.Component('vevent')
  event.addPropertyWithValue('uid', `${planned.key}@hemeron`)
  event.addPropertyWithValue('dtstamp', ICAL.Time.fromJSDate(new Date(Math.floor(now / 1000) * 1000), true))
  event.addPropertyWithValue('summary', planned.title)
  if (planned.public !== undefined) event.addPropertyWithValue('description', planned.public)
  const local = (text: string) => {
    const time = ICAL.Time.fromDateTimeString(`${text.slice(0, 16)}:00${planned.zone === 'UTC' ? 'Z' : ''}`)
    return time
  }
  const zoned = (name: string, text: string) => {
    const property = event.addPropertyWithValue(name, local(text))
    if (planned.zone !== 'UTC') property.setParameter('tzid', planned.zone)
  }
  zoned('dtstart', planned.from)
  event.addPropertyWithValue('duration', ICAL.Duration.fromSeconds(planned.lasts / 1000))
  if (planned.repeats !== undefined) event.addPropertyWithValue('rrule', ICAL.Recur.fromString(planned.repeats))
  for (const each of planned.except) zoned('exdate', each)
  return event
}

/** A zone with each of its changes from now on as an observance of its own (RFC 5545, section 3.6.5). */
function zoneOf(zone: string, now: Instant): ICAL.Component {
  const component = new ICAL.Component('vtimezone')
  component.addPropertyWithValue('tzid', zone)
  const offset = (at: Instant) => toLocal(at, zone) - at
  const usual = Math.min(offset(now), offset(now + 182 * DAY))
  const observe = (at: Instant, before: number) => {
    const part = new ICAL.Component(offset(at) > usual ? 'daylight' : 'standard')
    part.addPropertyWithValue('dtstart', ICAL.Time.fromDateTimeString(`${writeLocal(at + before)}:00`))
    part.addPropertyWithValue('tzoffsetfrom', ICAL.UtcOffset.fromSeconds(before / 1000))
    part.addPropertyWithValue('tzoffsetto', ICAL.UtcOffset.fromSeconds(offset(at) / 1000))
    component.addSubcomponent(part)
  }
  const begin = Math.floor((now - 366 * DAY) / DAY) * DAY
  observe(begin, offset(begin))
  for (let day = begin; day < now + YEARS * 366 * DAY; day += DAY) {
    if (offset(day) === offset(day + DAY)) continue
    let at = day
    while (offset(at) === offset(day)) at += 15 * MINUTE
    observe(at, offset(day))
  }
  return component
}

/** Reads events of a calendar as documents of planned work, and says which cannot be taken. */
export function readCalendar(text: string, zone: string, isTaken: (key: string) => boolean): { documents: PlannedDocument[]; problems: Problem[] } {
  let root: ICAL.Component
  try {
    const parsed = ICAL.parse(text) as unknown
    if (!Array.isArray(parsed) || parsed[0] !== 'vcalendar') throw new Error(text.trim() === '' ? 'nothing' : 'no VCALENDAR')
    root = new ICAL.Component(parsed as never)
  } catch (error) {
    const line = Number(/line (\d+)/i.exec((error as Error).message)?.[1])
    return { documents: [], problems: [{ path: '', found: (error as Error).message.slice(0, 120), expected: 'an iCalendar file (RFC 5545)', ...(line > 0 ? { line } : {}) }] }
  }
  const events = root.getAllSubcomponents('vevent')
  const given = new Set<string>()
  const documents: PlannedDocument[] = []
  const problems: Problem[] = events.length === 0 ? [{ path: '', found: 'no event', expected: 'at least one VEVENT' }] : []
  for (const [index, component] of events.entries()) {
    const read = readEvent(component, zone)
    if (!('title' in read)) {
      problems.push({ path: `VEVENT ${index + 1}`, ...read })
      continue
    }
    const key = freeKey(keyFromName(String(read.title), 'planned'), (wanted) => isTaken(wanted) || given.has(wanted))
    given.add(key)
    documents.push({ ...read, planned: key } as PlannedDocument)
  }
  return { documents, problems }
}

type ReadEvent = (Record<string, unknown> & { title: string }) | { found: string; expected: string }

function readEvent(component: ICAL.Component, zone: string): ReadEvent {
  const event = new ICAL.Event(component)
  const start = component.getFirstProperty('dtstart')
  const begins = start?.getFirstValue() as ICAL.Time | undefined
  if (!start || !begins || typeof begins.toJSDate !== 'function') return { found: 'no DTSTART', expected: 'the time it begins' }
  const named = start.getFirstParameter('tzid')
  const own = begins.zone === ICAL.Timezone.utcTimezone ? 'UTC' : named && isZone(named) ? named : zone
  const local = (time: ICAL.Time) => writeLocal(Date.UTC(time.year, time.month - 1, time.day, time.hour, time.minute))
  const from = local(begins)
  if (readLocal(from) === undefined) return { found: from, expected: 'a time that exists' }
  const end = component.getFirstPropertyValue('dtend') as ICAL.Time | null
  const seconds = end ? (beginsAt({ zone: own }, local(end)) - beginsAt({ zone: own }, from)) / 1000 : event.duration?.toSeconds() ?? (begins.isDate ? DAY / 1000 : HOUR / 1000)
  if (!(seconds >= 60)) return { found: `${seconds} seconds`, expected: 'an end at least a minute after the beginning' }
  const repeats = component.getFirstPropertyValue('rrule')
  const except = component.getAllProperties('exdate').flatMap((property) => property.getValues() as ICAL.Time[]).map(local)
  const description = component.getFirstPropertyValue('description')
  return {
    title: (event.summary || 'Planned work').slice(0, 200), ...(description ? { public: String(description).slice(0, 2000) } : {}), from, zone: own, lasts: formatDuration(Math.round(seconds / 60) * MINUTE),
    ...(repeats ? { repeats: String(repeats) } : {}), ...(except.length > 0 ? { except } : {})
  }
}
