import type { Pool } from '../store/database'
import { addAvailability, availability, budgetLeft, type Availability } from '../core/availability/availability'
import { emptySketch, mergeEncoded, mergeInto, percentile, type Sketch } from '../core/sketches/sketch'
import { levelShift, type LevelShift } from '../core/patterns/level-shift'
import { dailyPattern, speakPattern, type DailyPattern } from '../core/patterns/daily-pattern'
import { dayStart, dayStartFrom, hourOfWeek } from '../core/time/zoned'
import { median, usualByHour, type Usual } from '../core/usual/usual'
import { DAY, HOUR, type Instant } from '../core/units'
import type { StoredCheck } from '../store/checks'
import { readSketches } from '../store/rollups'
import { listStretches, stateSpans } from '../store/states'
import { storeSummary } from '../store/summaries'
import type { Definitions } from './definitions'

const WEEKS = 5 * 7 * DAY

interface Facts {
  available: Availability
  today: Sketch
  usual: (Usual | undefined)[]
}

/** Computes what lists show of every check and service, and stores it. Takes seconds; runs about every minute. */
export async function summarise(pool: Pool, definitions: Definitions, now: Instant): Promise<void> {
  const facts = new Map<number, Facts>()
  for (const stored of definitions.checks.values()) {
    const found = await factsOf(pool, definitions, stored, now)
    facts.set(stored.id, found)
    const shift = await shiftOf(pool, stored.id, now)
    const pattern = await patternOf(pool, stored.id, definitions.settings.zone, now)
    await storeSummary(pool, 'check', stored.id, {
      ...(pattern ? { pattern: speakPattern(pattern) } : {}), ...(shift ? { shift } : {}), available: found.available, ...times([found], definitions.settings.zone, now), usualByHour: found.usual.map((usual) => usual ?? null)
    }, now)
  }
  for (const service of definitions.services.values()) {
    const own = [...definitions.checks.values()].filter((stored) => stored.serviceId === service.id)
    const members = own.map((stored) => facts.get(stored.id)!)
    // what is judged inside has no time that anybody waits for
    const asked = own.filter((stored) => !stored.check.isInside).map((stored) => facts.get(stored.id)!)
    const available = addAvailability(members.map((member) => member.available))
    const budget = service.objective ? budgetLeft(available, service.objective.available) : undefined
    await storeSummary(pool, 'service', service.id, { available, ...(budget === undefined ? {} : { budget }), ...times(asked, definitions.settings.zone, now) }, now)
  }
}

async function factsOf(pool: Pool, definitions: Definitions, stored: StoredCheck, now: Instant): Promise<Facts> {
  const service = stored.serviceId === null ? undefined : definitions.services.get(stored.serviceId)
  const over = service?.objective?.over ?? 30 * DAY
  const spans = await stateSpans(pool, [stored.id], { from: now - over, to: now })
  const zone = definitions.settings.zone
  const windows = await readSketches(pool, [stored.id], '1h', 'total', { from: now - WEEKS, to: now })
  const begin = dayStart(now, zone)
  const today = emptySketch()
  const values: { at: Instant; value: number }[] = []
  for (const window of windows) {
    if (window.at >= begin) mergeEncoded(today, window.sketch)
    if (window.at >= now - HOUR || (window.fails + window.slows) * 20 > window.all) continue
    const sketch = emptySketch()
    mergeEncoded(sketch, window.sketch)
    values.push({ at: window.at, value: percentile(sketch, 0.95)! / 1000 })
  }
  return { available: availability(spans.get(stored.id) ?? [], { from: now - over, to: now }), today, usual: usualByHour(values, zone) }
}

/** Whether the level of a check's times has changed over five weeks; today, which is not over, is left out. */
async function shiftOf(pool: Pool, check: number, now: Instant): Promise<LevelShift | undefined> {
  const days = await readSketches(pool, [check], '1d', 'total', { from: now - WEEKS, to: Math.floor(now / DAY) * DAY })
  return levelShift(days.flatMap(({ at, sketch, all }) => {
    const merged = emptySketch()
    mergeEncoded(merged, sketch)
    const value = percentile(merged, 0.5)
    return value === undefined || all < 20 ? [] : [{ at, value: value / 1000 }]
  }))
}

/** Trouble of the last two weeks that comes back at the same time of day. */
async function patternOf(pool: Pool, check: number, zone: string, now: Instant): Promise<DailyPattern | undefined> {
  const range = { from: dayStartFrom(now, -13, zone), to: dayStartFrom(now, 1, zone) }
  return dailyPattern(await listStretches(pool, [check], range), range, zone)
}

/** Today's 95th percentile and the usual one for the hours of today that have passed. */
function times(members: Facts[], zone: string, now: Instant): { p95?: number; usual?: number } {
  const merged = emptySketch()
  for (const member of members) mergeInto(merged, member.today)
  const p95 = percentile(merged, 0.95)
  const hours: number[] = []
  for (let at = dayStart(now, zone); at < now; at += HOUR) hours.push(hourOfWeek(at, zone))
  const usual = members.flatMap((member) => hours.flatMap((hour) => member.usual[hour]?.median ?? []))
  return {
    ...(p95 === undefined ? {} : { p95: p95 / 1000 }),
    ...(members.length === 1 && usual.length > 0 ? { usual: median(usual) } : {}),
    ...(members.length > 1 && usual.length > 0 ? { usual: highShare(members, hours) } : {})
  }
}

/** Several checks together: their usual 95th percentiles, of which the high ones decide the percentile of all. */
function highShare(members: Facts[], hours: number[]): number {
  const each = members.flatMap((member) => {
    const own = hours.flatMap((hour) => member.usual[hour]?.median ?? [])
    return own.length > 0 ? [median(own)] : []
  }).sort((a, b) => a - b)
  return each.at(-1)!
}
