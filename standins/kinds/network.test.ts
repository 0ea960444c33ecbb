import tls from 'node:tls'
import type net from 'node:net'
import { changedSteps } from '../../src/core/network/path-changes'
import { roundTrips } from '../../src/core/network/round-trips'
import { readEchoes } from '../../src/probe/links/echo'
import { readHops } from '../../src/probe/links/trace'
import { LinkError, type Hop } from '../../src/kinds/link'
import { makeAuthority, type Authority } from '../servers/certificates'
import { Servers, tryKind } from './try-kind'

const servers = new Servers()
let authority: Authority
beforeAll(async () => { authority = await makeAuthority() })
afterAll(() => servers.close())

describe('ping', () => {
  it('sends real echo requests and says loss, round trips and jitter', async () => {
    const result = await tryKind({ ping: { host: '127.0.0.1', count: 4, apart: '20ms' }, pass: [{ loss: { max: '0%' } }, { median: { max: '200ms' } }] })
    expect(result).toMatchObject({ verdict: 'pass', address: '127.0.0.1', readings: { loss: 0 } })
    expect(result.readings!.median).toBeLessThan(50)
    expect(result.readings!.fastest).toBeLessThanOrEqual(result.readings!.slowest!)
    expect(result.total).toBe(result.readings!.median)
    expect(result.evidence?.tables?.[0]?.rows).toHaveLength(4)
  })

  it('asks many targets with one process, each with its own answer', async () => {
    const results = await Promise.all(Array.from({ length: 60 }, (_, index) => tryKind({ ping: { host: `127.0.1.${index + 1}`, count: 2, apart: '10ms' }, wait: '5s' })))
    expect(results.map((result) => result.verdict)).toEqual(results.map(() => 'pass'))
    expect(new Set(results.map((result) => result.address)).size).toBe(60)
  })

  it('tells silence from loss, and judges loss by its limits', async () => {
    const echoes = (times: (number | null)[]) => ({ link: { ping: () => Promise.resolve(times) } })
    expect(await tryKind({ ping: { host: '127.0.0.1' } }, echoes([null, null, null]))).toMatchObject({ verdict: 'fail', reason: 'no-answer' })
    expect(await tryKind({ ping: { host: '127.0.0.1' }, pass: [{ loss: { max: '60%', warn: '20%' } }] }, echoes([10, null, 12, 11]))).toMatchObject({ verdict: 'warn', sentence: expect.stringContaining('25%') as string })
    expect(await tryKind({ ping: { host: '127.0.0.1' }, pass: [{ loss: { max: '60%' } }] }, echoes([10, null, null, null]))).toMatchObject({ verdict: 'fail', reason: 'condition', readings: { loss: 0.75 } })
  })

  it('says when the machine of the probe cannot send such packets', async () => {
    const result = await tryKind({ ping: { host: '127.0.0.1' } }, { link: { ping: () => Promise.reject(new LinkError('not-supported', 'no fping')) } })
    expect(result).toMatchObject({ verdict: 'fail', reason: 'not-supported' })
  })

  it('reads what the system tool says, and nothing into rubbish', () => {
    expect([...readEchoes('192.0.2.1   : 0.43 - 12.1\n2001:db8::1 : -\nICMP Host Unreachable from 192.0.2.9\n\n')]).toEqual([['192.0.2.1', [0.43, null, 12.1]], ['2001:db8::1', [null]]])
    expect(readEchoes('fping: error\nx y z : 12 ms').size).toBe(0)
  })

  it('works out median and jitter of what came back', () => {
    expect(roundTrips([10, 14, null, 12])).toEqual({ loss: 0.25, fastest: 10, median: 12, slowest: 14, jitter: 3 })
    expect(roundTrips([])).toEqual({ loss: 1 })
    expect(roundTrips([7])).toEqual({ loss: 0, fastest: 7, median: 7, slowest: 7 })
  })
})

