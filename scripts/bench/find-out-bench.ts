import { answer } from '../../src/core/findout/answer'
import { byLocation } from '../../src/core/findout/columns'
import { madeWorld } from '../../src/core/findout/made-worlds'
import { seededRandom } from '../../src/core/seeded-random'
import { splitAt } from '../../src/core/findout/tries'
import { judge } from '../../src/core/findout/verdict'
import { numbered, SHEET, sheetOf } from '../../src/core/findout/sheet'
import { eachOfDay } from '../../src/core/sketches/day-sheet'
import { emptyDense, mergeBytes, percentileOfDense, type DenseSketch } from '../../src/core/sketches/dense-sketch'
import { DAY, HOUR, MINUTE } from '../../src/core/units'
import { loadRaw, loadWindows } from '../../src/store/bulk-load'
import { openPool, rows, type Pool } from '../../src/store/database'
import { keepPartitions } from '../../src/store/migrate'
import { makeDaySheets, readDaySheets } from '../../src/store/day-sheets'
import { addToWindow, emptyWindow, windowRow } from '../../src/store/rollups'
import { markSheets } from '../../src/store/sheet-marks'
import { loadFromSheets, makeDueSheets } from '../../src/store/sheets'
import { defineBench } from './engine-bench'
import { benchScreen } from './find-out-screen'
import type { Measured } from './measured'

const SERVICE = 14
type Defined = Awaited<ReturnType<typeof defineBench>>

const CADENCE = 20 * MINUTE
const RUNS = 12

async function p95(work: () => Promise<unknown>): Promise<number> {
  const times: number[] = []
  for (let run = 0; run < RUNS + 2; run += 1) {
    const begun = performance.now()
    await work()
    if (run >= 2) times.push(performance.now() - begun)
  }
  return times.sort((a, b) => a - b)[Math.ceil(0.95 * RUNS) - 1]!
}

/** Five weeks of single tries, the windows and days they were rolled up to, and the sheets of the last day and of all days, made as the engine makes them. */
async function makePast(pool: Pool, { checks, locations }: Defined, now: number, days: number, say: (text: string) => void): Promise<void> {
  const random = seededRandom(7)
  await keepPartitions(pool, now, { observation: 60 * DAY, evidence: 60 * DAY }, now - (days + 1) * DAY)
  const window = emptyWindow()
  for (let index = 0; index < 60; index += 1) addToWindow(window, 0, { total: 80_000 + index * 3000, wait: 60_000, connect: 12_000, tls: 20_000, lookup: 3000, receive: 900 })
  const short = emptyWindow()
  addToWindow(short, 0, { total: 96_000 })
  const today = Math.floor(now / DAY) * DAY
  for (const [index, check] of checks.entries()) {
    const lines: string[] = []
    for (const location of locations) for (let at = now - days * DAY; at < now; at += CADENCE) lines.push(`${check}\t${location}\t${Math.floor(at + random() * 1000)}\t0\t${random() < 0.002 ? 3 : 0}\t\\N\t\\N\t200\t3000\t12000\t20000\t${Math.floor(60_000 * (0.8 + 0.4 * random()))}\t900\t${Math.floor(96_000 * (0.8 + 0.4 * random()))}\t1\n`)
    await loadRaw(pool, 'observation', '(check_id, location_id, at, occasion, verdict, reason_id, sentence_id, status, lookup_us, connect_us, tls_us, wait_us, receive_us, total_us, version)', lines)
    const windows: unknown[][] = []
    for (const location of [0, ...locations]) {
      for (let day = 0; day < days; day += 1) windows.push(windowRow(check, location, '1d', today - day * DAY, window))
      if (location === 0) for (let hour = 0; hour < days * 24; hour += 1) windows.push(windowRow(check, 0, '1h', Math.floor(now / HOUR) * HOUR - hour * HOUR, window))
      else for (let slot = 0; slot < 145; slot += 1) windows.push(windowRow(check, location, '5m', sheetOf(now) - slot * SHEET, short))
    }
    await loadWindows(pool, windows)
    if (index % 100 === 99) say(`past of ${index + 1} of ${checks.length} checks`)
  }
  // the last ten minutes are left to be read from the observations, as they are while a page is looked at
  await markSheets(pool, Array.from({ length: 144 }, (_, index) => now - SHEET - index * SHEET))
  const begun = performance.now()
  let made = 0
  for (let count = -1; count !== 0; made += count) count = await makeDueSheets(pool, now + MINUTE, 8)
  say(`${made} sheets made in ${Math.round(performance.now() - begun)} ms`)
  for (let day = 0; day < days; day += 1) await makeDaySheets(pool, today / DAY - day, now)
  say('sheets of days made')
}

