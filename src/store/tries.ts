import { groupBy } from '../core/group-by'
import type { Observation, Phase } from '../core/observation'
import { packTries, unpackTries, type Tries } from '../core/replay/pack'
import { DAY, type Instant } from '../core/units'
import { change, insertMany, row, rows, type Queryable } from './database'
import { listObservations } from './observations'

/** Stores packed days; one that stands already is replaced. */
export async function storeDays(on: Queryable, days: { check: number; day: number; location: number; observations: Observation[] }[]): Promise<void> {
  await insertMany(on, 'INSERT INTO tries_day (check_id, day, location_id, content)', days.map(({ check, day, location, observations }) => [check, day, location, Buffer.from(packTries(observations, day * DAY))]),
    'ON DUPLICATE KEY UPDATE content = VALUES(content)')
}

const OBSERVATIONS_MOST = 400_000

/** Packs the days of a check that ended and are not packed yet, from the day it began. Gives how many there were. */
export async function packEndedDays(on: Queryable, check: number, begun: Instant, now: Instant): Promise<number> {
  const last = Math.floor(now / DAY) - 1
  const packed = (await row<{ day: number | null }>(on, 'SELECT MAX(day) AS day FROM tries_day WHERE check_id = ?', [check]))?.day
  let done = 0
  for (let day = Math.max(Math.floor(begun / DAY), (packed ?? 0) + 1, last - 13); day <= last; day += 1) {
    const observations = await listObservations(on, { check, from: day * DAY, to: (day + 1) * DAY, limit: OBSERVATIONS_MOST })
    if (observations.length === 0) continue
    await storeDays(on, [...groupBy(observations, (each) => each.location)].map(([location, own]) => ({ check, day, location, observations: own })))
    done += 1
  }
  return done
}

/** The tries of a check day by day, from its packed days, and from single observations for the days that are not packed. */
export async function* triesByDay(on: Queryable, check: number, phase: Phase | 'total', range: { from: Instant; to: Instant }): AsyncGenerator<Map<number, Tries>> {
  const packed = new Map<number, { location: number; content: Buffer }[]>()
  for (const { day, ...each } of await rows<{ day: number; location: number; content: Buffer }>(on, 'SELECT day, location_id AS location, content FROM tries_day WHERE check_id = ? AND day BETWEEN ? AND ?', [check, Math.floor(range.from / DAY), Math.floor(range.to / DAY)])) {
    packed.set(day, [...(packed.get(day) ?? []), each])
  }
  for (let day = Math.floor(range.from / DAY); day * DAY < range.to; day += 1) {
    const found = packed.get(day)
    if (found) {
      yield new Map(found.map(({ location, content }) => [location, unpackTries(content, day * DAY, phase)]))
    } else {
      const columns = await columnsBetween(on, check, phase, Math.max(range.from, day * DAY), Math.min(range.to, (day + 1) * DAY))
      if (columns.size > 0) yield columns
    }
  }
}

/** The columns a rule is played on, straight from single observations. */
async function columnsBetween(on: Queryable, check: number, phase: Phase | 'total', from: Instant, to: Instant): Promise<Map<number, Tries>> {
  const found = await rows<{ location: number; at: number; verdict: number; occasion: number; time: number | null }>(on,
    `SELECT location_id AS location, at, verdict, occasion, ${phase}_us AS time FROM observation WHERE check_id = ? AND at >= ? AND at < ? ORDER BY location_id, at`, [check, from, to])
  const columns = new Map<number, Tries>()
  for (let begin = 0, end = 0; begin < found.length; begin = end) {
    while (end < found.length && found[end]!.location === found[begin]!.location) end += 1
    const own = found.slice(begin, end)
    columns.set(own[0]!.location, {
      at: Float64Array.from(own, (each) => each.at), verdict: Uint8Array.from(own, (each) => each.verdict), occasion: Uint8Array.from(own, (each) => each.occasion),
      time: Float32Array.from(own, (each) => (each.time === null ? Number.NaN : each.time / 1000))
    })
  }
  return columns
}

export async function dropOldDays(on: Queryable, before: Instant): Promise<void> {
  await change(on, 'DELETE FROM tries_day WHERE day < ? LIMIT 20000', [Math.floor(before / DAY)])
}
