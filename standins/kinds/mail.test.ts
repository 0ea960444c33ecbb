import { spawn, type ChildProcess } from 'node:child_process'
import { chmodSync, chownSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { makeAuthority, type Authority } from '../servers/certificates'
import { MailServer } from '../servers/mailboxes'
import { freePort } from './free-port'
import { Servers, tryKind } from './try-kind'

const servers = new Servers()
const folder = mkdtempSync(join(tmpdir(), 'hemeron-dovecot-'))
let authority: Authority
let world: MailServer
let delay: number | undefined = 50
let ports: Awaited<ReturnType<MailServer['start']>>
let dovecot: ChildProcess
let real: { imap: number; imaps: number; pop3: number; pop3s: number }

beforeAll(async () => {
  authority = await makeAuthority()
  const certificate = await authority.issue(['localhost'], 40)
  world = new MailServer({ users: { watch: 'pass "w" word' }, certificate, delay: () => delay })
  ports = await world.start()
  real = await startDovecot(certificate)
}, 30_000)
afterAll(() => {
  dovecot.kill()
  world.stop()
  servers.close()
  rmSync(folder, { recursive: true, force: true })
})

async function startDovecot({ cert, key }: { cert: string; key: string }) {
  const free = { imap: await freePort(), imaps: await freePort(), pop3: await freePort(), pop3s: await freePort() }
  writeFileSync(join(folder, 'cert.pem'), cert)
  writeFileSync(join(folder, 'key.pem'), key, { mode: 0o600 })
  mkdirSync(join(folder, 'mail/new'), { recursive: true })
  writeFileSync(join(folder, 'mail/new/1.one'), 'Subject: one\r\n\r\nhello\r\n')
  chmodSync(folder, 0o755)
  for (const place of ['mail', 'mail/new', 'mail/new/1.one']) chownSync(join(folder, place), 8, 8)
  writeFileSync(join(folder, 'dovecot.conf'), [
    `base_dir = ${folder}/run`, `state_dir = ${folder}/state`, 'protocols = imap pop3', 'listen = 127.0.0.1', `log_path = ${folder}/log`, 'default_internal_user = nobody', 'default_login_user = nobody', 'default_internal_group = nogroup',
    `ssl_cert = <${folder}/cert.pem`, `ssl_key = <${folder}/key.pem`, 'ssl = yes', 'disable_plaintext_auth = no', `mail_location = maildir:${folder}/mail`, 'first_valid_uid = 1', 'auth_failure_delay = 0',
    'passdb {\n driver = static\n args = password=secret\n}', `userdb {\n driver = static\n args = uid=8 gid=8 home=${folder}/mail\n}`,
    ...(['imap', 'pop3'] as const).map((protocol) => `service ${protocol}-login {\n chroot =\n inet_listener ${protocol} {\n port = ${free[protocol]}\n }\n inet_listener ${protocol}s {\n port = ${free[`${protocol}s`]}\n ssl = yes\n }\n}`),
    'service anvil {\n chroot =\n unix_listener anvil-auth-penalty {\n mode = 0\n }\n}', ''
  ].join('\n'))
  dovecot = spawn('/usr/sbin/dovecot', ['-F', '-c', join(folder, 'dovecot.conf')], { stdio: 'ignore' })
  for (let tries = 0; tries < 60; tries += 1) {
    if ((await tryKind({ tcp: { host: '127.0.0.1', port: free.imap, expect: 'OK' } })).verdict === 'pass') return free
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  throw new Error('dovecot did not start')
}

const ask = (written: object, pass: object[] = []) => tryKind({ ...written, wait: '4s', pass }, { authority: authority.pem })
const account = { user: 'watch', password: 'pass "w" word' }

describe('mailboxes of a real server', () => {
  it.each([['tls', 'imaps'], ['starttls', 'imap'], ['none', 'imap']] as const)('IMAP with TLS %s', async (security, port) => {
    const result = await ask({ imap: { host: 'localhost', port: real[port], security, user: 'someone', password: 'secret' } }, [{ messages: { min: 1 } }, { banner: { has: 'Dovecot' } }])
    expect(result).toMatchObject({ verdict: 'pass', protocol: 'IMAP', readings: { messages: 1 } })
    expect(JSON.stringify(result)).not.toContain('secret')
  })

  it.each([['tls', 'pop3s'], ['starttls', 'pop3'], ['none', 'pop3']] as const)('POP3 with TLS %s', async (security, port) => {
    const result = await ask({ pop3: { host: 'localhost', port: real[port], security, user: 'someone', password: 'secret' } }, [{ messages: { min: 1 } }])
    expect(result).toMatchObject({ verdict: 'pass', readings: { messages: 1 } })
    expect(result.phases.login).toBeGreaterThan(0)
    expect(JSON.stringify(result)).not.toContain('secret')
  })

  it('refuse a wrong password', async () => {
    expect(await ask({ imap: { host: 'localhost', port: real.imaps, user: 'someone', password: 'wrong!' } })).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
    expect(await ask({ pop3: { host: 'localhost', port: real.pop3s, user: 'someone', password: 'wrong!' } })).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
  })
})

describe('a mail server', () => {
  it('greets, begins TLS, takes the sign-in and says whether it takes mail', async () => {
    const result = await ask({ smtp: { host: 'localhost', port: ports.smtp, ...account, to: 'watch@orrinsound.example', from: 'a@orrinsound.example' } }, [{ certificate: { min: '3d' } }, { offers: { has: 'AUTH' } }, { status: 250 }])
    expect(result).toMatchObject({ verdict: 'pass', status: 250, protocol: 'SMTP' })
    expect(Object.keys(result.phases)).toEqual(expect.arrayContaining(['connect', 'greet', 'tls', 'login', 'wait']))
    expect(JSON.stringify(result.evidence)).not.toContain(Buffer.from('\0watch\0pass "w" word').toString('base64'))
  })

  it('says why it would not', async () => {
    expect(await ask({ smtp: { host: 'localhost', port: ports.smtp, to: 'nobody@orrinsound.example' } })).toMatchObject({ verdict: 'fail', reason: 'server-refused', status: 550 })
    expect(await ask({ smtp: { host: 'localhost', port: ports.smtp, user: 'watch', password: 'wrong!' } })).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
  })

  it.each<[string, string, string]>([['greets with a refusal', '554 no thanks\r\n', 'server-refused'], ['is another server', 'SSH-2.0-x\r\n', 'wrong-protocol'], ['never ends its line', 'a'.repeat(40_000), 'wrong-protocol'], ['says nothing', '', 'timed-out-greet']])('%s', async (_name, greeting, reason) => {
    const port = await servers.tcp((socket) => socket.write(greeting))
    expect(await tryKind({ smtp: { host: 'localhost', port, security: 'none' } })).toMatchObject({ verdict: 'fail', reason })
  })
})

describe('a round trip', () => {
  const memory = new Map<string, unknown>()
  const trip = (more: object = {}, wait = '4s', remembered = memory) => tryKind({
    mail: { to: 'watch@orrinsound.example', from: 'hemeron@orrinsound.example', through: 'localhost', port: ports.smtp, mailbox: 'localhost', mailboxPort: ports.imaps, mailboxUser: 'watch', mailboxPassword: account.password, ...more }, wait
  }, { authority: authority.pem, memory: remembered })

  it('sends, finds and deletes the message, with the time of every stage', async () => {
    delay = 700
    const result = await trip()
    expect(result).toMatchObject({ verdict: 'pass', status: 250 })
    expect(result.readings!.arrival).toBeGreaterThan(600)
    expect(result.phases.wait).toBeGreaterThan(600)
    expect(result.phases.remove).toBeGreaterThan(0)
    expect(world.count('watch')).toBe(0)
  })

  it('says that it was taken and did not arrive, and clears away what came too late', async () => {
    delay = 1500
    expect(await trip({}, '1200ms')).toMatchObject({ verdict: 'fail', reason: 'not-arrived' })
    await new Promise((resolve) => setTimeout(resolve, 900))
    expect(world.count('watch')).toBe(1)
    delay = 20
    expect(await trip()).toMatchObject({ verdict: 'pass' })
    expect(world.count('watch')).toBe(0)
    delay = undefined
    expect(await trip({}, '900ms')).toMatchObject({ verdict: 'fail', reason: 'not-arrived' })
  })

  it('leaves alone what other locations have sent to the same mailbox', async () => {
    delay = 300
    const results = await Promise.all([1, 2, 3, 4].map(() => trip({}, '4s', new Map())))
    expect(results.map((result) => result.verdict)).toEqual(['pass', 'pass', 'pass', 'pass'])
    expect(world.count('watch')).toBe(0)
  })

  it('says which of the two sign-ins is refused', async () => {
    const refused = await trip({ mailboxPassword: 'wrong!' })
    expect(refused).toMatchObject({ verdict: 'fail', reason: 'login-refused', sentence: expect.stringContaining('mailbox server') as string })
  })
})
