import { execFileSync } from 'node:child_process'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import http from 'node:http'
import type net from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import tls from 'node:tls'
import { DAY } from '../../src/core/units'
import { readRegistration, registryOf } from '../../src/kinds/domain/registration'
import { stapledStatus } from '../../src/kinds/certificate/stapled'
import { makeAuthority, type Authority } from '../servers/certificates'
import { Servers, tryKind } from './try-kind'

const servers = new Servers()
let authority: Authority
let good: { cert: string; key: string }
beforeAll(async () => {
  authority = await makeAuthority()
  good = await authority.issue(['localhost', 'other.example'], 40)
})
afterAll(() => servers.close())

const secure = (options: tls.TlsOptions = good) => servers.listen(tls.createServer(options, (socket) => socket.end()) as unknown as net.Server)
const read = (port: number, more: object = {}, pass: object[] = []) => tryKind({ certificate: { host: 'localhost', port, ...more }, pass }, { authority: authority.pem })

describe('certificate', () => {
  it('reads names, issuer, chain, key, protocol and cipher', async () => {
    const port = await secure({ ...good, cert: `${good.cert}\n${authority.pem}` })
    const result = await read(port, {}, [
      { certificate: { min: '20d' } }, { names: { has: 'other.example' } }, { issuer: { has: 'Demo Authority' } }, { protocol: { is: 'TLSv1.3' } }, { bits: { min: 256 } }, { key: { has: 'EC' } }, { chain: { min: '30d' } }
    ])
    expect(result).toMatchObject({ verdict: 'pass', readings: { bits: 256 } })
    // who stands above it is a fact of every certificate that is seen, the second time as well
    for (const each of [result, await read(port)]) expect(each.evidence?.certificate?.chain).toEqual([{ subject: 'Orrin Demo Authority', issuer: 'Orrin Demo Authority', validTo: expect.any(Number) as number }])
    expect(result.evidence?.tables?.[0]?.rows[0]).toEqual(['localhost', 'Orrin Demo Authority', expect.stringMatching(/^\d{4}-/), expect.stringContaining('256 bits')])
  })

  it('warns before the end, and tells expired, wrong name and unknown authority apart', async () => {
    const soon = await secure(await authority.issue(['localhost'], 9))
    expect(await read(soon, {}, [{ certificate: { min: '3d', warn: '14d' } }])).toMatchObject({ verdict: 'warn' })
    expect(await read(await secure(await authority.issue(['localhost'], -1)))).toMatchObject({ verdict: 'fail', reason: 'certificate-expired' })
    const port = await secure()
    expect(await read(port, { name: 'www.nowhere.example' })).toMatchObject({ verdict: 'fail', reason: 'certificate-wrong-name' })
    const unknown = await tryKind({ certificate: { host: 'localhost', port } })
    expect(unknown).toMatchObject({ verdict: 'fail', reason: 'certificate-not-trusted' })
    expect(unknown.evidence?.tables?.[0]?.rows).not.toHaveLength(0)
  })

  it.each<['smtp' | 'imap' | 'pop3' | 'ftp', string, [RegExp, string][]]>([
    ['smtp', '220 mail.example ready\r\n', [[/^EHLO/, '250-mail.example\r\n250 STARTTLS\r\n'], [/^STARTTLS/, '220 go on\r\n']]],
    ['imap', '* OK ready\r\n', [[/STARTTLS/, 'a1 OK begin\r\n']]],
    ['pop3', '+OK ready\r\n', [[/^STLS/, '+OK begin\r\n']]],
    ['ftp', '220-hello\r\n220 ready\r\n', [[/^AUTH TLS/, '234 begin\r\n']]]
  ])('begins TLS after the words of %s', async (protocol, greeting, answers) => {
    const port = await servers.tcp((socket) => {
      socket.write(greeting)
      const talk = (data: Buffer) => {
        const text = data.toString()
        const answer = answers.find(([asked]) => asked.test(text))
        if (answer) socket.write(answer[1])
        if (answer !== answers.at(-1)) return
        socket.off('data', talk)
        new tls.TLSSocket(socket, { isServer: true, secureContext: tls.createSecureContext(good) }).on('error', () => undefined)
      }
      socket.on('data', talk)
    })
    const result = await read(port, { starttls: protocol }, [{ certificate: { min: '20d' } }])
    expect(result).toMatchObject({ verdict: 'pass' })
    expect(result.phases.greet).toBeDefined()
  })

  it('says when TLS is not offered, and when another protocol is spoken', async () => {
    const refusing = await servers.tcp((socket) => { socket.write('* OK hi\r\n'); socket.on('data', () => socket.write('a1 BAD no\r\n')) })
    expect(await read(refusing, { starttls: 'imap' })).toMatchObject({ verdict: 'fail', reason: 'no-tls' })
    expect(await read(refusing, { starttls: 'smtp' })).toMatchObject({ verdict: 'fail', reason: 'wrong-protocol' })
    expect(await read(refusing)).toMatchObject({ verdict: 'fail', reason: 'tls-failed' })
  })
})