describe('tcp', () => {
  it('connects, and reads nothing when nothing is asked', async () => {
    const port = await servers.tcp(() => undefined)
    expect(await tryKind({ tcp: { host: '127.0.0.1', port } })).toMatchObject({ verdict: 'pass', address: '127.0.0.1' })
  })

  it('sends, waits for what it expects over several packets, and keeps the conversation', async () => {
    const port = await servers.tcp((socket) => socket.once('data', (asked) => {
      socket.write(`you said ${asked.toString('hex')}`)
      setTimeout(() => socket.write(' READY\r\n'), 60)
    }))
    const result = await tryKind({ tcp: { host: '127.0.0.1', port, send: 'hi\\r\\n\\x00', expect: 'READY' }, pass: [{ text: '68690d0a00' }] })
    expect(result).toMatchObject({ verdict: 'pass', bytesSent: 5 })
    expect(result.phases.receive).toBeGreaterThan(40)
    expect(result.evidence?.talk?.map((line) => line.way)).toEqual(['sent', 'received'])
  })

  it('says what came instead, and gives up in time on silence and floods', async () => {
    const other = await servers.tcp((socket) => socket.end('SSH-2.0-x\r\n'))
    expect(await tryKind({ tcp: { host: '127.0.0.1', port: other, expect: '^220 ' } })).toMatchObject({ verdict: 'fail', reason: 'bad-answer', sentence: expect.stringContaining('SSH-2.0-x') as string })
    const silent = await servers.tcp(() => undefined)
    const quiet = await tryKind({ tcp: { host: '127.0.0.1', port: silent, expect: 'x' } })
    expect(quiet).toMatchObject({ verdict: 'fail', reason: 'timed-out-wait' })
    expect(quiet.took).toBeLessThan(1200)
    const flood = await servers.tcp((socket) => { const timer = setInterval(() => socket.write('a'.repeat(65_536)), 1); socket.once('close', () => clearInterval(timer)) })
    expect(await tryKind({ tcp: { host: '127.0.0.1', port: flood, expect: 'x' }, wait: '3s' })).toMatchObject({ verdict: 'fail', reason: 'answer-too-large' })
  })

  it('refuses, shakes hands for TLS and judges the certificate', async () => {
    expect(await tryKind({ tcp: { host: '127.0.0.1', port: 1 } })).toMatchObject({ verdict: 'fail', reason: 'connection-refused' })
    const secure = await servers.listen(tls.createServer(await authority.issue(['localhost'], 9), (socket) => socket.end('hello')) as unknown as net.Server)
    expect(await tryKind({ tcp: { host: 'localhost', port: secure, tls: true }, pass: [{ certificate: { min: '3d', warn: '14d' } }] }, { authority: authority.pem })).toMatchObject({ verdict: 'warn' })
    expect(await tryKind({ tcp: { host: 'localhost', port: secure, tls: true } })).toMatchObject({ verdict: 'fail', reason: 'certificate-not-trusted' })
    expect(await tryKind({ tcp: { host: 'localhost', port: secure, tls: true, unverified: true } })).toMatchObject({ verdict: 'pass' })
    const plain = await servers.tcp((socket) => socket.write('220 hello\r\n'))
    expect(await tryKind({ tcp: { host: '127.0.0.1', port: plain, tls: true, unverified: true } })).toMatchObject({ verdict: 'fail', reason: 'tls-failed' })
  })

  it('may be turned round: a port that must stay shut', async () => {
    expect(await tryKind({ tcp: { host: '127.0.0.1', port: 1 }, turned: true })).toMatchObject({ verdict: 'pass' })
    const port = await servers.tcp(() => undefined)
    expect(await tryKind({ tcp: { host: '127.0.0.1', port }, turned: true })).toMatchObject({ verdict: 'fail', reason: 'turned-round' })
  })
})

