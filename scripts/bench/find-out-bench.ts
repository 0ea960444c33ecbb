import { answer } from '../../src/core/findout/answer'
import { byLocation } from '../../src/core/findout/columns'
import { madeWorld } from '../../src/core/findout/made-worlds'
import { seededRandom } from '../../src/core/seeded-random'
import { splitAt } from '../../src/core/findout/tries'
import { judge } from '../../src/core/findout/verdict'
import { emptySketch, mergeEncoded, percentile, type Sketch } from '../../src/core/sketches/sketch'
import { DAY, HOUR, MINUTE } from '../../src/core/units'
import { loadRaw, loadWindows } from '../../src/store/bulk-load'
import { openPool, rows, type Pool } from '../../src/store/database'
import { keepPartitions } from '../../src/store/migrate'
import { addToWindow, emptyWindow, readWindows, windowRow } from '../../src/store/rollups'
import { loadTries } from '../../src/store/tries-in-columns'
import type { Measured } from './measured'

const [CHECKS, LOCATIONS, SERVICE] = [500, 12, 14]
const CADENCE = 10 * MINUTE
const RUNS = 12
/** Numbers of checks nobody else uses. */
const FIRST = 900_000

const checksOf = (count: number) => Array.from({ length: count }, (_, index) => FIRST + index)
const LOCATION_IDS = Array.from({ length: LOCATIONS }, (_, index) => index + 1)

async function p95(work: () => Promise<unknown>): Promise<number> {
  const times: number[] = []
  for (let run = 0; run < RUNS + 2; run += 1) {
    const begun = performance.now()
    await work()
    if (run >= 2) times.push(performance.now() - begun)
  }
  return times.sort((a, b) => a - b)[Math.ceil(0.95 * RUNS) - 1]!
}

/** Tries of a day, and hours and days of five weeks. */
async function makePast(pool: Pool, now: number, days: number): Promise<void> {
  const random = seededRandom(7)
  await keepPartitions(pool, now, { observation: 60 * DAY, evidence: 60 * DAY }, now - 2 * DAY)
  const window = emptyWindow()
  for (let index = 0; index < 60; index += 1) addToWindow(window, 0, { total: 80_000 + index * 3000, wait: 60_000, connect: 12_000, tls: 20_000, lookup: 3000, receive: 900 })
  for (const check of checksOf(CHECKS)) {
    const lines: string[] = []
    for (const location of LOCATION_IDS) for (let at = now - DAY; at < now; at += CADENCE) lines.push(`${check}\t${location}\t${Math.floor(at + random() * 1000)}\t0\t0\t\\N\t\\N\t200\t3000\t12000\t20000\t${Math.floor(60_000 * (0.8 + 0.4 * random()))}\t900\t${Math.floor(96_000 * (0.8 + 0.4 * random()))}\t1\n`)
    await loadRaw(pool, 'observation', '(check_id, location_id, at, occasion, verdict, reason_id, sentence_id, status, lookup_us, connect_us, tls_us, wait_us, receive_us, total_us, version)', lines)
    const windows: unknown[][] = []
    const today = Math.floor(now / DAY) * DAY
    for (const location of [0, ...LOCATION_IDS]) {
      for (let day = 0; day < days; day += 1) windows.push(windowRow(check, location, '1d', today - day * DAY, window))
      if (location === 0) for (let hour = 0; hour < days * 24; hour += 1) windows.push(windowRow(check, 0, '1h', Math.floor(now / HOUR) * HOUR - hour * HOUR, window))
    }
    await loadWindows(pool, windows)
  }
}

/** A question over single tries: loaded, grouped, every percentile. */
async function overTries(pool: Pool, checks: number[], now: number): Promise<number> {
  const range = { from: now - DAY, to: now }
  const { tries } = await loadTries(pool, { checks, locations: LOCATION_IDS, ...range, thinned: Math.max(1, Math.ceil((checks.length * LOCATIONS * (DAY / CADENCE)) / 200_000)) })
  return answer(tries, byLocation(tries, 'location', String), 'total', 'p95', range, 15 * MINUTE).length
}

/** A question over five weeks: percentiles merged from the sketches of days. */
async function overDays(pool: Pool, checks: number[], now: number, days: number): Promise<number> {
  const found = new Map<string, Sketch>()
  for (const window of await readWindows(pool, checks, LOCATION_IDS, '1d', 'total', { from: now - days * DAY, to: now })) {
    const key = `${window.location}/${window.at}`
    const sketch = found.get(key) ?? emptySketch()
    found.set(key, sketch)
    if (window.sketch) mergeEncoded(sketch, window.sketch)
  }
  return [...found.values()].reduce((sum, sketch) => sum + (percentile(sketch, 0.95) ?? 0), 0)
}

/** Questions over a day and over five weeks, beside plain SQL over the same raw rows, and the verdict over a million tries. */
export async function benchFindOut(url: string): Promise<Measured[]> {
  const pool = openPool(url)
  const now = Math.floor(Date.now() / MINUTE) * MINUTE
  await makePast(pool, now, 35)
  const raw = CHECKS * LOCATIONS * (DAY / CADENCE)
  const [service, all] = [checksOf(SERVICE), checksOf(CHECKS)]
  const [dayOfService, dayOfAll] = [await p95(() => overTries(pool, service, now)), await p95(() => overTries(pool, all, now))]
  const plain = await p95(() => rows(pool, 'SELECT location_id, FLOOR(at / 900000) AS slot, AVG(total_us) FROM observation WHERE check_id IN (?) AND at >= ? AND at < ? GROUP BY location_id, slot', [all, now - DAY, now]))
  const [weeksOfService, weeksOfAll, halfOfAll] = [await p95(() => overDays(pool, service, now, 35)), await p95(() => overDays(pool, all, now, 35)), await p95(() => overDays(pool, all, now, 17))]
  await pool.end()
  const world = madeWorld(7, 'network slow', { hours: 60, cadence: 10_400 })
  const { inside, outside } = splitAt(world.tries, { from: world.stretch.to - 20 * HOUR, to: world.stretch.to })
  const begun = performance.now()
  judge(inside, outside, 'total', [], world.networks)
  const verdict = performance.now() - begun
  const ms = (time: number) => `${Math.round(time)} ms`
  return [
    { what: `a question over 24 h, ${SERVICE} checks x ${LOCATIONS} locations of ${raw} raw rows, p95`, budget: 'at most 300 ms', measured: ms(dayOfService), met: dayOfService <= 300 },
    { what: `a question over 24 h, ${CHECKS} checks x ${LOCATIONS} locations, p95`, budget: 'at most 300 ms', measured: `${ms(dayOfAll)}, ${(dayOfAll / plain).toFixed(1)} times plain SQL averages (${ms(plain)})`, met: dayOfAll <= 300 },
    { what: `a question over 35 days, ${SERVICE} checks, p95`, budget: 'at most 500 ms', measured: ms(weeksOfService), met: weeksOfService <= 500 },
    { what: `a question over 35 days, ${CHECKS} checks, p95`, budget: 'at most 500 ms', measured: `${ms(weeksOfAll)}, over 17 days ${ms(halfOfAll)}`, met: weeksOfAll <= 500 },
    { what: `verdict over ${world.tries.count} observations`, budget: 'at most 2 s', measured: ms(verdict), met: verdict <= 2000 }
  ]
}