describe('a stapled answer', () => {
  const folder = mkdtempSync(join(tmpdir(), 'hemeron-ocsp-'))
  afterAll(() => rmSync(folder, { recursive: true, force: true }))
  const openssl = (...parameters: string[]) => execFileSync('openssl', parameters, { cwd: folder, stdio: ['ignore', 'pipe', 'ignore'] })

  it.each([['V', 'good'], ['R', 'revoked']] as const)('that a real responder makes is read: %s is %s', (state, expected) => {
    openssl('req', '-x509', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-keyout', 'ca.key', '-out', 'ca.pem', '-subj', '/CN=Stapling CA', '-days', '30')
    openssl('req', '-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:P-256', '-nodes', '-keyout', 'own.key', '-out', 'own.csr', '-subj', '/CN=stapled.example')
    openssl('x509', '-req', '-in', 'own.csr', '-CA', 'ca.pem', '-CAkey', 'ca.key', '-set_serial', '0x1001', '-out', 'own.pem', '-days', '20')
    writeFileSync(join(folder, 'index.txt'), `${state}\t351231235959Z\t${state === 'R' ? '260101000000Z' : ''}\t1001\tunknown\t/CN=stapled.example\n`)
    openssl('ocsp', '-issuer', 'ca.pem', '-cert', 'own.pem', '-reqout', 'ask.der')
    openssl('ocsp', '-index', 'index.txt', '-CA', 'ca.pem', '-rsigner', 'ca.pem', '-rkey', 'ca.key', '-reqin', 'ask.der', '-respout', 'answer.der', '-ndays', '5')
    expect(stapledStatus(readFileSync(join(folder, 'answer.der')))).toBe(expected)
  })

  it('is unreadable when it is cut or rubbish, and never more', () => {
    for (const bytes of [Buffer.alloc(0), Buffer.from('rubbish'), Buffer.from([0x30, 0x84, 0xff, 0xff, 0xff, 0xff]), Buffer.from([0x30, 3, 0x0a, 1, 6])]) expect(stapledStatus(bytes)).toBe('unreadable')
  })
})

describe('the end of a domain', () => {
  const answer = (days: number) => ({
    objectClassName: 'domain', ldhName: 'orrinsound.example', status: ['active', 'client transfer prohibited'], nameservers: [{ ldhName: 'NS2.orrinsound.example' }, { ldhName: 'ns1.orrinsound.example.' }],
    events: [{ eventAction: 'registration', eventDate: '2015-04-01T00:00:00Z' }, { eventAction: 'expiration', eventDate: new Date(Date.now() + days * DAY).toISOString() }],
    entities: [{ roles: ['registrar'], vcardArray: ['vcard', [['version', {}, 'text', '4.0'], ['fn', {}, 'text', 'Quay Registrar']]] }]
  })
  const registry = (handler: http.RequestListener) => servers.listen(http.createServer(handler))
  const ask = (port: number, pass: object[] = [], name = 'orrinsound.example') => tryKind({ domain: { name, server: `http://127.0.0.1:${port}/rdap` }, pass })

  it('asks the registry for the domain and judges how long it lasts', async () => {
    const asked: string[] = []
    const port = await registry((request, response) => {
      asked.push(`${request.url} ${request.headers.accept}`)
      response.end(JSON.stringify(answer(30)))
    })
    const result = await ask(port, [{ left: { min: '14d', warn: '45d' } }, { servers: { is: ['ns1.orrinsound.example', 'ns2.orrinsound.example'] } }, { registrar: { is: 'Quay Registrar' } }, { state: { has: 'active' } }])
    expect(result).toMatchObject({ verdict: 'warn', sentence: expect.stringContaining('30 days') as string })
    expect(asked[0]).toMatch(/^\/rdap\/domain\/orrinsound\.example application\/rdap\+json/)
    expect(await ask(port, [{ left: { min: '31d' } }])).toMatchObject({ verdict: 'fail', reason: 'condition' })
  })

  it('follows a redirect, and tells free, refused, broken and other answers apart', async () => {
    const port = await registry((request, response) => {
      const path = request.url!
      if (path.endsWith('/moved.example')) return response.writeHead(302, { location: '/rdap/domain/there.example' }).end()
      if (path.endsWith('/there.example')) return response.end(JSON.stringify(answer(100)))
      if (path.endsWith('/free.example')) return response.writeHead(404).end('{}')
      if (path.endsWith('/busy.example')) return response.writeHead(429).end()
      if (path.endsWith('/html.example')) return response.end('<html>')
      return response.end('{"objectClassName":"entity"}')
    })
    const reasons = await Promise.all(['moved', 'free', 'busy', 'html', 'odd'].map(async (name) => (await ask(port, [], `${name}.example`)).reason))
    expect(reasons).toEqual([undefined, 'name-not-found', 'server-refused', 'bad-answer', 'bad-answer'])
  })

  it('is asked every six hours at most', async () => {
    const { settleCheck } = await import('../../src/core/layers/settle')
    const { kinds } = await import('../../src/kinds/definitions')
    const read = settleCheck({ check: 'x', name: 'X', every: '60s', domain: { name: 'orrinsound.example' } }, { workspace: {}, secrets: {} }, kinds)
    expect('settled' in read && read.settled.check.every).toBe(6 * 3_600_000)
  })

  it('finds a registry by the longest suffix, and reads no more than there is', () => {
    const register = { services: [[['org'], ['https://org.example/']], [['co.uk', 'uk'], ['http://uk.example/', 'https://uk.example/']]] }
    expect([registryOf(register, 'a.b.org'), registryOf(register, 'x.co.uk'), registryOf(register, 'x.net'), registryOf(null, 'x.org')]).toEqual(['https://org.example/', 'https://uk.example/', undefined, undefined])
    expect(readRegistration({ objectClassName: 'domain', events: 'x', entities: [{ roles: ['registrar'], handle: 'H1' }] })).toEqual({ states: [], servers: [], registrar: 'H1' })
  })
})
