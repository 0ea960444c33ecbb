import { dayStart, minuteOfDay, hourOfWeek } from '../time/zoned'
import type { Stretch, Trouble } from '../ribbons/ribbon'
import type { Instant } from '../units'

export interface WeeklyPattern {
  kind: Trouble
  /** 0 is Sunday. */
  weekday: number
  minute: number
  weeks: number
  of: number
}

const SLOT = 30
const WEEK = 7 * 86_400_000
const DAY_NAMES = ['Sundays', 'Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays']

/**
 * Finds trouble that comes back at the same time of one weekday: in at least three weeks and three fifths of all, while
 * at that time the other weekdays have it less than half as often. What happens every day is no weekly pattern.
 */
export function weeklyPattern(stretches: readonly Stretch[], range: { from: Instant; to: Instant }, zone: string): WeeklyPattern | undefined {
  const of = Math.max(1, Math.round((range.to - range.from) / WEEK))
  const days = new Map<string, Set<Instant>>()
  for (const { kind, from } of stretches) {
    if ((kind !== 'fail' && kind !== 'slow') || from < range.from || from >= range.to) continue
    const key = `${kind}/${Math.floor(hourOfWeek(from, zone) / 24)}/${Math.floor(minuteOfDay(from, zone) / SLOT)}`
    const found = days.get(key) ?? new Set()
    days.set(key, found.add(dayStart(from, zone)))
  }
  const count = (kind: string, weekday: number, slot: number) => new Set([slot - 1, slot, slot + 1].flatMap((each) => [...(days.get(`${kind}/${weekday}/${(each + 48) % 48}`) ?? [])])).size
  const found = [...days.keys()].flatMap((key): WeeklyPattern[] => {
    const [kind, weekday, slot] = [key.split('/')[0] as Trouble, Number(key.split('/')[1]), Number(key.split('/')[2])]
    const weeks = Math.min(of, count(kind, weekday, slot))
    const others = [0, 1, 2, 3, 4, 5, 6].filter((each) => each !== weekday).map((each) => count(kind, each, slot))
    const isOwn = weeks >= Math.max(3, 0.6 * of) && others.reduce((sum, each) => sum + each, 0) / 6 < weeks / 2
    return isOwn ? [{ kind, weekday, minute: slot * SLOT, weeks, of }] : []
  })
  return found.sort((a, b) => b.weeks - a.weeks || (days.get(`${b.kind}/${b.weekday}/${b.minute / SLOT}`)?.size ?? 0) - (days.get(`${a.kind}/${a.weekday}/${a.minute / SLOT}`)?.size ?? 0))[0]
}

/** “Failing on Tuesdays near 04:00, 4 of 5 weeks” */
export const speakWeekly = ({ kind, weekday, minute, weeks, of }: WeeklyPattern): string =>
  `${kind === 'slow' ? 'Slow' : 'Failing'} on ${DAY_NAMES[weekday]} near ${String(Math.floor(minute / 60)).padStart(2, '0')}:${String(minute % 60).padStart(2, '0')}, ${weeks} of ${of} weeks`
