import http from 'node:http'
import http2 from 'node:http2'
import net, { type AddressInfo } from 'node:net'
import tls from 'node:tls'
import { gzipSync } from 'node:zlib'
import { acceptedCheck } from '../src/core/definitions/read-check'
import type { Check } from '../src/core/definitions/check'
import { kinds } from '../src/kinds/definitions'
import { runHttp } from '../src/kinds/http/run'
import type { HttpTarget } from '../src/kinds/http/target'
import { isInternalAddress, isRange, refusalOf } from '../src/kinds/address-guard'
import { realLink } from '../src/probe/links/real-link'
import { makeAuthority, type Authority } from './servers/certificates'

const servers: { close: () => unknown }[] = []
const sockets = new Set<net.Socket>()
let authority: Authority

const listen = (server: net.Server): Promise<number> => new Promise((resolve) => {
  servers.push(server)
  server.on('connection', (socket) => sockets.add(socket))
  server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port))
})
const raw = (talk: (socket: net.Socket) => void) => listen(net.createServer((socket) => {
  socket.on('error', () => undefined)
  talk(socket)
}))
const web = (handler: http.RequestListener) => listen(http.createServer(handler))

async function run(url: string, more: Record<string, unknown> = {}, trust = false) {
  const { http: target, ...rest } = more as { http?: object }
  const check = acceptedCheck({ check: 'x', name: 'X', http: { url, ...target }, wait: '700ms', ...rest }, kinds) as Check<HttpTarget>
  const link = { ...realLink({ allowsInternal: false, ranges: [] }), ...(trust ? { trust: tls.createSecureContext({ ca: authority.pem }) } : {}) }
  const started = Date.now()
  const measured = await runHttp(check, link, { bodyKept: 500 })
  return { ...measured, took: Date.now() - started }
}

beforeAll(async () => { authority = await makeAuthority() })
afterAll(() => {
  for (const socket of sockets) socket.destroy()
  for (const server of servers) server.close()
})

describe('a good answer', () => {
  it('has every phase, the status, sizes, address and evidence', async () => {
    const port = await web((_request, response) => setTimeout(() => response.setHeader('x-served-by', 'one').end('{"ok":true}'), 60))
    const result = await run(`http://127.0.0.1:${port}/`, { pass: [{ status: 200 }, { json: '$.ok', is: true }] })
    expect(result).toMatchObject({ verdict: 'pass', status: 200, address: '127.0.0.1', server: 'one', bytesReceived: 11, protocol: 'HTTP/1.1' })
    expect(result.phases.wait).toBeGreaterThan(55)
    const sum = result.phases.connect! + result.phases.wait! + result.phases.receive!
    expect(sum).toBeLessThanOrEqual(result.total + 0.01)
    expect(result.total - sum).toBeLessThan(10)
    expect(result.evidence?.answer?.body).toBe('{"ok":true}')
  })

  it('comes over HTTP/2 where the server offers it, and over HTTP/1.1 when asked for', async () => {
    const server = http2.createSecureServer({ ...(await authority.issue(['localhost'], 30)), allowHTTP1: true }, (_request, response) => response.end('two'))
    const port = await listen(server as unknown as net.Server)
    const two = await run(`https://localhost:${port}/`, { pass: [{ text: 'two' }, { certificate: { min: '20d' } }] }, true)
    expect(two).toMatchObject({ verdict: 'pass', protocol: 'HTTP/2' })
    expect(two.phases.tls).toBeGreaterThan(0)
    expect(await run(`https://localhost:${port}/`, { http: { version: '1.1' } }, true)).toMatchObject({ verdict: 'pass', protocol: 'HTTP/1.1' })
  })

  it('sends method, headers, body and credentials, and records none of the secrets', async () => {
    const port = await web((request, response) => {
      let body = ''
      request.on('data', (chunk) => { body += chunk })
      request.on('end', () => response.end(JSON.stringify({ method: request.method, auth: request.headers.authorization, own: request.headers['x-own'], body })))
    })
    const result = await run(`http://127.0.0.1:${port}/`, { http: { method: 'POST', headers: { 'X-Own': 'yes' }, body: 'hello', auth: { bearer: 'top-secret-token' } }, pass: [{ json: '$.auth', is: 'Bearer top-secret-token' }, { json: '$.body', is: 'hello' }, { json: '$.own', is: 'yes' }, { json: '$.method', is: 'POST' }] })
    expect(result.verdict).toBe('pass')
    expect(JSON.stringify(result.evidence)).not.toContain('top-secret-token')
  })

  it('is followed through redirects without taking credentials to another host', async () => {
    const other = await web((request, response) => response.end(request.headers.authorization ?? 'nobody'))
    const port = await web((request, response) => (request.url === '/' ? response.writeHead(302, { location: `http://localhost:${other}/` }).end() : response.end()))
    const result = await run(`http://127.0.0.1:${port}/`, { http: { auth: { bearer: 'top-secret-token' } }, pass: [{ text: 'nobody' }] })
    expect(result.verdict).toBe('pass')
    expect(result.evidence?.redirects).toHaveLength(1)
    expect(await run(`http://127.0.0.1:${port}/`, { http: { redirects: 0 }, pass: [{ status: 302 }] })).toMatchObject({ verdict: 'pass', status: 302 })
  })

  it('is read in the charset it names, and whatever the bytes are', async () => {
    const port = await web((_request, response) => response.setHeader('content-type', 'text/html; charset=iso-8859-1').end(Buffer.from([0x47, 0xe6, 0xf8])))
    expect(await run(`http://127.0.0.1:${port}/`, { pass: [{ text: 'Gæø' }] })).toMatchObject({ verdict: 'pass' })
    const bytes = await web((_request, response) => response.end(Buffer.from([0xff, 0xfe, 0x00, 0x80])))
    expect(await run(`http://127.0.0.1:${bytes}/`)).toMatchObject({ verdict: 'pass' })
  })
})

