import { fromLocal, readLocal, toLocal, writeLocal } from '../time/zoned'
import { DAY, type Instant } from '../units'
import { readSpokenDuration } from '../definitions/duration'

const DAYS = ['sunday', 'monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday']

/**
 * Reads a moment as people say it: `now`, `Saturday 03:00` (the next one), or `2026-11-28 03:00`, on the clock of a zone.
 * @returns the local time such as `2026-11-28T03:00`, `now`, or undefined when it is none of these
 */
export function readMoment(text: string, zone: string, now: Instant): string | undefined {
  const said = text.trim().toLowerCase()
  if (said === 'now') return 'now'
  const day = /^(?:on )?([a-z]{3,9}) (\d\d):(\d\d)$/.exec(said)
  if (!day) {
    const local = said.replace(' ', 'T').replace('t', 'T')
    return readLocal(local) === undefined ? undefined : writeLocal(readLocal(local)!)
  }
  const weekday = DAYS.findIndex((name) => name.startsWith(day[1]!))
  const [hours, minutes] = [Number(day[2]), Number(day[3])]
  if (weekday < 0 || hours > 23 || minutes > 59) return undefined
  const today = Math.floor(toLocal(now, zone) / DAY) * DAY
  const first = [0, 1, 2, 3, 4, 5, 6, 7].map((ahead) => today + ahead * DAY + (hours * 60 + minutes) * 60_000).find((local) => new Date(local).getUTCDay() === weekday && fromLocal(local, zone) > now)
  return first === undefined ? undefined : writeLocal(first)
}

/** Reads what happens to the incident: `nobody takes it`, or `it is taken after 5 min`; a duration, `never`, or undefined. */
export function readTaking(text: string): string | undefined {
  const said = text.trim().toLowerCase()
  if (said === '' || said.startsWith('nobody') || said === 'never') return 'never'
  return readSpokenDuration(said.replace(/^.*after /, ''))
}