/** A question over a day by place: every try is read, every percentile is exact. */
async function overTries(pool: Pool, checks: number[], locations: number[], now: number): Promise<number> {
  const range = { from: now - DAY, to: now }
  const { tries } = await loadFromSheets(pool, { checks, locations, ...range, columns: ['total', 'loss'], most: 2_000_000 })
  return answer(tries, byLocation(tries, 'location', String), 'total', 'p95', range, 15 * MINUTE).length
}

/** A question over five weeks by place: percentiles merged from the sketches of days. */
async function overDays(pool: Pool, checks: number[], locations: number[], now: number, days: number): Promise<number> {
  const wanted = numbered(checks)
  const placeOf = new Map(locations.map((each, place) => [each, place]))
  const found: DenseSketch[][] = locations.map(() => Array.from({ length: days + 1 }, emptyDense))
  const first = Math.floor((now - days * DAY) / DAY)
  for (const { day, content } of await readDaySheets(pool, 'total', { from: now - days * DAY, to: now })) {
    eachOfDay(content, (check, location, _tries, _fails, from, to) => { if (wanted[check] === 1 && placeOf.has(location)) mergeBytes(found[placeOf.get(location)!]![day - first]!, content, from, to) })
  }
  return found.flat().reduce((sum, sketch) => sum + (percentileOfDense(sketch, 0.95) ?? 0), 0)
}

/** Questions over a day and over five weeks, beside plain SQL over the same raw rows, and the verdict over a million tries. */
export async function benchFindOut(url: string, root: string, say: (text: string) => void = () => undefined): Promise<Measured[]> {
  const pool = openPool(url)
  const now = Math.floor(Date.now() / SHEET) * SHEET
  const defined = await defineBench(pool)
  const { checks: all, locations } = defined
  await makePast(pool, defined, now, 35, say)
  const raw = all.length * locations.length * 35 * (DAY / CADENCE)
  const service = all.slice(0, SERVICE)
  const [dayOfService, dayOfAll] = [await p95(() => overTries(pool, service, locations, now)), await p95(() => overTries(pool, all, locations, now))]
  const plain = await p95(() => rows(pool, 'SELECT location_id, FLOOR(at / 900000) AS slot, AVG(total_us) FROM observation WHERE check_id IN (?) AND at >= ? AND at < ? GROUP BY location_id, slot', [all, now - DAY, now]))
  const [weeksOfService, weeksOfAll, halfOfAll] = [await p95(() => overDays(pool, service, locations, now, 35)), await p95(() => overDays(pool, all, locations, now, 35)), await p95(() => overDays(pool, all, locations, now, 17))]
  const screen = await benchScreen(pool, url, root)
  await pool.end()
  const world = madeWorld(7, 'network slow', { hours: 60, cadence: 10_400 })
  const { inside, outside } = splitAt(world.tries, { from: world.stretch.to - 20 * HOUR, to: world.stretch.to })
  const begun = performance.now()
  judge(inside, outside, 'total', [], world.networks)
  const verdict = performance.now() - begun
  const ms = (time: number) => `${Math.round(time)} ms`
  return [
    { what: `a question over 24 h, ${SERVICE} checks x ${locations.length} locations of ${raw} raw rows, p95`, budget: 'at most 300 ms', measured: ms(dayOfService), met: dayOfService <= 300 },
    { what: `a question over 24 h, ${all.length} checks x ${locations.length} locations, p95`, budget: 'at most 300 ms', measured: `${ms(dayOfAll)}, ${(dayOfAll / plain).toFixed(2)} times plain SQL averages (${ms(plain)})`, met: dayOfAll <= 300 },
    { what: `a question over 35 days, ${SERVICE} checks, p95`, budget: 'at most 500 ms', measured: ms(weeksOfService), met: weeksOfService <= 500 },
    { what: `a question over 35 days, ${all.length} checks, p95`, budget: 'at most 500 ms', measured: `${ms(weeksOfAll)}, over 17 days ${ms(halfOfAll)}`, met: weeksOfAll <= 500 },
    ...screen,
    { what: `verdict over ${world.tries.count} observations`, budget: 'at most 2 s', measured: ms(verdict), met: verdict <= 2000 }
  ]
}
