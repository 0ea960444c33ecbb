import { spawn } from 'node:child_process'
import { aborted, LinkError, type Echoes, type Link } from '../../kinds/link'

/** Requests that come within this time and are alike go out together. Milliseconds. */
const GATHER = 20
/** Targets that one process asks. */
const TARGETS_MOST = 500

interface Asked {
  address: string
  resolve: (times: (number | null)[]) => void
  reject: (error: LinkError) => void
}

const gathering = new Map<string, { echoes: Echoes; isIpv6: boolean; asked: Asked[] }>()

/**
 * Sends ICMP echo requests through the system's tool for many targets at once, which may open raw sockets where this
 * process may not. Requests that are alike and come at nearly the same time share one process.
 */
export const ping: Link['ping'] = (address, echoes, signal) => {
  const isIpv6 = address.includes(':')
  const key = `${echoes.count}/${echoes.size}/${echoes.interval}/${echoes.wait}/${isIpv6}`
  const answered = new Promise<(number | null)[]>((resolve, reject) => {
    const group = gathering.get(key) ?? { echoes, isIpv6, asked: [] }
    group.asked.push({ address, resolve, reject })
    if (!gathering.has(key)) {
      gathering.set(key, group)
      setTimeout(() => send(key), GATHER)
    } else if (group.asked.length >= TARGETS_MOST) send(key)
  })
  return Promise.race([answered, aborted(signal)])
}

function send(key: string): void {
  const group = gathering.get(key)
  if (!group) return
  gathering.delete(key)
  const { echoes: { count, size, interval, wait }, isIpv6, asked } = group
  const targets = [...new Set(asked.map((each) => each.address))]
  // -i 1: one millisecond between packets to different targets, so that two thousand go out in two seconds
  const child = spawn('fping', [isIpv6 ? '-6' : '-4', '-C', String(count), '-b', String(Math.max(12, size)), '-p', String(interval), '-t', String(wait), '-i', '1', '-q', '-f', '-'], { stdio: ['pipe', 'ignore', 'pipe'] })
  let output = ''
  child.stderr.on('data', (chunk: Buffer) => { output += chunk.toString('latin1') })
  child.stdin.on('error', () => undefined)
  child.stdin.end(`${targets.join('\n')}\n`)
  const fail = (sentence: string) => { for (const each of asked) each.reject(new LinkError('not-supported', sentence)) }
  child.once('error', () => fail('this machine has no fping; install the package fping where the probe runs'))
  child.once('close', () => {
    const times = readEchoes(output)
    if (times.size === 0) return fail(`echo requests cannot be sent from here: ${output.trim().split('\n')[0]?.slice(0, 200) || 'no answer from the system'}`)
    for (const each of asked) each.resolve(times.get(each.address) ?? Array.from({ length: count }, () => null))
    return undefined
  })
}

/** Reads lines such as `192.0.2.1 : 0.43 - 0.51`: the round trips in milliseconds, `-` where no answer came. */
export function readEchoes(output: string): Map<string, (number | null)[]> {
  const found = new Map<string, (number | null)[]>()
  for (const line of output.split('\n')) {
    const [, address, times] = /^(\S+)\s+: ((?:(?:-|\d+(?:\.\d+)?)\s*)+)$/.exec(line) ?? []
    if (address && times) found.set(address, times.trim().split(/\s+/).map((each) => (each === '-' ? null : Number(each))))
  }
  return found
}
