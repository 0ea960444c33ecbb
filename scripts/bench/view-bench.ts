import { setTimeout as sleep } from 'node:timers/promises'
import { chromium } from 'playwright-core'
import { DAY, HOUR, MINUTE } from '../../src/core/units'
import { emptyWindow, addToWindow, windowRow } from '../../src/store/rollups'
import { loadWindows } from '../../src/store/bulk-load'
import { openPool, type Pool } from '../../src/store/database'
import { listChecks } from '../../src/store/checks'
import { addPerson, openSession } from '../../src/store/people'
import { openStretches, storeChanges } from '../../src/store/states'
import type { CheckState } from '../../src/core/states/check-state'
import type { Measured } from './measured'
import { memoryOf, startEngine } from './engine-bench'
import { startWeb } from './web'

const PORT = 4900
const VIEWS = ['/', '/checks', '/checks/bench-7', '/incidents']
const RUNS = 25
/** Requests before those that are counted, so that both measurements see a warm process. */
const WARM = 15

/** A past for every check: hourly windows, short outages and slow stretches every few days. */
async function makePast(pool: Pool, fromDay: number, toDay: number): Promise<void> {
  const checks = await listChecks(pool)
  const now = Date.now()
  const window = emptyWindow()
  for (let index = 0; index < 120; index += 1) addToWindow(window, 0, { total: 80_000 + index * 3000, wait: 60_000, connect: 12_000, tls: 20_000, lookup: 3000, receive: 900 })
  for (const [index, check] of checks.entries()) {
    const rows: unknown[][] = []
    for (let at = Math.floor((now - toDay * DAY) / HOUR) * HOUR; at < now - fromDay * DAY; at += HOUR) rows.push(windowRow(check.id, 0, '1h', at, window))
    await loadWindows(pool, rows)
    const outages = Array.from({ length: toDay - fromDay }, (_, day) => day + fromDay).filter((day) => (day + index) % 3 === 0).map((day) => now - day * DAY - (index % 20) * HOUR - HOUR)
    await openStretches(pool, outages.flatMap((at) => [1, 2, 3].map((location) => ({ check: check.id, location, kind: index % 2 === 0 ? 'fail' as const : 'slow' as const, from: at, to: at + 6 * MINUTE }))))
    const turn = (from: CheckState, to: CheckState, at: number) => ({ check: check.id, decided: at, since: at, lastPass: null, from, to, reason: null, sentence: null, failing: 3, locations: 12 })
    await storeChanges(pool, outages.reverse().flatMap((at) => [turn('up', 'down', at), turn('down', 'up', at + 6 * MINUTE)]))
  }
}

async function p95Of(path: string, cookie: string): Promise<number> {
  const times: number[] = []
  for (let run = 0; run < RUNS + WARM; run += 1) {
    const started = performance.now()
    const answer = await fetch(`http://127.0.0.1:${PORT}${path}`, { headers: { cookie } })
    await answer.text()
    if (!answer.ok) throw new Error(`${path} answers ${answer.status}`)
    if (run >= WARM) times.push(performance.now() - started)
  }
  return times.sort((a, b) => a - b)[Math.ceil(RUNS * 0.95) - 1]!
}

/** The views' rows: time of the server with 500 checks and 35 days, the same with twice the past, and the script of the first view. */
export async function benchViews(url: string, root: string): Promise<Measured[]> {
  const pool = openPool(url)
  await makePast(pool, 0, 35)
  const person = await addPerson(pool, { key: 'bench', name: 'Bench', mail: 'bench@orrinsound.example', job: '', role: 'owner' }, 'a long password', Date.now())
  const cookie = `hemeron=${await openSession(pool, person, { address: '', agent: '' }, Date.now())}`
  const engine = startEngine(url, root)
  const web = await startWeb(url, root, PORT)
  await sleep(20_000)
  engine.kill('SIGTERM')
  await sleep(10_000)
  const once = new Map<string, number>()
  for (const view of VIEWS) once.set(view, await p95Of(view, cookie))
  await makePast(pool, 35, 70)
  await sleep(10_000)
  const twice = new Map<string, number>()
  for (const view of VIEWS) twice.set(view, await p95Of(view, cookie))
  const memory = memoryOf(web)
  const first = await firstView(cookie)
  web.kill('SIGTERM')
  await pool.end()
  return [
    ...VIEWS.map((view) => ({
      what: `${view} on 500 checks, 12 locations, 35 days, p95`, budget: 'at most 200 ms, flat when doubled', measured: `${Math.round(once.get(view)!)} ms, with 70 days ${Math.round(twice.get(view)!)} ms`,
      met: once.get(view)! <= 200 && twice.get(view)! <= Math.max(200, once.get(view)! * 1.25) && twice.get(view)! <= once.get(view)! * 1.35 + 10
    })),
    { what: 'script sent for a first view, compressed', budget: 'at most 250 kB', measured: `${Math.round(first.script / 1000)} kB`, met: first.script <= 250_000 },
    { what: 'filtering the table of 500 checks in the browser', budget: 'at most 50 ms', measured: `${Math.round(first.filter)} ms`, met: first.filter <= 50 },
    { what: 'first view usable', budget: 'within 1.5 s', measured: `${Math.round(first.usable)} ms`, met: first.usable <= 1500 },
    { what: 'memory of the web process after that', budget: 'at most 400 MB', measured: `${memory} MB`, met: memory <= 400 }
  ]
}

async function firstView(cookie: string): Promise<{ script: number; usable: number; filter: number }> {
  const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--disable-component-update', '--disable-sync', '--no-first-run'] })
  try {
    const context = await browser.newContext({ extraHTTPHeaders: { cookie } })
    const page = await context.newPage()
    const started = performance.now()
    await page.goto(`http://127.0.0.1:${PORT}/`, { waitUntil: 'load' })
    await page.waitForFunction(() => document.querySelector('[aria-label^="Find or do anything"]') !== null && document.readyState === 'complete')
    const usable = performance.now() - started
    const script = await page.evaluate(() => (performance.getEntriesByType('resource') as PerformanceResourceTiming[]).filter((each) => /\.js(\?|$)/.test(each.name)).reduce((sum, each) => sum + each.encodedBodySize, 0))
    await page.goto(`http://127.0.0.1:${PORT}/checks`)
    await page.getByText('500 of 500', { exact: true }).waitFor()
    await page.waitForTimeout(1500)
    const filter = await page.evaluate(async () => {
      const field = document.querySelector<HTMLInputElement>('input[aria-label="Filter"]')!
      const status = () => [...document.querySelectorAll('[role=status]')].some((each) => each.textContent === '1 of 500')
      const put = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!
      const begun = performance.now()
      put.call(field, 'Bench 499')
      field.dispatchEvent(new Event('input', { bubbles: true }))
      while (!status() && performance.now() - begun < 5000) await new Promise((resolve) => setTimeout(resolve, 1))
      return performance.now() - begun
    })
    return { script, usable, filter }
  } finally {
    await browser.close()
  }
}
