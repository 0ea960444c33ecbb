import { dayStart, minuteOfDay } from '../time/zoned'
import type { Stretch, Trouble } from '../ribbons/ribbon'
import type { Instant } from '../units'

export interface DailyPattern {
  kind: Trouble
  /** Minutes since midnight at which it typically begins. */
  minute: number
  days: number
  of: number
}

const SLOT = 15
const SLOTS = 1440 / SLOT
const LEAST_DAYS = 3

/**
 * Finds trouble that comes back at the same time of day: the quarter of an hour (with its neighbours) in which
 * trouble of one kind begins on the most days, when that is on at least three days and on at least two fifths of all,
 * and at least three times as often as trouble begins at an ordinary time.
 * @param from the first day looked at begins here; `to` ends the last
 */
export function dailyPattern(stretches: Stretch[], range: { from: Instant; to: Instant }, zone: string): DailyPattern | undefined {
  const of = Math.max(1, Math.round((range.to - range.from) / 86_400_000))
  const found = (['fail', 'slow'] as const).flatMap((kind) => {
    const daysBySlot: Set<Instant>[] = Array.from({ length: SLOTS }, () => new Set())
    const minutes: number[][] = Array.from({ length: SLOTS }, () => [])
    for (const stretch of stretches) {
      if (stretch.kind !== kind || stretch.from < range.from || stretch.from >= range.to) continue
      const minute = minuteOfDay(stretch.from, zone)
      const slot = Math.floor(minute / SLOT)
      daysBySlot[slot]!.add(dayStart(stretch.from, zone))
      minutes[slot]!.push(minute)
    }
    const near = daysBySlot.map((_, slot) => {
      const slots = [(slot + SLOTS - 1) % SLOTS, slot, (slot + 1) % SLOTS]
      return { days: new Set(slots.flatMap((each) => [...daysBySlot[each]!])).size, own: minutes[slot]!.length, slot }
    })
    const best = [...near].sort((a, b) => b.days - a.days || b.own - a.own)[0]!
    const ordinary = near.reduce((sum, each) => sum + each.days, 0) / SLOTS
    if (best.days < Math.max(LEAST_DAYS, 0.4 * of) || best.days < 3 * ordinary) return []
    const begun = minutes[best.slot]!.sort((a, b) => a - b)
    const typical = begun[begun.length >> 1] ?? best.slot * SLOT
    return [{ kind, minute: Math.round(typical / 5) * 5, days: best.days, of }]
  })
  return found.sort((a, b) => b.days - a.days)[0]
}

/** “Slow near 09:15 on 7 of 10 days” */
export function speakPattern(pattern: DailyPattern): string {
  const time = `${String(Math.floor(pattern.minute / 60)).padStart(2, '0')}:${String(pattern.minute % 60).padStart(2, '0')}`
  return `${pattern.kind === 'slow' ? 'Slow' : 'Failing'} near ${time} on ${pattern.days} of ${pattern.of} days`
}
