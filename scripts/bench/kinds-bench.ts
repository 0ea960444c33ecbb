import { fork } from 'node:child_process'
import dgram from 'node:dgram'
import { writeFileSync } from 'node:fs'
import net from 'node:net'
import { createRequire } from 'node:module'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import packet from 'dns-packet'
import { acceptedCheck } from '../../src/core/definitions/read-check'
import { median } from '../../src/core/usual/usual'
import { kinds } from '../../src/kinds/definitions'
import type { KindRunner } from '../../src/kinds/runner'
import { runners } from '../../src/kinds/runners'
import { realLink } from '../../src/probe/links/real-link'
import type { Measured } from './measured'

const AT_ONCE = 24
const RUNS = 3000
const ROUNDS = 3
const TARGETS = 2000
const link = realLink({ allowsInternal: false, ranges: [] })

/** Servers in a process of their own: TCP that takes connections, DNS that answers one address. */
async function servers(): Promise<{ tcp: number; dns: number; stop: () => void }> {
  const file = join(tmpdir(), `hemeron-bench-servers-${process.pid}.cjs`)
  writeFileSync(file, `const net = require('node:net'), dgram = require('node:dgram'), packet = require(${JSON.stringify(createRequire(import.meta.url).resolve('dns-packet'))})
const tcp = net.createServer((socket) => socket.on('error', () => undefined).end())
const dns = dgram.createSocket('udp4')
dns.on('message', (message, peer) => {
  const { id, questions } = packet.decode(message)
  dns.send(packet.encode({ type: 'response', id, questions, answers: [{ type: 'A', name: questions[0].name, ttl: 60, data: '192.0.2.1' }] }), peer.port, peer.address)
})
tcp.listen(0, '127.0.0.1', 1024, () => dns.bind(0, '127.0.0.1', () => process.send({ tcp: tcp.address().port, dns: dns.address().port })))`)
  const child = fork(file)
  const ports = await new Promise<{ tcp: number; dns: number }>((resolve) => child.once('message', (message) => resolve(message as { tcp: number; dns: number })))
  return { ...ports, stop: () => child.kill() }
}

async function rate(work: () => Promise<unknown>): Promise<number> {
  const started = performance.now()
  let left = RUNS
  await Promise.all(Array.from({ length: AT_ONCE }, async () => { while (left-- > 0) await work() }))
  return RUNS / ((performance.now() - started) / 1000)
}

const bareTcp = (port: number) => () => new Promise<void>((resolve) => {
  const socket = net.connect(port, '127.0.0.1', () => {
    socket.destroy()
    resolve()
  })
})

const bareDns = (port: number) => () => new Promise<void>((resolve) => {
  const socket = dgram.createSocket('udp4')
  socket.on('message', (message) => {
    packet.decode(message)
    socket.close()
    resolve()
  })
  socket.connect(port, '127.0.0.1', () => socket.send(packet.encode({ type: 'query', id: 7, flags: packet.RECURSION_DESIRED, questions: [{ type: 'A', name: 'www.orrinsound.example' }] })))
})

const own = (written: Record<string, unknown>) => {
  const check = acceptedCheck({ check: 'x', name: 'X', ...written }, kinds)
  const runner: KindRunner = runners[check.kind]!
  return () => runner.run(check, link, { bodyKept: 1000 })
}

/** Rates of small kinds beside bare loops of the same package, and two thousand targets of pings at once. */
export async function benchKinds(): Promise<Measured[]> {
  const { tcp, dns, stop } = await servers()
  const rows: Measured[] = []
  for (const [name, bare, mine] of [
    ['TCP', bareTcp(tcp), own({ tcp: { host: '127.0.0.1', port: tcp } })], ['DNS', bareDns(dns), own({ dns: { name: 'www.orrinsound.example', resolver: `127.0.0.1:${dns}` }, pass: [{ values: { is: '192.0.2.1' } }] })]
  ] as const) {
    await rate(bare)
    await rate(mine)
    const ratios: number[] = []
    let last = 0
    for (let round = 0; round < ROUNDS; round += 1) {
      const loop = await rate(bare)
      last = await rate(mine)
      ratios.push(last / loop)
    }
    const ratio = median(ratios)
    rows.push({ what: `${name} checks a second beside a bare loop of the same package`, budget: 'at least 0.4', measured: `${ratio.toFixed(2)} (${Math.round(last)} a second)`, met: ratio >= 0.4 })
  }
  stop()
  const started = performance.now()
  const pings = await Promise.all(Array.from({ length: TARGETS }, (_, index) => own({ ping: { host: `127.1.${Math.floor(index / 250)}.${(index % 250) + 1}`, count: 3, apart: '1s' }, wait: '30s' })()))
  const took = (performance.now() - started) / 1000
  const answered = pings.filter((each) => each.verdict === 'pass').length
  const slowest = pings.map((each) => each.readings?.median ?? Infinity).sort((a, b) => a - b)[Math.floor(TARGETS * 0.99)]!
  rows.push({ what: `${TARGETS} ping targets, three packets each, in one probe`, budget: 'all answer within 15 s', measured: `${answered} answer within ${took.toFixed(1)} s, p99 ${slowest.toFixed(2)} ms`, met: answered === TARGETS && took <= 15 })
  return rows
}