describe('a bad server', () => {
  const cases: [string, () => Promise<number>, string, Record<string, unknown>?][] = [
    ['accepts and says nothing', () => raw(() => undefined), 'timed-out-wait'],
    ['sends one byte a second', () => raw((socket) => {
      socket.write('HTTP/1.1 200 OK\r\ncontent-length: 1000\r\n\r\n')
      const timer = setInterval(() => socket.write('x'), 300)
      socket.on('close', () => clearInterval(timer))
    }), 'timed-out-receive'],
    ['never stops sending', () => web((_request, response) => {
      const timer = setInterval(() => response.write(Buffer.alloc(200_000)), 1)
      response.on('close', () => clearInterval(timer))
    }), 'body-too-large', { http: { most: '1MB' } }],
    ['never stops sending headers', () => raw((socket) => {
      socket.write('HTTP/1.1 200 OK\r\n')
      const timer = setInterval(() => socket.write(`x-${Math.random()}: ${'y'.repeat(4000)}\r\n`), 2)
      socket.on('close', () => clearInterval(timer))
    }), 'headers-too-large'],
    ['redirects in a circle', () => web((_request, response) => response.writeHead(302, { location: '/' }).end()), 'too-many-redirects'],
    ['redirects to nowhere', () => web((_request, response) => response.writeHead(302, { location: 'mailto:someone' }).end()), 'bad-redirect'],
    ['sends a gzip bomb', () => web((_request, response) => response.setHeader('content-encoding', 'gzip').end(gzipSync(Buffer.alloc(20_000_000)))), 'body-too-large', { http: { most: '1MB' } }],
    ['sends something else than the gzip it names', () => web((_request, response) => response.setHeader('content-encoding', 'gzip').end('plain')), 'body-unreadable'],
    ['closes at once', () => raw((socket) => socket.end()), 'connection-closed'],
    ['closes in the middle of the body', () => raw((socket) => socket.end('HTTP/1.1 200 OK\r\ncontent-length: 100\r\n\r\nhalf')), 'connection-closed'],
    ['speaks no HTTP', () => raw((socket) => socket.end('220 mail.example ESMTP\r\n')), 'not-http'],
    ['answers another status', () => web((_request, response) => response.writeHead(404).end()), 'status', { pass: [{ status: 200 }] }],
    ['answers JSON larger than is looked into', () => web((_request, response) => response.end(`[${'1,'.repeat(2_200_000)}1]`)), 'condition', { pass: [{ json: '$[0]', is: 1 }] }]
  ]
  it.each(cases)('that %s fails within its limits with the right reason', async (_name, start, reason, more = {}) => {
    const result = await run(`http://127.0.0.1:${await start()}/`, more)
    expect(result).toMatchObject({ verdict: 'fail', reason })
    expect(result.sentence!.length).toBeGreaterThan(10)
    expect(result.took).toBeLessThan(1500)
  })

  it('that does not listen, or whose name does not exist, is told apart', async () => {
    const server = net.createServer()
    const port = await listen(server)
    await new Promise((resolve) => server.close(resolve))
    expect(await run(`http://127.0.0.1:${port}/`)).toMatchObject({ verdict: 'fail', reason: 'connection-refused' })
    const unknown = await run('http://nothing.invalid/')
    expect(unknown.verdict).toBe('fail')
    expect(['name-not-found', 'lookup-failed', 'timed-out-lookup']).toContain(unknown.reason)
  })

  it('with a bad certificate is told apart from one without TLS, and passes when told not to verify', async () => {
    const secure = async (names: string[], days: number) => listen(tls.createServer(await authority.issue(names, days), (socket) => {
      socket.on('error', () => undefined)
      socket.once('data', () => socket.end('HTTP/1.1 200 OK\r\ncontent-length: 2\r\nconnection: close\r\n\r\nok'))
    }))
    const expired = await secure(['localhost'], -2)
    expect(await run(`https://localhost:${expired}/`, {}, true)).toMatchObject({ verdict: 'fail', reason: 'certificate-expired' })
    expect(await run(`https://localhost:${await secure(['other.example'], 30)}/`, {}, true)).toMatchObject({ verdict: 'fail', reason: 'certificate-wrong-name' })
    const unknown = await secure(['localhost'], 30)
    expect(await run(`https://localhost:${unknown}/`)).toMatchObject({ verdict: 'fail', reason: 'certificate-not-trusted' })
    expect(await run(`https://localhost:${unknown}/`, { http: { verify: false } })).toMatchObject({ verdict: 'pass' })
    const plain = await web((_request, response) => response.end())
    expect(await run(`https://localhost:${plain}/`)).toMatchObject({ verdict: 'fail', reason: 'tls-failed' })
  })
})

