import { spawn, type ChildProcess } from 'node:child_process'
import { readFileSync } from 'node:fs'
import http from 'node:http'
import type { AddressInfo } from 'node:net'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import type { Observation } from '../../src/core/observation'
import { DAY } from '../../src/core/units'
import { addCheck } from '../../src/store/define-one'
import { listChecks } from '../../src/store/checks'
import { openPool, type Pool } from '../../src/store/database'
import { addChannel } from '../../src/store/deliveries'
import { waitingArrivals } from '../../src/store/engine-work'
import { listIncidents } from '../../src/store/incidents'
import { addLocation, listLocations, plainLocation } from '../../src/store/locations'
import { keepPartitions } from '../../src/store/migrate'
import { acceptObservations } from '../../src/store/probes'
import { PLACES } from '../../standins/world/places'
import type { Measured } from './measured'

const CHECKS = 500
const RATE = 4000
const SECONDS = 20

/** Resident memory of a process in megabytes. */
export const memoryOf = (child: ChildProcess) => Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))![1]) / 1000)

export function startEngine(url: string, root: string): ChildProcess {
  return spawn(process.execPath, [join(root, 'build/engine.js')], { env: { ...process.env, HEMERON_DATABASE: url, NODE_OPTIONS: '--max-old-space-size=380' }, stdio: ['ignore', 'ignore', 'inherit'] })
}

/** Five hundred checks and twelve locations, by their numbers; made once. */
export async function defineBench(pool: Pool): Promise<{ checks: number[]; locations: number[] }> {
  const known = await listChecks(pool)
  if (known.length === 0) {
    for (const [index, { key, place, country, network, networkType }] of PLACES.entries()) await addLocation(pool, plainLocation({ key, place, country, network, networkType }), index)
    for (let number = 1; number <= CHECKS; number += 1) await addCheck(pool, { check: `bench-${number}`, name: `Bench ${number}`, http: { url: `http://bench-${number}.example/` }, down: { tries: 2, apart: '1s', locations: 2 } }, null, Date.now())
  }
  return { checks: (await listChecks(pool)).map((each) => each.id), locations: (await listLocations(pool)).map((each) => each.id) }
}

