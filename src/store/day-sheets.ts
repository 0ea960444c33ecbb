import { packDay } from '../core/sketches/day-sheet'
import { DAY, MINUTE, type Instant } from '../core/units'
import { change, insertMany, row, rows, transaction, type Pool, type Queryable } from './database'
import { METRICS, type Metric } from './rollups'

/** The sheet of a day that still goes on is made anew this seldom. */
const ANEW = 10 * MINUTE

/** Makes one day's sheets that wait to be made, the newest day first. Gives how many days there were. */
export async function makeDueDaySheets(pool: Pool, now: Instant): Promise<number> {
  const due = await row<{ day: number }>(pool, "SELECT d.day FROM day_sheet_due d LEFT JOIN day_sheet s ON s.day = d.day AND s.metric = 'total' WHERE s.made_at IS NULL OR s.made_at < ? ORDER BY d.day DESC LIMIT 1", [now - ANEW])
  if (!due) return 0
  await transaction(pool, (on) => makeDaySheets(on, due.day, now))
  return 1
}

/** Makes the sheets of a day from its rollups, one for every metric, place by place, so that what is merged by place lies together; doing it twice changes nothing. */
export async function makeDaySheets(on: Queryable, day: number, now: Instant): Promise<void> {
  await change(on, 'DELETE FROM day_sheet_due WHERE day = ?', [day])
  const found = await rows<{ check: number; location: number; tries: number; fails: number } & Record<string, Buffer | null>>(on, `SELECT check_id AS \`check\`, location_id AS location, passes + warns + slows + fails AS tries, fails, ${METRICS.map((metric) => `${metric}_sketch`).join(', ')}
    FROM rollup WHERE span = '1d' AND at = ? AND location_id <> 0 ORDER BY location_id, check_id`, [day * DAY])
  await insertMany(on, 'REPLACE INTO day_sheet (day, metric, made_at, content)', METRICS.map((metric) => [day, metric, now, Buffer.from(packDay(found.map((each) => ({ ...each, sketch: each[`${metric}_sketch`] ?? null }))))]))
}

/** The sheets of one metric over the days that a range touches, with which days they are. */
export async function readDaySheets(on: Queryable, metric: Metric, range: { from: Instant; to: Instant }): Promise<{ day: number; content: Buffer }[]> {
  return rows(on, 'SELECT day, content FROM day_sheet WHERE metric = ? AND day >= ? AND day * 86400000 < ? ORDER BY day', [metric, Math.floor(range.from / DAY), range.to])
}

export async function dropOldDaySheets(on: Queryable, before: Instant): Promise<void> {
  await change(on, 'DELETE FROM day_sheet WHERE day < ?', [Math.floor(before / DAY)])
}