describe('addresses that are not asked', () => {
  it.each(['169.254.169.254', '169.254.1.1', 'fe80::1', '::ffff:169.254.169.254', '100.100.100.200', 'fd00:ec2::254', '0.0.0.0', '::', '224.0.0.1', '255.255.255.255'])('%s', (address) => expect(isInternalAddress(address)).toBe(true))
  it.each(['127.0.0.1', '10.0.0.1', '192.0.2.1', '2001:db8::1'])('but %s is', (address) => expect(isInternalAddress(address)).toBe(false))

  it('outside the ranges of a location are refused, inside them even link-local ones are asked', () => {
    const rules = { allowsInternal: false, ranges: ['192.0.2.0/24', '2001:db8::/32', '169.254.0.0/16'] }
    expect(['192.0.2.7', '2001:db8::5', '169.254.1.1', '::ffff:192.0.2.9', 'a.name.example'].map((address) => refusalOf(address, rules))).toEqual([undefined, undefined, undefined, undefined, undefined])
    expect(refusalOf('198.51.100.1', rules)).toContain('outside the address ranges')
    expect(refusalOf('2001:db9::1', rules)).toContain('outside')
    expect([isRange('192.0.2.0/24'), isRange('192.0.2.0'), isRange('192.0.2.0/40'), isRange('x')]).toEqual([true, false, false, false])
  })

  it('end as a failure that says so', async () => {
    expect(await run('http://169.254.169.254/latest')).toMatchObject({ verdict: 'fail', reason: 'address-not-allowed' })
  })
})
