import { existsSync, readFileSync } from 'node:fs'
import http from 'node:http'
import type { AddressInfo } from 'node:net'
import { setTimeout as sleep } from 'node:timers/promises'
import { MINUTE, SECOND } from '../../src/core/units'
import type { Drill } from '../world/faults'
import { busyness } from '../world/faults'
import { SERVER_HOSTS } from '../world/hosts'
import { seeded } from '../world/random'

type Has = (drill: Drill) => boolean

/** Where hosts and jobs tell Hemeron things, by check: paths such as `/push/…`. */
export type Inlets = Record<string, string>

/** The machines of the servers that are switched on, by address; they answer echo requests. */
export const serversOn = (has: Has): string[] => SERVER_HOSTS.filter((host) => !(host.name === 'buoy' && has('host-dead'))).map((host) => host.address)

/** The numbers of one server at a moment, as the script for hosts names them. */
export function hostNumbers(name: string, at: number, has: Has): string {
  const random = seeded(SERVER_HOSTS.findIndex((host) => host.name === name), Math.floor(at / (30 * SECOND)))
  const { cpu, memory, disk } = SERVER_HOSTS.find((host) => host.name === name)!
  const busy = Math.min(1, cpu * busyness(at) * (0.8 + 0.4 * random()))
  const full = name === 'mole' && has('disk-filling') ? 0.972 : disk + 0.004 * random()
  const lines: [string, number][] = [
    ['cpu.busy', busy], ['memory.used', Math.min(1, memory + 0.02 * random())], ['load.one', busy * 4], ['load.core', busy], ['uptime.seconds', Math.floor(at / 1000) % 8_000_000],
    ['disk.used{mount="/"}', 0.31], ['disk.used{mount="/var/lib/data"}', full], ['disk.free_bytes{mount="/var/lib/data"}', Math.round((1 - full) * 4e11)],
    ['net.received{device="eth0"}', Math.round(busy * 2.4e6)], ['net.sent{device="eth0"}', Math.round(busy * 7.1e6)]
  ]
  return `${lines.map(([key, value]) => `${key} ${Number(value.toFixed(4))}`).join('\n')}\n`
}

/**
 * Hosts that push their numbers every half minute and jobs that call, over real HTTP, to wherever Hemeron is. What cannot
 * be told is lost, as with a real script.
 */
export async function tell(inletsFile: string, hemeron: string, has: Has): Promise<void> {
  const inlets = (): Inlets => (existsSync(inletsFile) ? (JSON.parse(readFileSync(inletsFile, 'utf8')) as Inlets) : {})
  const post = async (check: string, query = '', body = '') => {
    const path = inlets()[check]
    if (path) await fetch(`${hemeron}${path}${query}`, { method: 'POST', headers: { 'content-type': 'text/plain; version=0.0.4' }, body, signal: AbortSignal.timeout(5000) }).catch(() => undefined)
  }
  const hosts = async () => {
    for (;;) {
      for (const { name } of SERVER_HOSTS) {
        const isSilent = (name === 'quay' && has('script-silent')) || (name === 'buoy' && has('host-dead'))
        if (!isSilent) await post(`host-${name}`, '', hostNumbers(name, Date.now(), has))
      }
      await sleep(30 * SECOND - (Date.now() % (30 * SECOND)))
    }
  }
  const berthPlan = async () => {
    for (;;) {
      await sleep(MINUTE - (Date.now() % MINUTE))
      if (has('job-silent')) continue
      await post('berth-plan', '?event=begin')
      await sleep(4000 + Math.random() * 3000)
      if (has('job-fails')) await post('berth-plan', '?exit=3', 'reading the tide table\nno berth is free for Fulmar at 14:10\n')
      else await post('berth-plan', '?exit=0', 'reading the tide table\n9 ships, 9 berths\n')
    }
  }
  await Promise.all([hosts(), berthPlan()])
}

/** A ticket broker that shows its numbers as an exposition. */
export async function broker(): Promise<Record<string, number>> {
  const begun = Date.now() - 6 * 3600 * SECOND
  const server = http.createServer((request, response) => {
    if (request.url !== '/metrics') return response.writeHead(404).end()
    const now = Date.now()
    const taken = Math.floor(((now - begun) / 1000) * 3.2)
    return response.setHeader('content-type', 'application/openmetrics-text; version=1.0.0; charset=utf-8').end(`# HELP broker_queue Messages that wait.
# TYPE broker_queue gauge
broker_queue{queue="tickets"} ${Math.round(4 * busyness(now) + (now / 7000) % 5)}
broker_queue{queue="refunds"} ${Math.round((now / 60_000) % 3)}
# TYPE broker_messages counter
broker_messages_total{queue="tickets"} ${taken}
broker_messages_total{queue="refunds"} ${Math.floor(taken / 40)}
# TYPE broker_memory_bytes gauge
# UNIT broker_memory_bytes bytes
broker_memory_bytes 2.41e+08
# EOF
`)
  })
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve))
  return { '198.51.100.42:9090': (server.address() as AddressInfo).port }
}
