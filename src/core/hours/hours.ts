import { TZDate } from '@date-fns/tz'
import { getDay, getHours, getMinutes } from 'date-fns'
import { fromLocal, toLocal } from '../time/zoned'
import { DAY, MINUTE, type Instant } from '../units'

const DAYS = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat'] as const

/** One stretch of the week: days from 0 (Sunday), minutes since midnight. `to` before `from` reaches into the next day. */
interface WeekStretch {
  days: number[]
  from: number
  to: number
}

/** The hours in which a check runs. */
export interface Hours {
  at: WeekStretch[]
  /** IANA zone; the workspace's when missing. */
  zone?: string
}

/**
 * Reads `mon-fri 06:00-22:00`, `sat,sun 08:00-14:00` or `sun-thu 22:00-04:00` (over midnight).
 * @returns undefined when the text is none of these
 */
export function parseHours(text: string): WeekStretch | undefined {
  const match = /^([a-z,-]+)\s+(\d\d):(\d\d)\s*-\s*(\d\d):(\d\d)$/.exec(text.trim().toLowerCase())
  if (!match) return undefined
  const days = readDays(match[1]!)
  const from = Number(match[2]) * 60 + Number(match[3])
  const to = Number(match[4]) * 60 + Number(match[5])
  const fits = days !== undefined && Number(match[3]) < 60 && Number(match[5]) < 60 && from < 1440 && to <= 1440 && from !== to
  return fits ? { days, from, to } : undefined
}

function readDays(text: string): number[] | undefined {
  if (text === 'daily') return [0, 1, 2, 3, 4, 5, 6]
  const days = new Set<number>()
  for (const piece of text.split(',')) {
    const [first, last, ...rest] = piece.split('-').map((name) => DAYS.indexOf(name as (typeof DAYS)[number]))
    if (first === undefined || first < 0 || (last !== undefined && last < 0) || rest.length > 0) return undefined
    for (let day = first; ; day = (day + 1) % 7) {
      days.add(day)
      if (day === (last ?? first)) break
    }
  }
  return [...days].sort((a, b) => a - b)
}

/** Writes a stretch so that parseHours reads it back. */
export function formatHours({ days, from, to }: WeekStretch): string {
  const clock = (minutes: number) => `${String(Math.floor(minutes / 60)).padStart(2, '0')}:${String(minutes % 60).padStart(2, '0')}`
  return `${writeDays(days)} ${clock(from)}-${clock(to)}`
}

function writeDays(days: number[]): string {
  if (days.length === 7) return 'daily'
  const runs: number[][] = []
  for (const day of [...days].sort((a, b) => ((a + 6) % 7) - ((b + 6) % 7))) {
    const run = runs.at(-1)
    if (run && run.at(-1)! + 1 === (day === 0 ? 7 : day)) run.push(day === 0 ? 7 : day)
    else runs.push([day === 0 ? 7 : day])
  }
  return runs.map((run) => (run.length > 2 ? `${DAYS[run[0]! % 7]}-${DAYS[run.at(-1)! % 7]}` : run.map((day) => DAYS[day % 7]).join(','))).join(',')
}

/** Whether a moment lies within the hours, on the clock of their zone. */
export function isWithinHours(hours: Hours | undefined, at: Instant, zone: string): boolean {
  if (!hours) return true
  const local = new TZDate(at, hours.zone ?? zone)
  const [day, minute] = [getDay(local), getHours(local) * 60 + getMinutes(local)]
  return hours.at.some(({ days, from, to }) => {
    if (from < to) return days.includes(day) && minute >= from && minute < to
    return (days.includes(day) && minute >= from) || (days.includes((day + 6) % 7) && minute < to)
  })
}

/** The next moment at which the hours begin or end, to the minute; undefined when they never do within eight days. */
export function nextHoursTurn(hours: Hours, after: Instant, zone: string): Instant | undefined {
  const own = hours.zone ?? zone
  const now = isWithinHours(hours, after, own)
  const local = toLocal(after, own)
  const midnight = Math.floor(local / DAY) * DAY
  const clocks = [...new Set(hours.at.flatMap(({ from, to }) => [from % 1440, to % 1440]))].sort((a, b) => a - b)
  const turns = Array.from({ length: 9 }, (_, day) => clocks.map((clock) => midnight + day * DAY + clock * MINUTE)).flat().filter((turn) => turn > local)
  const turn = turns.find((each) => isWithinHours(hours, fromLocal(each, own), own) !== now)
  const found = turn === undefined ? undefined : fromLocal(turn, own)
  // where clocks are set forward or back on the way, every moment is looked at
  return toLocal(found ?? after + 8 * DAY, own) - (found ?? after + 8 * DAY) === local - after ? found : scanForTurn(hours, after, own, now)
}

function scanForTurn(hours: Hours, after: Instant, zone: string, now: boolean): Instant | undefined {
  let at = Math.floor(after / MINUTE) * MINUTE
  for (let step = 0; step < 8 * 24 * 12; step += 1) {
    const next = at + 5 * MINUTE
    if (isWithinHours(hours, next, zone) !== now) {
      while (isWithinHours(hours, at, zone) === now) at += MINUTE
      return at
    }
    at = next
  }
  return undefined
}