describe('udp', () => {
  it('sends text or bytes and judges the answer', async () => {
    const port = await servers.udp((message) => Buffer.from(`players=${message.toString('hex')}`))
    expect(await tryKind({ udp: { host: '127.0.0.1', port, hex: 'ff ff 01', expect: 'players=' }, pass: [{ text: 'ffff01' }] })).toMatchObject({ verdict: 'pass', bytesSent: 3 })
    expect(await tryKind({ udp: { host: '127.0.0.1', port, send: 'x', expect: 'nothing' } })).toMatchObject({ verdict: 'fail', reason: 'bad-answer' })
  })

  it('asks again when a packet is lost, and says silence is silence', async () => {
    let heard = 0
    const port = await servers.udp(() => ((heard += 1) === 1 ? undefined : Buffer.from('ok')))
    expect(await tryKind({ udp: { host: '127.0.0.1', port, send: 'x' } })).toMatchObject({ verdict: 'pass' })
    const silent = await servers.udp(() => undefined)
    const result = await tryKind({ udp: { host: '127.0.0.1', port: silent, send: 'x' } })
    expect(result).toMatchObject({ verdict: 'fail', reason: 'no-answer' })
    expect(result.took).toBeLessThan(1200)
  })

  it('hears that nothing listens', async () => {
    const port = await servers.udp(() => undefined)
    expect(await tryKind({ udp: { host: '127.0.0.1', port: port === 9 ? 10 : 9, send: 'x' } })).toMatchObject({ verdict: 'fail', reason: 'connection-refused' })
  })
})

describe('path', () => {
  it('follows a real path', async () => {
    const result = await tryKind({ path: { host: '127.0.0.1' }, wait: '5s' })
    expect(result).toMatchObject({ verdict: 'pass', readings: { hops: 1, loss: 0, changes: 0 } })
    expect(result.evidence?.tables?.[0]?.rows[0]?.[1]).toBe('127.0.0.1')
  })

  const hop = (away: number, ...addresses: string[]): Hop => ({ away, addresses, times: addresses.length > 0 ? [away, away + 1, away] : [null, null, null] })
  const way = (...hops: Hop[]) => ({ link: { path: () => Promise.resolve(hops) } })

  it('notices another way, warns of it and shows what was there before', async () => {
    const memory = new Map<string, unknown>()
    const check = { path: { host: '127.0.0.1' }, pass: [{ changes: { warn: { max: 0 } } }] }
    const first = await tryKind(check, { ...way(hop(1, '192.0.2.1'), hop(2), hop(3, '127.0.0.1')), memory })
    const second = await tryKind(check, { ...way(hop(1, '192.0.2.9'), hop(2, '192.0.2.2'), hop(3, '127.0.0.1')), memory })
    expect([first.verdict, second.verdict]).toEqual(['pass', 'warn'])
    expect(second.readings).toMatchObject({ changes: 1, hops: 3 })
    expect(second.evidence?.tables?.[0]?.rows[0]?.at(-1)).toBe('192.0.2.1')
  })

  it('says where the way ends when the target does not answer', async () => {
    const result = await tryKind({ path: { host: '127.0.0.1' } }, way(hop(1, '192.0.2.1'), hop(2, '192.0.2.2'), hop(3), hop(4)))
    expect(result).toMatchObject({ verdict: 'fail', reason: 'no-answer', sentence: expect.stringContaining('after 2 steps, behind 192.0.2.2') as string })
  })

  it('reads what the system tool says: several routers at one step, silence, marks', () => {
    const hops = readHops(' 1  192.0.2.1  0.51 ms  0.40 ms  0.39 ms\n 2  * * *\n 3  198.51.100.7  9.10 ms 198.51.100.8  9.50 ms *\n 4  203.0.113.5  20.1 ms !X  20.0 ms !X *\ntraceroute to x\n')
    expect(hops).toEqual([
      { away: 1, addresses: ['192.0.2.1'], times: [0.51, 0.4, 0.39] }, { away: 2, addresses: [], times: [null, null, null] },
      { away: 3, addresses: ['198.51.100.7', '198.51.100.8'], times: [9.1, 9.5, null] }, { away: 4, addresses: ['203.0.113.5'], times: [20.1, 20, null] }
    ])
  })

  it('takes no step for changed that did not answer, nor one of several routers', () => {
    expect(changedSteps({ 1: ['a'], 2: [], 3: ['c', 'd'] }, { 1: ['b'], 2: ['x'], 3: ['d'], 4: ['e'] })).toEqual([1])
  })
})
