import { TZDate } from '@date-fns/tz'
import { addDays, getDay, getHours, getMinutes, startOfDay } from 'date-fns'
import type { Instant } from '../units'

/** Whether a name is an IANA time zone that this runtime knows. */
export function isZone(zone: string): boolean {
  try {
    return Boolean(new Intl.DateTimeFormat('en', { timeZone: zone }))
  } catch {
    return false
  }
}

/**
 * Reads a local time such as `2026-11-24T02:00` as milliseconds of a clock without a zone (as if it were UTC).
 * @returns undefined when the text is no such time
 */
export function readLocal(text: string): number | undefined {
  const match = /^(\d{4})-(\d\d)-(\d\d)T(\d\d):(\d\d)(?::(\d\d))?$/.exec(text)
  const at = match ? Date.parse(`${text.slice(0, 16)}:${match[6] ?? '00'}Z`) : Number.NaN
  return Number.isNaN(at) ? undefined : at
}

/** Writes the milliseconds of a clock without a zone as `2026-11-24T02:00`. */
export const writeLocal = (local: number): string => new Date(local).toISOString().slice(0, 16)

/** The clock of a zone at an instant, without the zone. */
export function toLocal(at: Instant, zone: string): number {
  return at - new TZDate(at, zone).getTimezoneOffset() * 60_000
}

/**
 * The instant at which the clock of a zone shows a local time. A time that is skipped in spring is the instant as long
 * after the change; of a time that comes twice in autumn it is the first.
 */
export function fromLocal(local: number, zone: string): Instant {
  const date = new Date(local)
  const found = new TZDate(date.getUTCFullYear(), date.getUTCMonth(), date.getUTCDate(), date.getUTCHours(), date.getUTCMinutes(), date.getUTCSeconds(), zone).getTime()
  const earlier = found - 3_600_000
  return toLocal(earlier, zone) === local ? earlier : found
}

/** The start of the day that holds an instant, in a zone; days may have 23 or 25 hours. */
export function dayStart(at: Instant, zone: string): Instant {
  return startOfDay(new TZDate(at, zone)).getTime()
}

/** The start of the day that is some days later or earlier, counted on the calendar of the zone. */
export function dayStartFrom(at: Instant, days: number, zone: string): Instant {
  return addDays(startOfDay(new TZDate(at, zone)), days).getTime()
}

/** The hour of the week in a zone, from 0 (Sunday 00:00) to 167. */
export function hourOfWeek(at: Instant, zone: string): number {
  const local = new TZDate(at, zone)
  return getDay(local) * 24 + getHours(local)
}

/** Minutes since local midnight on the clock of a zone, 0 to 1439. */
export function minuteOfDay(at: Instant, zone: string): number {
  const local = new TZDate(at, zone)
  return getHours(local) * 60 + getMinutes(local)
}

const formats = new Map<string, Intl.DateTimeFormat>()
function format(zone: string, options: Intl.DateTimeFormatOptions): Intl.DateTimeFormat {
  const key = zone + JSON.stringify(options)
  let found = formats.get(key)
  if (!found) formats.set(key, found = new Intl.DateTimeFormat('en-GB', { timeZone: zone, ...options }))
  return found
}

/** `14:32` */
export const speakTime = (at: Instant, zone: string) => format(zone, { hour: '2-digit', minute: '2-digit' }).format(at)
/** `14:32:05` */
export const speakClock = (at: Instant, zone: string) => format(zone, { hour: '2-digit', minute: '2-digit', second: '2-digit' }).format(at)
/** `Mon 23` */
export const speakDay = (at: Instant, zone: string) =>
  `${format(zone, { weekday: 'short' }).format(at)} ${format(zone, { day: 'numeric' }).format(at)}`
/** `Monday 23 November` */
export const speakDate = (at: Instant, zone: string) =>
  `${format(zone, { weekday: 'long' }).format(at)} ${format(zone, { day: 'numeric', month: 'long' }).format(at)}`

/** `14:32` today, `Sun 22, 14:32` within a week, `2 Nov, 14:32` before. */
export function speakMoment(at: Instant, zone: string, now: Instant): string {
  const time = speakTime(at, zone)
  if (dayStart(at, zone) === dayStart(now, zone)) return time
  if (Math.abs(now - at) < 6.5 * 86_400_000) return `${speakDay(at, zone)}, ${time}`
  return `${format(zone, { day: 'numeric', month: 'short' }).format(at)}, ${time}`
}

/** `14:32 to 15:10`, with the day of each where they are of two days. */
export function speakSpan({ from, to }: { from: Instant; to: Instant }, zone: string, now: Instant): string {
  const isOneDay = dayStart(from, zone) === dayStart(to - 1, zone)
  const ofTwoDays = (at: Instant) => (dayStart(at, zone) === dayStart(now, zone) ? `today, ${speakTime(at, zone)}` : speakMoment(at, zone, now))
  return isOneDay ? `${speakMoment(from, zone, now)} to ${speakTime(to, zone)}` : `${ofTwoDays(from)} to ${ofTwoDays(to)}`
}

/** `2026-11-23 14:32:05 Europe/Oslo`, for hovers, files and messages. */
export function speakExactly(at: Instant, zone: string): string {
  const parts = Object.fromEntries(format(zone, {
    year: 'numeric', month: '2-digit', day: '2-digit', hour: '2-digit', minute: '2-digit', second: '2-digit'
  }).formatToParts(at).map((part) => [part.type, part.value]))
  return `${parts.year}-${parts.month}-${parts.day} ${parts.hour}:${parts.minute}:${parts.second} ${zone}`
}
