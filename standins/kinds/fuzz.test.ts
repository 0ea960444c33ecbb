import { randomBytes } from 'node:crypto'
import dgram from 'node:dgram'
import net from 'node:net'
import fc from 'fast-check'
import { REASONS } from '../../src/core/reasons/reasons'
import { kinds } from '../../src/kinds/definitions'
import { Servers, tryKind } from './try-kind'

/** What each kind asks when a stranger answers: as much of it as needs an answer. */
const ASKING: Record<string, (port: number) => Record<string, unknown>> = {
  http: (port) => ({ url: `http://127.0.0.1:${port}/` }),
  sequence: (port) => ({ steps: [{ url: `http://127.0.0.1:${port}/` }], after: [{ url: `http://127.0.0.1:${port}/bye` }] }),
  websocket: (port) => ({ url: `ws://127.0.0.1:${port}/`, expect: 'never' }),
  grpc: (port) => ({ host: '127.0.0.1', port, plain: true }),
  tcp: (port) => ({ host: '127.0.0.1', port, send: 'hello', expect: 'never said' }),
  udp: (port) => ({ host: '127.0.0.1', port, send: 'hello', expect: 'never said', again: 0 }),
  dns: (port) => ({ name: 'www.orrinsound.example', resolver: `127.0.0.1:${port}` }),
  certificate: (port) => ({ host: '127.0.0.1', port, starttls: 'smtp' }),
  domain: (port) => ({ name: 'orrinsound.example', server: `http://127.0.0.1:${port}/` }),
  smtp: (port) => ({ host: '127.0.0.1', port, security: 'none', user: 'a', password: 'b' }),
  imap: (port) => ({ host: '127.0.0.1', port, security: 'none', user: 'a', password: 'b' }),
  pop3: (port) => ({ host: '127.0.0.1', port, security: 'none', user: 'a', password: 'b' }),
  mail: (port) => ({ to: 'a@b.example', from: 'a@b.example', through: '127.0.0.1', port, security: 'none', mailbox: '127.0.0.1', mailboxPort: port, mailboxSecurity: 'none', mailboxUser: 'a', mailboxPassword: 'b' }),
  ftp: (port) => ({ host: '127.0.0.1', port, security: 'none' }),
  sip: (port) => ({ host: '127.0.0.1', port }),
  stream: (port) => ({ url: `http://127.0.0.1:${port}/live.m3u8` }),
  mqtt: (port) => ({ host: '127.0.0.1', port, message: 'x' }),
  ntp: (port) => ({ host: '127.0.0.1', port }),
  redis: (port) => ({ host: '127.0.0.1', port, password: 'b' }),
  mysql: (port) => ({ host: '127.0.0.1', port, user: 'a', password: 'b' }),
  postgres: (port) => ({ host: '127.0.0.1', port, user: 'a', password: 'b' }),
  numbers: (port) => ({ scrape: `http://127.0.0.1:${port}/metrics` }),
  container: (port) => ({ container: 'a', engine: `http://127.0.0.1:${port}` })
}
const DATAGRAMS = ['udp', 'dns', 'sip', 'ntp']
/** Kinds that send packets no server of a test can answer, and those that ask nobody outside. */
const ELSEWHERE = ['ping', 'path', 'call', 'derived']

const servers = new Servers()
let answer: Buffer[] = []
let apart = 0
let port: number
let datagramPort: number
const socket = dgram.createSocket('udp4')

beforeAll(async () => {
  port = await servers.listen(net.createServer((stranger) => {
    stranger.on('error', () => undefined)
    const parts = [...answer]
    const say = () => {
      const part = parts.shift()
      if (stranger.destroyed) return
      if (part === undefined) return void stranger.end()
      stranger.write(part)
      setTimeout(say, apart)
    }
    say()
  }))
  socket.on('message', (_message, peer) => { for (const part of answer) socket.send(part.subarray(0, 1400), peer.port, peer.address) })
  await new Promise<void>((resolve) => socket.bind(0, '127.0.0.1', () => resolve()))
  datagramPort = socket.address().port
})
afterAll(() => {
  socket.close()
  servers.close()
})

/** Words that protocols begin with, so that strangers get a little further than the first line. */
const words = fc.constantFrom('220 ready\r\n', '250 fine\r\n', '* OK hello\r\n', 'h1 OK\r\n', '+OK\r\n', '-ERR\r\n', 'HTTP/1.1 200 OK\r\n\r\n', 'HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n\r\n', '#EXTM3U\n', 'SIP/2.0 200 OK\r\n', '$5\r\n', '*3\r\n', ':12\r\n', '\u0016\u0003\u0001', '{"State":{', 'N', 'S')
const pieces = fc.array(fc.oneof(words.map((text) => Buffer.from(text, 'latin1')), fc.uint8Array({ maxLength: 300 }).map((bytes) => Buffer.from(bytes)), fc.constant(Buffer.alloc(3000, 0x41))), { maxLength: 6 })

describe('whatever a stranger answers', () => {
  it('every kind is asked here, or says why not', () => {
    expect([...Object.keys(ASKING), ...ELSEWHERE].sort()).toEqual(Object.keys(kinds).sort())
  })

  it.each(Object.keys(ASKING))('%s ends in time with a reason of the closed list', async (kind) => {
    await fc.assert(fc.asyncProperty(pieces, fc.constantFrom(0, 3), async (parts, pause) => {
      answer = parts
      apart = pause
      const result = await tryKind({ [kind]: ASKING[kind]!(DATAGRAMS.includes(kind) ? datagramPort : port), wait: '150ms' })
      expect(result.took).toBeLessThan(1500)
      if (result.verdict === 'fail') expect(Object.keys(REASONS)).toContain(result.reason)
      if (result.verdict === 'fail') expect(result.sentence).toMatch(/\S/)
      expect(result.reason).not.toBe('probe-fault')
      expect(JSON.stringify(result).length).toBeLessThan(60_000)
    }), { numRuns: 25, endOnFailure: true })
  }, 60_000)

  it.each(Object.keys(ASKING).filter((kind) => !DATAGRAMS.includes(kind)))('%s is not held up by a slow drip, nor drowned by a flood', async (kind) => {
    answer = Array.from({ length: 200 }, () => Buffer.from('a'))
    apart = 20
    const drip = await tryKind({ [kind]: ASKING[kind]!(port), wait: '300ms' })
    expect(drip).toMatchObject({ verdict: 'fail' })
    expect(drip.took).toBeLessThan(900)
    answer = Array.from({ length: 120 }, () => randomBytes(65_536))
    apart = 0
    const before = process.memoryUsage().rss
    const flood = await tryKind({ [kind]: ASKING[kind]!(port), wait: '600ms' })
    expect(flood).toMatchObject({ verdict: 'fail' })
    expect(flood.took).toBeLessThan(1500)
    expect(process.memoryUsage().rss - before).toBeLessThan(150_000_000)
  }, 20_000)
})
