import { execFile, fork } from 'node:child_process'
import http from 'node:http'
import { writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { promisify } from 'node:util'
import { acceptedCheck } from '../../src/core/definitions/read-check'
import type { Check } from '../../src/core/definitions/check'
import { kinds } from '../../src/kinds/definitions'
import { runHttp } from '../../src/kinds/http/run'
import type { HttpTarget } from '../../src/kinds/http/target'
import { realLink } from '../../src/probe/links/real-link'
import { Scheduler } from '../../src/probe/scheduler'
import { median } from '../../src/core/usual/usual'
import type { Measured } from './measured'

const AT_ONCE = 24
const RUNS = 4000
const DELAY = 120

/** A target in a process of its own; /slow answers after a set time. */
async function target(): Promise<{ url: string; stop: () => void }> {
  const file = join(tmpdir(), `hemeron-bench-target-${process.pid}.mjs`)
  writeFileSync(file, `import http from 'node:http'
const server = http.createServer((request, response) => setTimeout(() => response.setHeader('content-type', 'application/json').end('{"ok":true,"queue":3}'), request.url === '/slow' ? ${DELAY} : 0))
server.listen(0, '127.0.0.1', 1024, () => process.send(server.address().port))`)
  const child = fork(file)
  const port = await new Promise<number>((resolve) => child.once('message', (message) => resolve(Number(message))))
  return { url: `http://127.0.0.1:${port}/`, stop: () => child.kill() }
}

async function rate(work: () => Promise<unknown>): Promise<number> {
  const started = performance.now()
  let left = RUNS
  await Promise.all(Array.from({ length: AT_ONCE }, async () => { while (left-- > 0) await work() }))
  return RUNS / ((performance.now() - started) / 1000)
}

const bare = (url: string) => () => new Promise<void>((resolve, reject) => {
  http.get(url, { agent: false }, (response) => {
    response.on('data', () => undefined)
    response.on('end', resolve)
  }).on('error', reject)
})

/** The probe's rows: rate beside a bare loop, phases beside curl, lateness of the schedule. */
export async function benchProbe(): Promise<Measured[]> {
  const { url, stop } = await target()
  const check = acceptedCheck({ check: 'x', name: 'X', http: { url }, pass: [{ status: 200 }, { json: '$.ok', is: true }, { phase: 'total', max: '5s' }] }, kinds) as Check<HttpTarget>
  const link = realLink({ allowsInternal: false, ranges: [] })
  const own = () => runHttp(check, link, { bodyKept: 16_000 })
  await rate(bare(url))
  await rate(own)
  const ratios: number[] = []
  let ownRate = 0
  for (let round = 0; round < 3; round += 1) {
    const loop = await rate(bare(url))
    ownRate = await rate(own)
    ratios.push(ownRate / loop)
  }
  const ratio = median(ratios)

  const slow = { ...check, target: { ...check.target, url: `${url}slow` } }
  const differences: number[] = []
  for (let round = 0; round < 25; round += 1) {
    const { stdout } = await promisify(execFile)('curl', ['-s', '-o', '/dev/null', '-w', '%{time_starttransfer} %{time_connect}', `${url}slow`])
    const [start, connect] = stdout.split(' ').map(Number) as [number, number]
    const measured = await runHttp(slow, link, { bodyKept: 100 })
    differences.push(Math.abs((start - connect) * 1000 - measured.phases.wait!))
  }
  const difference = median(differences)

  const half = ownRate / 2
  const lateness: number[] = []
  let running = 0
  const scheduler = new Scheduler((_item, due) => {
    lateness.push(Date.now() - due)
    running += 1
    void own().finally(() => { running -= 1 })
  })
  scheduler.set(Array.from({ length: Math.round(half * 10) }, (_, index) => ({ check: index + 1, location: 1, every: 10_000 })))
  await sleep(12_000)
  scheduler.stop()
  while (running > 0) await sleep(20)
  stop()
  const late = lateness.sort((a, b) => a - b)[Math.floor(lateness.length * 0.99)]!
  return [
    { what: 'HTTP checks a second beside a bare node:http loop', budget: 'at least 0.6', measured: `${ratio.toFixed(2)} (${Math.round(ownRate)} a second)`, met: ratio >= 0.6 },
    { what: 'wait beside curl, 120 ms injected, median difference', budget: 'at most 1 ms or 2%', measured: `${difference.toFixed(2)} ms (${((100 * difference) / DELAY).toFixed(1)}%)`, met: difference <= 1 || difference <= 0.02 * DELAY },
    { what: `lateness at half that rate (${Math.round(half)} a second), p99`, budget: 'at most 100 ms', measured: `${late} ms`, met: late <= 100 }
  ]
}
