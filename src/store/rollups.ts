import { PHASES, VERDICTS } from '../core/observation'
import { addValue, emptySketch, encodeSketch, mergeEncoded, type Sketch } from '../core/sketches/sketch'
import { HOUR, MINUTE, DAY, type Instant } from '../core/units'
import { change, insertMany, rows, type Queryable } from './database'
import { markSheets } from './sheet-marks'

export const SPANS = { '5m': 5 * MINUTE, '1h': HOUR, '1d': DAY } as const
export type Span = keyof typeof SPANS
export const METRICS = [...PHASES, 'total'] as const
export type Metric = (typeof METRICS)[number]

/** Counts and sketches of one check at one location (0: all together) over one window. */
export interface Window {
  counts: [number, number, number, number]
  sketches: Record<Metric, Sketch>
}

export function emptyWindow(): Window {
  return { counts: [0, 0, 0, 0], sketches: Object.fromEntries(METRICS.map((metric) => [metric, emptySketch()])) as Window['sketches'] }
}

/** Takes an observation's numbers in. Failures are counted and left out of the times. Times in microseconds. */
export function addToWindow(window: Window, verdict: number, times: Partial<Record<Metric, number | null>>): void {
  window.counts[verdict]! += 1
  if (verdict === VERDICTS.indexOf('fail')) return
  for (const metric of METRICS) {
    const time = times[metric]
    if (time != null) addValue(window.sketches[metric], time)
  }
}

export function windowRow(check: number, location: number, span: Span, at: Instant, window: Window): unknown[] {
  return [check, location, span, at, ...window.counts, ...METRICS.map((metric) => (window.sketches[metric].total > 0 ? encodeSketch(window.sketches[metric]) : null))]
}

const HEAD = `REPLACE INTO rollup (check_id, location_id, span, at, passes, warns, slows, fails, ${METRICS.map((metric) => `${metric}_sketch`).join(', ')})`

export async function storeWindows(on: Queryable, windowRows: unknown[][]): Promise<void> {
  await insertMany(on, HEAD, windowRows)
}

export async function markDue(on: Queryable, windows: { check: number; at: Instant }[]): Promise<void> {
  await insertMany(on, 'INSERT IGNORE INTO rollup_due (check_id, at)', windows.map((each) => [each.check, each.at]))
}

/** Five-minute windows that ended a minute ago at least and wait to be rolled up. */
export async function dueWindows(on: Queryable, now: Instant, limit: number): Promise<{ check: number; at: Instant }[]> {
  return rows(on, 'SELECT check_id AS `check`, at FROM rollup_due WHERE at < ? ORDER BY at LIMIT ?', [now - SPANS['5m'] - 10_000, limit])
}

/**
 * Rolls five-minute windows up from their observations, and the hours and days that hold them from finer windows.
 * Each window is computed anew and replaced, so doing it twice changes nothing. Inside the caller's transaction.
 */
export async function rollUp(on: Queryable, windows: { check: number; at: Instant }[]): Promise<void> {
  for (const { check, at } of windows) await rollFromObservations(on, check, at)
  const coarser = (span: Span) => [...new Map(windows.map(({ check, at }) => {
    const start = Math.floor(at / SPANS[span]) * SPANS[span]
    return [`${check}/${start}`, { check, at: start }] as const
  })).values()]
  for (const { check, at } of coarser('1h')) await rollFromFiner(on, check, '5m', '1h', at)
  for (const { check, at } of coarser('1d')) await rollFromFiner(on, check, '1h', '1d', at)
  await markSheets(on, windows.map((each) => each.at))
  if (windows.length > 0) await change(on, 'DELETE FROM rollup_due WHERE (check_id, at) IN (?)', [windows.map((each) => [each.check, each.at])])
}

async function rollFromObservations(on: Queryable, check: number, at: Instant): Promise<void> {
  const found = await rows<Record<string, number | null> & { location_id: number; verdict: number }>(on,
    `SELECT location_id, verdict, ${METRICS.map((metric) => `${metric}_us AS ${metric}`).join(', ')} FROM observation WHERE check_id = ? AND at >= ? AND at < ? AND occasion <> 3`, [check, at, at + SPANS['5m']])
  const byLocation = new Map<number, Window>([[0, emptyWindow()]])
  for (const each of found) {
    if (!byLocation.has(each.location_id)) byLocation.set(each.location_id, emptyWindow())
    for (const location of [0, each.location_id]) addToWindow(byLocation.get(location)!, each.verdict, each as Partial<Record<Metric, number | null>>)
  }
  if (found.length > 0) await storeWindows(on, [...byLocation].map(([location, window]) => windowRow(check, location, '5m', at, window)))
}

type SketchRow = { location: number; passes: number; warns: number; slows: number; fails: number } & Record<string, Buffer | number | null>

async function rollFromFiner(on: Queryable, check: number, finer: Span, span: Span, at: Instant): Promise<void> {
  const found = await rows<SketchRow>(on, `SELECT location_id AS location, passes, warns, slows, fails, ${METRICS.map((metric) => `${metric}_sketch AS ${metric}`).join(', ')}
    FROM rollup WHERE check_id = ? AND span = ? AND at >= ? AND at < ?`, [check, finer, at, at + SPANS[span]])
  const byLocation = new Map<number, Window>()
  for (const each of found) {
    const window = byLocation.get(each.location) ?? emptyWindow()
    byLocation.set(each.location, window)
    ;[each.passes, each.warns, each.slows, each.fails].forEach((count, verdict) => { window.counts[verdict]! += count })
    for (const metric of METRICS) if (each[metric]) mergeEncoded(window.sketches[metric], each[metric] as Buffer)
  }
  await storeWindows(on, [...byLocation].map(([location, window]) => windowRow(check, location, span, at, window)))
}

/** The sketches of one metric over a range, window by window. `location` 0 is all locations together. */
export async function readSketches(on: Queryable, checks: number[], span: Span, metric: Metric, range: { from: Instant; to: Instant }, location = 0):
Promise<{ check: number; at: Instant; sketch: Buffer; fails: number; slows: number; all: number }[]> {
  if (checks.length === 0) return []
  return rows(on, `SELECT check_id AS \`check\`, at, ${metric}_sketch AS sketch, fails, slows, passes + warns + slows + fails AS \`all\` FROM rollup
    WHERE check_id IN (?) AND span = ? AND location_id = ? AND at >= ? AND at < ? AND ${metric}_sketch IS NOT NULL ORDER BY at`, [checks, span, location, range.from, range.to])
}

/** Counts and sketches of one metric, window by window, of every check at every one of some locations (0: all together). */
export async function readWindows(on: Queryable, checks: number[], locations: number[], span: Span, metric: Metric, range: { from: Instant; to: Instant }):
Promise<{ check: number; location: number; at: Instant; sketch: Buffer | null; fails: number; all: number }[]> {
  if (checks.length === 0 || locations.length === 0) return []
  return rows(on, `SELECT check_id AS \`check\`, location_id AS location, at, ${metric}_sketch AS sketch, fails, passes + warns + slows + fails AS \`all\` FROM rollup
    WHERE check_id IN (?) AND span = ? AND location_id IN (?) AND at >= ? AND at < ?`, [checks, span, locations, Math.floor(range.from / SPANS[span]) * SPANS[span], range.to])
}

/** Drops rollups older than their retention. */
export async function dropOldRollups(on: Queryable, span: Span, before: Instant): Promise<void> {
  await change(on, 'DELETE FROM rollup WHERE span = ? AND at < ? LIMIT 20000', [span, before])
}