/** The engine's rows: observations to evaluated state, and a confirmed state to its first delivery. */
export async function benchEngine(url: string, root: string): Promise<Measured[]> {
  const pool = openPool(url)
  await keepPartitions(pool, Date.now(), { observation: DAY, evidence: DAY })
  const { checks, locations } = await defineBench(pool)
  const firstArrivals = new Map<string, number>()
  const receiver = http.createServer((request, response) => {
    let body = ''
    request.on('data', (chunk: Buffer) => { body += chunk.toString() })
    request.on('end', () => {
      const { incident, news } = JSON.parse(body) as { incident: number; news: string }
      if (!firstArrivals.has(`${news}/${incident}`)) firstArrivals.set(`${news}/${incident}`, Date.now())
      response.end()
    })
  })
  await new Promise<void>((resolve) => receiver.listen(0, '127.0.0.1', resolve))
  await addChannel(pool, { key: 'bench', name: 'Bench', kind: 'webhook', person: null, config: { url: `http://127.0.0.1:${(receiver.address() as AddressInfo).port}/`, secret: 'bench-secret' } })
  const engine = startEngine(url, root)
  await sleep(2500)

  const observation = (check: number, location: number, at: number, verdict: Observation['verdict']): Observation => ({
    check, location, at, occasion: 'scheduled', verdict, version: 1, status: verdict === 'fail' ? 503 : 200, phases: { lookup: 3, connect: 12, tls: 25, wait: 60 + Math.random() * 50, receive: 1 }, total: 120,
    address: `2001:db8::${check.toString(16)}`, server: 'one', protocol: 'HTTP/1.1', ...(verdict === 'fail' ? { reason: 'status', sentence: 'the status is 503' } : {})
  })
  let sent = 0
  let behind = 0
  const base = Date.now()
  for (let tick = 0; tick < SECONDS * 10; tick += 1) {
    const batch = Array.from({ length: RATE / 10 }, (_, index) => {
      const number = tick * (RATE / 10) + index
      return observation(checks[number % CHECKS]!, locations[Math.floor(number / CHECKS) % locations.length]!, base + tick * 100 + (index % 97), 'pass')
    })
    await acceptObservations(pool, batch, Date.now())
    sent += batch.length
    if (tick % 10 === 9) behind = Math.max(behind, (await waitingArrivals(pool, Date.now())).oldest)
    await sleep(Math.max(0, base + (tick + 1) * 100 - Date.now()))
  }
  const offered = sent / ((Date.now() - base) / 1000)
  while ((await waitingArrivals(pool, Date.now())).count > 0) await sleep(50)
  const done = sent / ((Date.now() - base) / 1000)
  const memory = memoryOf(engine)

  for (let group = 0; group < 40; group += 1) {
    const at = Date.now()
    const [one, two] = [locations[0]!, locations[1]!]
    await acceptObservations(pool, [0, 1].flatMap((again) => [one, two].map((location) => observation(checks[group]!, location, at + again * 10, 'fail'))), at)
    await sleep(120)
  }
  await sleep(2500)
  const delays = (await listIncidents(pool, { limit: 1000 })).flatMap((incident) => {
    const arrived = firstArrivals.get(`down/${incident.id}`)
    return arrived === undefined ? [Infinity] : [arrived - incident.openedAt]
  }).sort((a, b) => a - b)
  const p99 = delays[Math.ceil(delays.length * 0.99) - 1] ?? Infinity
  const storm = await benchStorm(pool, checks.slice(100, 400), (check, verdict, at) => locations.slice(0, 2).map((location) => ({ ...observation(check, location, at, verdict), address: '192.0.2.10' })), firstArrivals)
  engine.kill('SIGTERM')
  receiver.close()
  await pool.end()
  return [
    { what: 'observations a second to evaluated state, one engine', budget: 'at least 3 000, 1 s behind', measured: `${Math.round(done)} of ${Math.round(offered)} offered, ${(behind / 1000).toFixed(1)} s behind`, met: done >= 3000 && behind <= 1000 },
    { what: `called down to first delivery, p99 of ${delays.length}`, budget: 'at most 1 s', measured: `${p99} ms`, met: p99 <= 1000 },
    storm,
    { what: 'memory of the engine at that load', budget: 'at most 400 MB', measured: `${memory} MB`, met: memory <= 400 }
  ]
}

/** Many checks that fail at once on one cause: how long until everything is one incident and its message is there. */
async function benchStorm(pool: ReturnType<typeof openPool>, checks: number[], observe: (check: number, verdict: Observation['verdict'], at: number) => Observation[], arrivals: ReadonlyMap<string, number>): Promise<Measured> {
  const at = Date.now()
  const known = new Set((await listIncidents(pool, { limit: 1000 })).map((each) => each.id))
  await acceptObservations(pool, [0, 10].flatMap((later) => checks.flatMap((check) => observe(check, 'fail', at + later))), at)
  while ((await waitingArrivals(pool, Date.now())).count > 0) await sleep(20)
  const all = Date.now()
  await sleep(1500)
  const fresh = (await listIncidents(pool, { limit: 1000 })).filter((each) => !known.has(each.id))
  const messages = [...arrivals].filter(([key]) => fresh.some((each) => key === `down/${each.id}`))
  const first = Math.min(...messages.map(([, arrived]) => arrived)) - Math.min(...fresh.map((each) => each.openedAt))
  return {
    what: `${checks.length} checks down at once on one cause`, budget: 'one incident, one message, within 2 s', met: fresh.length === 1 && messages.length === 1 && first <= 2000 && fresh[0]!.parts === checks.length - 1,
    measured: `${fresh.length} incident of ${1 + (fresh[0]?.parts ?? 0)} checks, ${messages.length} message after ${first} ms; all judged ${all - at} ms after they came`
  }
}
