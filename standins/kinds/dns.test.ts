import { spawn, type ChildProcess } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import packet from 'dns-packet'
import { realLink } from '../../src/probe/links/real-link'
import type { Link } from '../../src/kinds/link'
import { startNameServers } from '../servers/name-server'
import type { Drill } from '../world/faults'
import { PLACES } from '../world/places'
import { freePort } from './free-port'
import { Servers, tryKind } from './try-kind'

const RESOLVER = PLACES[0]!.resolver
const servers = new Servers()
const drills = new Set<Drill>()
let ports: Record<string, number>
let nsd: ChildProcess
let nsdPort: number
const folder = mkdtempSync(join(tmpdir(), 'hemeron-nsd-'))

beforeAll(async () => {
  ports = await startNameServers((drill) => drills.has(drill))
  nsdPort = await freePort()
  writeFileSync(join(folder, 'real.example.zone'), `$ORIGIN real.example.\n$TTL 600\n@ IN SOA ns hostmaster 1 7200 900 86400 300\n@ IN NS ns\nns IN A 127.0.0.1\nwww IN A 192.0.2.80\nwww IN A 192.0.2.81\n@ IN MX 5 mail\nmail IN A 192.0.2.82\ntxt IN TXT "one two" "three"\n_x._tcp IN SRV 1 2 443 www\n@ IN CAA 0 issue "ca.example"\nalias IN CNAME www\nbig IN TXT "${'a'.repeat(250)}" "${'b'.repeat(250)}" "${'c'.repeat(250)}" "${'d'.repeat(250)}" "${'e'.repeat(250)}" "${'f'.repeat(250)}"\n`)
  writeFileSync(join(folder, 'nsd.conf'), `server:\n  ip-address: 127.0.0.1@${nsdPort}\n  username: ""\n  chroot: ""\n  zonesdir: "${folder}"\n  database: ""\n  pidfile: ""\n  xfrdfile: "${folder}/xfrd"\n  zonelistfile: "${folder}/zones"\n  logfile: "${folder}/log"\nremote-control:\n  control-enable: no\nzone:\n  name: real.example\n  zonefile: real.example.zone\n`)
  nsd = spawn('/usr/sbin/nsd', ['-d', '-c', join(folder, 'nsd.conf')], { stdio: 'ignore' })
  for (let tries = 0; tries < 40; tries += 1) {
    if ((await tryKind({ dns: { name: 'www.real.example', resolver: `127.0.0.1:${nsdPort}` } })).verdict === 'pass') return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  throw new Error('nsd did not start')
}, 20_000)
afterAll(() => {
  nsd.kill()
  servers.close()
  rmSync(folder, { recursive: true, force: true })
})

/** A link on which the addresses of the world lead to its name servers. */
function worldLink(): Partial<Link> {
  const real = realLink({ allowsInternal: false, ranges: [] })
  const port = (address: string, asked: number, udp: string) => ports[`${address}:${asked}${udp}`] ?? asked
  return {
    resolver: () => RESOLVER,
    datagrams: (address, asked, signal) => real.datagrams('127.0.0.1', port(address, asked, '/udp'), signal),
    connect: (address, asked, signal) => real.connect('127.0.0.1', port(address, asked, ''), signal)
  }
}

describe('records from a real name server', () => {
  const ask = (more: object) => tryKind({ dns: { resolver: `127.0.0.1:${nsdPort}`, ...more } })
  it.each([
    [{ name: 'www.real.example' }, ['192.0.2.80', '192.0.2.81']], [{ name: 'real.example', type: 'MX' }, ['5 mail.real.example']], [{ name: 'txt.real.example', type: 'TXT' }, ['one twothree']],
    [{ name: '_x._tcp.real.example', type: 'SRV' }, ['1 2 443 www.real.example']], [{ name: 'real.example', type: 'CAA' }, ['0 issue "ca.example"']], [{ name: 'real.example', type: 'NS' }, ['ns.real.example']],
    [{ name: 'real.example', type: 'SOA' }, ['ns.real.example hostmaster.real.example 1 7200 900 86400 300']], [{ name: 'alias.real.example', type: 'CNAME' }, ['www.real.example']], [{ name: 'WWW.Real.Example', over: 'tcp' }, ['192.0.2.80', '192.0.2.81']]
  ])('%j', async (more, values) => {
    const result = await tryKind({ dns: { resolver: `127.0.0.1:${nsdPort}`, ...more }, pass: [{ values: { is: values } }, { flags: { has: 'aa' } }, { ttl: { min: '5m' } }] })
    expect(result).toMatchObject({ verdict: 'pass', readings: { ttl: 600_000 } })
  })

  it('follows an alias inside the answer, and asks again over TCP for one that is cut', async () => {
    expect(await tryKind({ dns: { resolver: `127.0.0.1:${nsdPort}`, name: 'alias.real.example' }, pass: [{ values: { has: '192.0.2.80' } }, { aliases: { is: 'www.real.example' } }] })).toMatchObject({ verdict: 'pass' })
    expect(await tryKind({ dns: { resolver: `127.0.0.1:${nsdPort}`, name: 'big.real.example', type: 'TXT' }, pass: [{ text: 'ffff' }] })).toMatchObject({ verdict: 'pass' })
  })

  it('tells a name that does not exist from a missing record and from a refusal', async () => {
    expect(await ask({ name: 'nowhere.real.example' })).toMatchObject({ verdict: 'fail', reason: 'name-not-found' })
    expect(await ask({ name: 'www.real.example', type: 'MX' })).toMatchObject({ verdict: 'fail', reason: 'no-record' })
    expect(await ask({ name: 'www.other.example' })).toMatchObject({ verdict: 'fail', reason: 'server-refused' })
  })

  it('says what was found when a value is another one', async () => {
    const result = await tryKind({ dns: { resolver: `127.0.0.1:${nsdPort}`, name: 'www.real.example' }, pass: [{ values: { is: '192.0.2.99' } }] })
    expect(result).toMatchObject({ verdict: 'fail', reason: 'condition' })
    expect(result.sentence).toContain('the value is 192.0.2.8')
  })
})

describe('servers that misbehave', () => {
  it.each<[string, (message: Buffer) => Uint8Array | undefined, string]>([
    ['silence', () => undefined, 'no-answer'],
    ['rubbish', () => Buffer.from('this is no DNS'), 'wrong-protocol'],
    ['SERVFAIL', (message) => packet.encode({ ...packet.decode(message), type: 'response', flags: 2 }), 'server-failed'],
    ['an answer to another question', (message) => packet.encode({ ...packet.decode(message), type: 'response', questions: [{ type: 'A', name: 'other.example' }] }), 'no-answer'],
    ['another id', (message) => packet.encode({ ...packet.decode(message), id: (packet.decode(message).id! + 1) % 65_536, type: 'response' }), 'no-answer']
  ])('%s', async (_name, answer, reason) => {
    const port = await servers.udp(answer)
    const result = await tryKind({ dns: { resolver: `127.0.0.1:${port}`, name: 'www.real.example' }, wait: '500ms' })
    expect(result).toMatchObject({ verdict: 'fail', reason })
    expect(result.took).toBeLessThan(900)
  })
})

describe('the way from the root', () => {
  it('asks the servers of every zone and shows each with its time', async () => {
    const result = await tryKind({ dns: { name: 'book.orrinsound.example', walk: true }, wait: '5s', pass: [{ values: { count: { min: 5 } } }, { disagreeing: { max: 0 } }] }, { link: worldLink() })
    expect(result).toMatchObject({ verdict: 'pass', readings: { steps: 3, silent: 0 } })
    const rows = result.evidence!.tables![0]!.rows
    expect(rows.map((row) => row[0])).toEqual(['.', '.', 'example', 'example', 'orrinsound.example', 'orrinsound.example'])
    expect(rows[0]![4]).toBe('ask the servers of example')
    expect(rows.at(-1)![4]).toContain('198.51.100.1')
  })

  it('shows which server at which step takes the time', async () => {
    drills.add('slow-name-server')
    const result = await tryKind({ dns: { name: 'tickets.orrinsound.example', walk: true }, wait: '8s' }, { link: worldLink() })
    drills.clear()
    expect(result).toMatchObject({ verdict: 'pass' })
    const slow = result.evidence!.tables![0]!.rows.filter((row) => Number(row[3]) > 800)
    expect(new Set(slow.map((row) => row[1]))).toEqual(new Set(['ns2.orrinsound.example']))
  })

  it('says who denies the name, and that nobody answers', async () => {
    expect(await tryKind({ dns: { name: 'nowhere.orrinsound.example', walk: true }, wait: '5s' }, { link: worldLink() })).toMatchObject({ verdict: 'fail', reason: 'name-not-found' })
    const link = worldLink()
    const silent = await servers.udp(() => undefined)
    const real = realLink({ allowsInternal: false, ranges: [] })
    const cut: Partial<Link> = { ...link, datagrams: (address, asked, signal) => (/^192\.0\.2\.6/.test(address) ? real.datagrams('127.0.0.1', silent, signal) : link.datagrams!(address, asked, signal)) }
    const result = await tryKind({ dns: { name: 'book.orrinsound.example', walk: true }, wait: '6s' }, { link: cut })
    expect(result).toMatchObject({ verdict: 'fail', reason: 'no-answer', sentence: expect.stringContaining('none of the servers of orrinsound.example') as string })
    expect(result.evidence!.tables![0]!.rows.filter((row) => row[3] === null)).toHaveLength(2)
  }, 15_000)
})
