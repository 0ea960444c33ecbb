import { spawn } from 'node:child_process'
import { LinkError, type Hop, type Link } from '../../kinds/link'

const FLAGS = { udp: ['-U'], icmp: ['-I'], tcp: ['-T'] }

/** Finds the way to an address with the system's own tool, which may do what this process may not. */
export const path: Link['path'] = (address, { protocol, port, most, tries }, signal) => new Promise((resolve, reject) => {
  const parameters = [...FLAGS[protocol], ...(address.includes(':') ? ['-6'] : []), '-n', '-q', String(tries), '-m', String(most), '-w', '2,3,10', ...(port === undefined || protocol === 'icmp' ? [] : ['-p', String(port)]), address]
  const child = spawn('traceroute', parameters, { stdio: ['ignore', 'pipe', 'pipe'] })
  let output = ''
  let errors = ''
  child.stdout.on('data', (chunk: Buffer) => { output += chunk.toString('latin1') })
  child.stderr.on('data', (chunk: Buffer) => { errors += chunk.toString('latin1') })
  const abort = () => {
    child.kill('SIGKILL')
    reject(new LinkError('aborted', 'stopped'))
  }
  if (signal.aborted) return abort()
  signal.addEventListener('abort', abort, { once: true })
  child.once('error', () => reject(new LinkError('not-supported', 'this machine has no traceroute; install the package traceroute where the probe runs')))
  child.once('close', () => {
    signal.removeEventListener('abort', abort)
    const hops = readHops(output)
    if (hops.length === 0) reject(new LinkError('not-supported', `the path cannot be followed with ${protocol.toUpperCase()} from here: ${errors.trim().split('\n').find((line) => line !== '')?.slice(0, 160) ?? 'the system gives no answer'}`))
    else resolve(hops)
  })
  return undefined
})

/** Reads lines such as ` 3  192.0.2.1  1.20 ms 198.51.100.7  1.31 ms *`: who answered, and each round trip. */
export function readHops(output: string): Hop[] {
  const hops: Hop[] = []
  for (const line of output.split('\n')) {
    const [, away, rest] = /^\s*(\d{1,3})\s+(.+)$/.exec(line) ?? []
    if (!away || !rest) continue
    const addresses: string[] = []
    const times: (number | null)[] = []
    for (const [, time, lost, address] of rest.matchAll(/(\d+(?:\.\d+)?)\s+ms|(\*)|([0-9a-fA-F.:]+(?=\s|$))|![A-Z0-9]+/g)) {
      if (time !== undefined) times.push(Number(time))
      else if (lost) times.push(null)
      else if (address && !addresses.includes(address)) addresses.push(address)
    }
    if (times.length > 0) hops.push({ away: Number(away), addresses, times })
  }
  return hops
}
