import { availability } from '@/core/availability/availability'
import { blocksOf } from '@/core/ribbons/ribbon'
import { dailyPattern } from '@/core/patterns/daily-pattern'
import { weeklyPattern } from '@/core/patterns/weekly-pattern'
import { listMarks } from '@/store/marks'
import { emptySketch, mergeEncoded, percentile } from '@/core/sketches/sketch'
import { missingForDown } from '@/core/states/check-state'
import { dayStart, dayStartFrom, hourOfWeek, speakDay } from '@/core/time/zoned'
import { beatsOf } from '@/core/schedule/next-run'
import { spread } from '@/core/schedule/spread'
import { DAY, HOUR, MINUTE } from '@/core/units'
import type { StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { listIncidents } from '@/store/incidents'
import { placeTimes } from '@/core/places/place-times'
import { locationsOf } from '@/core/places/places'
import { listLocations } from '@/store/locations'
import { openWindows } from '@/store/planned'
import { readSketches } from '@/store/rollups'
import { serviceByKey } from '@/store/world'
import { listChanges, listMemories, listStates, listStretches, stateSpans } from '@/store/states'
import { loadTries } from '@/store/tries-in-columns'
import { checkSummary } from '@/store/summaries'
import { settings } from './session'

export const RANGES = { '6h': 6 * HOUR, '24h': DAY, '7d': 7 * DAY, '30d': 30 * DAY } as const
export type RangeName = keyof typeof RANGES
const DAYS = { few: 10, all: 35 } as const

/** The locations of a check are said over an hour; of one that runs seldom over as long as a dozen tries take. */
const latelyOf = (every: number) => Math.min(7 * DAY, Math.max(HOUR, Math.ceil((12 * every) / HOUR) * HOUR))

/** Everything the page of a check shows. */
export async function checkView(stored: StoredCheck, range: RangeName, now: number, allDays = false) {
  const { zone } = await settings()
  const all = await listLocations(database())
  const places = locationsOf(stored.check.from, all)
  const lately = latelyOf(stored.check.every)
  const count = allDays ? DAYS.all : DAYS.few
  const days = { from: dayStartFrom(now, -(count - 1), zone), to: dayStartFrom(now, 1, zone) }
  const weeks = { from: dayStartFrom(now, -(DAYS.all - 1), zone), to: days.to }
  const [states, memories, tries, stretches, changes, incidents, service, summary] = await Promise.all([
    listStates(database(), [stored.id]), listMemories(database(), [stored.id]), loadTries(database(), { checks: [stored.id], locations: places.map((each) => each.id), from: now - lately, to: now + 1, metric: 'every' }),
    listStretches(database(), [stored.id], weeks), listChanges(database(), { check: stored.id, from: now - 30 * DAY, to: now + 1, limit: 15 }),
    listIncidents(database(), { check: stored.id, open: true, limit: 1 }), stored.check.service ? serviceByKey(database(), stored.check.service) : undefined, checkSummary(database(), stored.id)
  ])
  const byLocation = new Map(memories.map((each) => [each.location, each]))
  const ordered = places.map((place) => byLocation.get(place.id)?.memory)
  const times = placeTimes(tries.tries)
  return {
    zone, all, places, lately, window: (await openWindows(database(), now)).some((each) => each.place === 'check' && each.subject === stored.id), state: states.get(stored.id), service, changes, incident: incidents[0],
    rows: places.map((place) => ({ place, ...byLocation.get(place.id), times: times.get(place.id) })),
    days: dayRows(stretches, days, count, zone, places.length, now), weekly: weeklyPattern(stretches, weeks, zone), marks: await listMarks(database(), { from: now - RANGES[range], to: now }, { check: stored.id, service: stored.serviceId }),
    pattern: dailyPattern(stretches, { from: days.from, to: dayStart(now, zone) + DAY }, zone),
    missing: missingForDown(ordered, stored.check),
    beats: stored.pausedAt === null ? beatsOf(stored.id, spread(places, stored.id).map((place) => place.id), stored.check.every, stored.check.turns) : [],
    chart: await chartOf(stored, range, zone, now, summary?.usualByHour ?? []),
    available: await availableOver(stored.id, now)
  }
}

function dayRows(stretches: Awaited<ReturnType<typeof listStretches>>, days: { from: number; to: number }, count: number, zone: string, places: number, now: number) {
  return Array.from({ length: count }, (_, index) => {
    const from = dayStartFrom(days.to - HOUR, -index, zone)
    const range = { from, to: dayStartFrom(from, 1, zone) }
    return { name: speakDay(from, zone), range, blocks: blocksOf(stretches.map((each) => ({ ...each, to: each.to ?? now })), range, 4 * MINUTE, () => places) }
  })
}

/** The 95th percentile of all locations, window by window, merged from sketches, beside what is usual for the hour. */
async function chartOf(stored: StoredCheck, range: RangeName, zone: string, now: number, usual: ({ median: number; spread: number } | null)[]) {
  const length = RANGES[range]
  const span = length <= DAY ? '5m' as const : '1h' as const
  const step = range === '6h' ? 5 * MINUTE : range === '24h' ? 15 * MINUTE : range === '7d' ? HOUR : 4 * HOUR
  const from = Math.floor((now - length) / step) * step
  const windows = await readSketches(database(), [stored.id], span, 'total', { from, to: now })
  const merged = new Map<number, ReturnType<typeof emptySketch>>()
  for (const window of windows) {
    const at = Math.floor(window.at / step) * step
    const sketch = merged.get(at) ?? emptySketch()
    mergeEncoded(sketch, window.sketch)
    merged.set(at, sketch)
  }
  const spans = (await stateSpans(database(), [stored.id], { from, to: now })).get(stored.id) ?? []
  const points = Array.from({ length: Math.ceil((now - from) / step) }, (_, index) => {
    const at = from + index * step
    const sketch = merged.get(at)
    const normal = usual[hourOfWeek(at, zone)]
    return {
      at, p95: sketch ? percentile(sketch, 0.95)! / 1000 : null, p50: sketch ? percentile(sketch, 0.5)! / 1000 : null,
      band: normal ? [Math.max(0, normal.median - 2 * normal.spread), normal.median + 2 * normal.spread] as [number, number] : null
    }
  })
  return { from, to: now, points, outages: spans.filter((each) => each.state === 'down').map((each) => ({ from: Math.max(from, each.from), to: each.to ?? now })), usualKnown: usual.some((each) => each !== null) }
}

async function availableOver(check: number, now: number) {
  const from = now - 365 * DAY
  const spans = (await stateSpans(database(), [check], { from, to: now })).get(check) ?? []
  return ([['day', DAY], ['week', 7 * DAY], ['month', 30 * DAY], ['year', 365 * DAY]] as const).map(([name, length]) => ({ name, ...availability(spans, { from: now - length, to: now }) }))
}
