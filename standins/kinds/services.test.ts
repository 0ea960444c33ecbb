import { execFileSync, spawn, type ChildProcess } from 'node:child_process'
import { chmodSync, chownSync, existsSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import http from 'node:http'
import net from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { isReadingQuery } from '../../src/kinds/attempt/read-only'
import { realLink } from '../../src/probe/links/real-link'
import { makeAuthority, type Authority } from '../servers/certificates'
import { startDatabase } from '../servers/database'
import { engineServer, FileServer, mqttServer, sipAnswer, sipServer, streamServer, timeAnswer } from '../servers/small'
import { freePort } from './free-port'
import { Servers, tryKind } from './try-kind'

const servers = new Servers()
const folder = mkdtempSync(join(tmpdir(), 'hemeron-services-'))
const children: ChildProcess[] = []
let authority: Authority
let certificate: { cert: string; key: string }

beforeAll(async () => {
  chmodSync(folder, 0o755)
  authority = await makeAuthority()
  certificate = await authority.issue(['localhost'], 40)
  writeFileSync(join(folder, 'cert.pem'), certificate.cert)
  writeFileSync(join(folder, 'key.pem'), certificate.key)
})
afterAll(async () => {
  servers.close()
  for (const child of children) child.kill('SIGTERM')
  await new Promise((resolve) => setTimeout(resolve, 300))
  for (const child of children) child.kill('SIGKILL')
  rmSync(folder, { recursive: true, force: true })
})

/** Starts a real server and waits until its port takes connections. */
async function real(file: string, parameters: string[], port: number, options: { uid?: number; gid?: number } = {}): Promise<void> {
  const child = spawn(file, parameters, { stdio: 'ignore', ...options })
  children.push(child)
  for (let tries = 0; tries < 200; tries += 1) {
    if ((await tryKind({ tcp: { host: '127.0.0.1', port } })).verdict === 'pass') return
    await new Promise((resolve) => setTimeout(resolve, 100))
  }
  throw new Error(`${file} did not start`)
}
const idOf = (user: string, which: '-u' | '-g') => Number(execFileSync('id', [which, user]).toString())
const trusting = () => ({ authority: authority.pem })
const rubbish = () => servers.tcp((socket) => socket.write('HTTP/1.1 400 Bad Request\r\n\r\n'))
const silent = () => servers.tcp(() => undefined)

describe('Redis, with the real server', () => {
  let port: number
  beforeAll(async () => {
    port = await freePort()
    await real('/usr/bin/redis-server', ['--port', String(port), '--requirepass', 'open sesame', '--save', '', '--dir', folder], port)
  }, 30_000)
  const ask = (more: object = {}, pass: object[] = []) => tryKind({ redis: { host: '127.0.0.1', port, password: 'open sesame', ...more }, pass })

  it('signs in and judges what a command gives', async () => {
    expect(await ask({}, [{ value: { is: 'PONG' } }])).toMatchObject({ verdict: 'pass', protocol: 'RESP' })
    expect(await ask({ command: 'LLEN queue' }, [{ number: { max: 0 } }])).toMatchObject({ verdict: 'pass', readings: { number: 0 } })
    expect(await ask({ command: 'GET nothing' }, [{ value: { count: { min: 1 } } }])).toMatchObject({ verdict: 'fail', reason: 'condition' })
    expect(await ask({ command: 'INFO server' }, [{ text: 'redis_version' }])).toMatchObject({ verdict: 'pass' })
    expect(JSON.stringify(await ask())).not.toContain('open sesame')
  })

  it('says that the sign-in is refused, and takes no command that changes something', async () => {
    expect(await ask({ password: 'wrong password' })).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
    await expect(ask({ command: 'FLUSHALL' })).rejects.toThrow('only reads')
    expect(await ask({ command: 'HGET one' })).toMatchObject({ verdict: 'fail', reason: 'server-refused' })
  })

  it('tells other servers and half answers from its own', async () => {
    expect(await tryKind({ redis: { host: '127.0.0.1', port: await rubbish() } })).toMatchObject({ verdict: 'fail', reason: 'wrong-protocol' })
    expect(await tryKind({ redis: { host: '127.0.0.1', port: await servers.tcp((socket) => socket.end('$20\r\nhalf')) } })).toMatchObject({ verdict: 'fail', reason: 'connection-closed' })
    expect(await tryKind({ redis: { host: '127.0.0.1', port: await servers.tcp((socket) => socket.write('$999999999\r\n')) } })).toMatchObject({ verdict: 'fail', reason: 'answer-too-large' })
  })
})

describe('a message broker, with the real server', () => {
  let port: number
  beforeAll(async () => {
    port = await freePort()
    writeFileSync(join(folder, 'passwords'), '')
    execFileSync('mosquitto_passwd', ['-b', join(folder, 'passwords'), 'watch', 'sea salt'], { stdio: 'ignore' })
    chmodSync(join(folder, 'passwords'), 0o644)
    writeFileSync(join(folder, 'mosquitto.conf'), `listener ${port} 127.0.0.1\nallow_anonymous false\npassword_file ${folder}/passwords\npersistence false\n`)
    await real('/usr/sbin/mosquitto', ['-c', join(folder, 'mosquitto.conf')], port)
  }, 30_000)
  const account = { host: '127.0.0.1', user: 'watch', password: 'sea salt' }

  it('publishes, sees it return and judges it', async () => {
    const result = await tryKind({ mqtt: { ...account, port, topic: 'tides/check', message: '{"level":2}' }, pass: [{ json: '$.level', value: { max: 3 } }] })
    expect(result).toMatchObject({ verdict: 'pass', protocol: 'MQTT' })
    expect(result.evidence?.talk?.[0]?.text).toMatch(/^CONNECT/)
  })

  it('waits for what others send', async () => {
    const waiting = tryKind({ mqtt: { ...account, port, topic: 'tides/+', expect: 'high' }, wait: '3s' })
    await new Promise((resolve) => setTimeout(resolve, 300))
    await tryKind({ mqtt: { ...account, port, topic: 'tides/one', message: 'water is high' } })
    expect(await waiting).toMatchObject({ verdict: 'pass' })
  })

  it('says that the sign-in is refused, or that nothing comes back', async () => {
    expect(await tryKind({ mqtt: { ...account, port, password: 'wrong word', message: 'x' } })).toMatchObject({ verdict: 'fail', reason: expect.stringMatching(/login-refused|server-refused/) as string })
    const mute = await servers.listen(mqttServer(() => true, () => true))
    expect(await tryKind({ mqtt: { host: '127.0.0.1', port: mute, message: 'x' } })).toMatchObject({ verdict: 'fail', reason: 'not-arrived' })
    expect(await tryKind({ mqtt: { host: '127.0.0.1', port: await silent(), message: 'x' } })).toMatchObject({ verdict: 'fail', reason: 'timed-out-login' })
    expect((await tryKind({ mqtt: { host: '127.0.0.1', port: await rubbish(), message: 'x' } })).verdict).toBe('fail')
  })
})

describe('PostgreSQL, with the real server', () => {
  let port: number
  beforeAll(async () => {
    port = await freePort()
    const [version] = readdirSync('/usr/lib/postgresql')
    const bin = `/usr/lib/postgresql/${version}/bin`
    const data = join(folder, 'postgres')
    mkdirSync(data)
    const owner = { uid: idOf('postgres', '-u'), gid: idOf('postgres', '-g') }
    chownSync(data, owner.uid, owner.gid)
    writeFileSync(join(folder, 'pw'), 'deep water')
    execFileSync(join(bin, 'initdb'), ['-D', data, '-U', 'watch', '--pwfile', join(folder, 'pw'), '-A', 'scram-sha-256'], { stdio: 'ignore', ...owner })
    await real(join(bin, 'postgres'), ['-D', data, '-p', String(port), '-k', '', '-h', '127.0.0.1', '-c', 'fsync=off'], port, owner)
  }, 60_000)
  const ask = (more: object = {}, pass: object[] = []) => tryKind({ postgres: { host: '127.0.0.1', port, user: 'watch', password: 'deep water', database: 'postgres', ...more }, pass, wait: '4s' })

  it('answers a query whose value is judged', async () => {
    const result = await ask({ query: "SELECT 42 AS orders, 'open' AS state" }, [{ number: { min: 40, max: 50 } }, { json: '$[0].state', is: 'open' }, { rows: { min: 1 } }])
    expect(result).toMatchObject({ verdict: 'pass', readings: { number: 42, rows: 1 }, protocol: 'PostgreSQL' })
    expect(result.evidence?.tables?.[0]).toMatchObject({ columns: [{ name: 'orders' }, { name: 'state' }], rows: [['42', 'open']] })
    expect(result.phases.login).toBeGreaterThan(0)
  })

  it('does not change anything, whatever the query is', async () => {
    await ask({ query: 'SELECT lo_create(7)' })
    expect(await ask({ query: 'SELECT count(*) FROM pg_largeobject_metadata' })).toMatchObject({ verdict: 'pass', readings: { number: 0 } })
    expect(await ask({ query: "SELECT pg_notify('a', 'b'), pg_sequence_last_value('pg_class'::regclass)" })).toMatchObject({ verdict: 'fail', reason: 'server-failed' })
    await expect(ask({ query: 'DROP TABLE orders' })).rejects.toThrow('only reads')
  })

  it('tells what is wrong', async () => {
    expect(await ask({ password: 'wrong word' })).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
    expect(await ask({ query: 'SELECT * FROM nowhere' })).toMatchObject({ verdict: 'fail', reason: 'server-failed', sentence: expect.stringContaining('nowhere') as string })
    expect(await ask({ tls: true, unverified: true })).toMatchObject({ verdict: 'fail', reason: 'no-tls' })
    const slow = await tryKind({ postgres: { host: '127.0.0.1', port, user: 'watch', password: 'deep water', database: 'postgres', query: 'SELECT pg_sleep(30)' }, wait: '700ms' })
    expect(slow.verdict).toBe('fail')
    expect(slow.took).toBeLessThan(1500)
    expect(await ask({ query: "SELECT repeat('x', 1000) FROM generate_series(1, 20000)" })).toMatchObject({ verdict: 'fail', reason: 'answer-too-large' })
    expect((await tryKind({ postgres: { host: '127.0.0.1', port: await rubbish(), user: 'watch' } })).verdict).toBe('fail')
    expect(await tryKind({ postgres: { host: '127.0.0.1', port: await silent(), user: 'watch' } })).toMatchObject({ verdict: 'fail', reason: 'timed-out-login' })
  })
})

describe('MySQL, with the real MariaDB', () => {
  let port: number
  beforeAll(async () => {
    port = await freePort()
    const data = join(folder, 'mariadb')
    mkdirSync(data)
    execFileSync('mariadb-install-db', ['--no-defaults', `--datadir=${data}`, '--auth-root-authentication-method=normal', '--skip-test-db', '--user=root'], { stdio: 'ignore' })
    writeFileSync(join(folder, 'init.sql'), "CREATE USER watch@'%' IDENTIFIED BY 'deep water';\nGRANT SELECT ON *.* TO watch@'%';\nCREATE DATABASE sales;\nCREATE TABLE sales.orders (id INT);\nINSERT INTO sales.orders VALUES (1),(2),(3);\n")
    await real('/usr/sbin/mariadbd', ['--no-defaults', `--datadir=${data}`, `--port=${port}`, '--bind-address=127.0.0.1', `--socket=${folder}/mariadb.sock`, '--user=root', `--init-file=${folder}/init.sql`, '--skip-log-bin'], port)
  }, 60_000)
  const ask = (more: object = {}, pass: object[] = []) => tryKind({ mysql: { host: '127.0.0.1', port, user: 'watch', password: 'deep water', database: 'sales', ...more }, pass, wait: '4s' })

  it('answers a query whose value is judged', async () => {
    const result = await ask({ query: 'SELECT count(*) AS orders FROM orders' }, [{ number: { min: 3 } }, { value: { is: '3' } }])
    expect(result).toMatchObject({ verdict: 'pass', readings: { number: 3, rows: 1 }, protocol: 'MySQL' })
    expect(JSON.stringify(result)).not.toContain('deep water')
  })

  it('tells what is wrong', async () => {
    expect(await ask({ password: 'wrong word' })).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
    expect(await ask({ query: 'SELECT * FROM nowhere' })).toMatchObject({ verdict: 'fail', reason: 'server-failed' })
    const slow = await tryKind({ mysql: { host: '127.0.0.1', port, user: 'watch', password: 'deep water', query: 'SELECT sleep(30)' }, wait: '700ms' })
    expect(slow).toMatchObject({ verdict: 'fail', reason: 'timed-out-wait' })
    expect(slow.took).toBeLessThan(1500)
    expect((await tryKind({ mysql: { host: '127.0.0.1', port: await rubbish(), user: 'watch' } })).verdict).toBe('fail')
    expect(await tryKind({ mysql: { host: '127.0.0.1', port: await silent(), user: 'watch' } })).toMatchObject({ verdict: 'fail', reason: 'timed-out-login' })
  })

  it('knows queries that only read', () => {
    const read = ['SELECT 1', "select ';drop' from t;", 'WITH a AS (SELECT 1) SELECT * FROM a', 'SHOW STATUS', "SELECT 'insert into' "]
    const write = ['DELETE FROM t', 'SELECT 1; DROP TABLE t', 'WITH a AS (DELETE FROM t RETURNING 1) SELECT * FROM a', 'SELECT * FROM t INTO OUTFILE 1', '/* SELECT */ UPDATE t SET a = 1', 'SELECT 1 FOR UPDATE', '']
    expect([read.map(isReadingQuery), write.map(isReadingQuery)]).toEqual([read.map(() => true), write.map(() => false)])
  })
})

describe('a file server', () => {
  let port: number
  beforeAll(async () => {
    port = await freePort()
    const low = 40_000 + Math.floor(Math.random() * 15_000)
    for (const place of ['ftp', 'empty']) mkdirSync(join(folder, place))
    writeFileSync(join(folder, 'ftp/manifest.csv'), 'id,state\n1,cleared\n')
    const owner = [idOf('ftp', '-u'), idOf('ftp', '-g')] as const
    mkdirSync(join(folder, 'ftp/incoming'))
    chownSync(join(folder, 'ftp/incoming'), ...owner)
    writeFileSync(join(folder, 'vsftpd.conf'), [
      'listen=YES', `listen_port=${port}`, 'listen_address=127.0.0.1', 'background=NO', 'anonymous_enable=YES', 'local_enable=NO', 'write_enable=YES', 'anon_upload_enable=YES', 'anon_other_write_enable=YES', 'anon_world_readable_only=NO', 'anon_umask=022', `anon_root=${folder}/ftp`,
      `secure_chroot_dir=${folder}/empty`, 'ssl_enable=YES', 'allow_anon_ssl=YES', 'force_anon_logins_ssl=NO', 'force_anon_data_ssl=NO', 'require_ssl_reuse=YES', `rsa_cert_file=${folder}/cert.pem`, `rsa_private_key_file=${folder}/key.pem`, 'ssl_ciphers=HIGH',
      'pasv_enable=YES', `pasv_min_port=${low}`, `pasv_max_port=${low + 20}`, 'seccomp_sandbox=NO', 'isolate=NO', 'isolate_network=NO', ''
    ].join('\n'))
    chmodSync(join(folder, 'vsftpd.conf'), 0o600)
    await real('/usr/sbin/vsftpd', [join(folder, 'vsftpd.conf')], port)
  }, 30_000)

  it.each(['none', 'starttls'] as const)('that is real is signed in to, listed, and gives a file: TLS %s', async (security) => {
    const result = await tryKind({ ftp: { host: 'localhost', port, security, file: 'manifest.csv' }, pass: [{ text: 'cleared' }, { files: { has: 'manifest' } }], wait: '5s' }, trusting())
    expect(result).toMatchObject({ verdict: 'pass', protocol: security === 'none' ? 'FTP' : 'FTPS' })
    expect(Object.keys(result.phases)).toEqual(expect.arrayContaining(['greet', 'login', 'wait', 'receive']))
  })

  it('that is real takes a file, gives it back as it was, and forgets it', async () => {
    expect(await tryKind({ ftp: { host: 'localhost', port, folder: '/incoming', put: true }, wait: '5s' }, trusting())).toMatchObject({ verdict: 'pass' })
    expect(readdirSync(join(folder, 'ftp/incoming'))).toEqual([])
  })

  it('refuses, misses, or changes what was put', async () => {
    expect(await tryKind({ ftp: { host: 'localhost', port, security: 'none', folder: '/nowhere' }, wait: '5s' })).toMatchObject({ verdict: 'fail', reason: 'server-refused' })
    expect(await tryKind({ ftp: { host: 'localhost', port, security: 'none', file: 'missing.csv' }, wait: '5s' })).toMatchObject({ verdict: 'fail', reason: 'server-refused' })
    const passive = net.createServer()
    const told = await servers.listen(passive)
    const files = new Map([['a.csv', Buffer.from('x')]])
    const server = await servers.listen(new FileServer(files, () => ({ clerk: 'salt water' }), certificate, [{ listen: passive, told }], () => true).server())
    const mine = { host: 'localhost', port: server, user: 'clerk', password: 'salt water' }
    expect(await tryKind({ ftp: { ...mine, password: 'wrong word' }, wait: '3s' }, trusting())).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
    expect(await tryKind({ ftp: { ...mine, put: true }, wait: '3s' }, trusting())).toMatchObject({ verdict: 'fail', reason: 'came-back-changed' })
    expect([...files.keys()]).toEqual(['a.csv'])
  })
})

describe('a phone server', () => {
  it.each(['udp', 'tcp'] as const)('says over %s what it takes', async (over) => {
    const port = over === 'udp' ? await servers.udp((message) => { const answer = sipAnswer(message.toString()); return answer === undefined ? undefined : Buffer.from(answer) }) : await servers.listen(sipServer())
    const result = await tryKind({ sip: { host: '127.0.0.1', port, over, user: 'desk' }, pass: [{ status: '200-299' }, { methods: { has: 'INVITE' } }, { server: { has: 'Quay' } }, { header: 'cseq', is: '1 OPTIONS' }] })
    expect(result).toMatchObject({ verdict: 'pass', status: 200, protocol: 'SIP' })
  })

  it('goes on after a provisional answer, and tells refusals, faults, silence and rubbish apart', async () => {
    const answering = (status: string) => servers.udp((message) => Buffer.from(sipAnswer(message.toString(), status)!))
    expect(await tryKind({ sip: { host: '127.0.0.1', port: await answering('404 Not Found') }, pass: [{ status: '200-299' }] })).toMatchObject({ verdict: 'fail', reason: 'status', status: 404 })
    expect(await tryKind({ sip: { host: '127.0.0.1', port: await answering('503 Service Unavailable') } })).toMatchObject({ verdict: 'fail', reason: 'server-failed' })
    expect(await tryKind({ sip: { host: '127.0.0.1', port: await answering('100 Trying') } })).toMatchObject({ verdict: 'fail', reason: 'no-answer' })
    expect(await tryKind({ sip: { host: '127.0.0.1', port: await servers.udp(() => Buffer.from('hello')) } })).toMatchObject({ verdict: 'fail', reason: 'wrong-protocol' })
    expect(await tryKind({ sip: { host: '127.0.0.1', port: await rubbish(), over: 'tcp' } })).toMatchObject({ verdict: 'fail', reason: 'wrong-protocol' })
  })
})

describe('the time', () => {
  it('of a real server is compared with the own clock', async () => {
    const port = await freePort()
    writeFileSync(join(folder, 'chrony.conf'), `port ${port}\nbindaddress 127.0.0.1\nallow 127.0.0.1\nlocal stratum 2\ncmdport 0\npidfile ${folder}/chrony.pid\nuser root\n`)
    const child = spawn('/usr/sbin/chronyd', ['-d', '-x', '-f', join(folder, 'chrony.conf')], { stdio: 'ignore' })
    children.push(child)
    let result = await tryKind({ ntp: { host: '127.0.0.1', port } })
    for (let tries = 0; tries < 40 && result.verdict !== 'pass'; tries += 1) {
      await new Promise((resolve) => setTimeout(resolve, 200))
      result = await tryKind({ ntp: { host: '127.0.0.1', port }, pass: [{ distance: { max: '50ms' } }, { stratum: { max: 3 } }] })
    }
    expect(result).toMatchObject({ verdict: 'pass', protocol: 'NTP' })
  }, 20_000)

  it('that is off is said to be, and so are a server without time and one that refuses', async () => {
    const off = await servers.udp((question) => timeAnswer(question, 700))
    const result = await tryKind({ ntp: { host: '127.0.0.1', port: off }, pass: [{ distance: { max: '500ms' } }] })
    expect(result).toMatchObject({ verdict: 'fail', reason: 'condition' })
    expect(result.readings!.offset).toBeGreaterThan(690)
    expect(result.readings!.offset).toBeLessThan(710)
    expect(await tryKind({ ntp: { host: '127.0.0.1', port: await servers.udp((question) => timeAnswer(question, 0, 1, 3)) } })).toMatchObject({ verdict: 'fail', reason: 'not-running' })
    expect(await tryKind({ ntp: { host: '127.0.0.1', port: await servers.udp((question) => timeAnswer(question, 0, 0)) } })).toMatchObject({ verdict: 'fail', reason: 'server-refused', sentence: expect.stringContaining('RATE') as string })
    expect(await tryKind({ ntp: { host: '127.0.0.1', port: await servers.udp(() => Buffer.from('x')) } })).toMatchObject({ verdict: 'fail', reason: 'wrong-protocol' })
    expect(await tryKind({ ntp: { host: '127.0.0.1', port: await servers.udp(() => undefined) } })).toMatchObject({ verdict: 'fail', reason: 'no-answer' })
  })
})

describe('a stream', () => {
  it('advances, with its qualities, rate and pace', async () => {
    const port = await servers.listen(http.createServer(streamServer(() => false, 1)))
    const result = await tryKind({ stream: { url: `http://127.0.0.1:${port}/live.m3u8` }, wait: '5s', pass: [{ pace: { min: 1 } }, { rate: { min: 400_000 } }, { qualities: { min: 2 } }, { age: { max: '10s' } }] })
    expect(result).toMatchObject({ verdict: 'pass', protocol: 'HLS', readings: { qualities: 2, segments: 5, rate: 480_000 } })
    expect(await tryKind({ stream: { url: `http://127.0.0.1:${port}/live.m3u8`, quality: 'lowest' }, wait: '5s' })).toMatchObject({ readings: { rate: 160_000 } })
  })

  it('that stands still is found out, within one try or from one to the next', async () => {
    const port = await servers.listen(http.createServer(streamServer(() => true, 1)))
    expect(await tryKind({ stream: { url: `http://127.0.0.1:${port}/live.m3u8` }, wait: '5s' })).toMatchObject({ verdict: 'fail', reason: 'not-advancing' })
    const memory = new Map<string, unknown>()
    expect(await tryKind({ stream: { url: `http://127.0.0.1:${port}/live.m3u8` }, wait: '700ms' }, { memory })).toMatchObject({ verdict: 'pass' })
    await new Promise((resolve) => setTimeout(resolve, 1600))
    expect(await tryKind({ stream: { url: `http://127.0.0.1:${port}/live.m3u8` }, wait: '700ms' }, { memory })).toMatchObject({ verdict: 'fail', reason: 'not-advancing' })
  }, 15_000)

  it.each([['<html>', 'bad-answer'], ['#EXTM3U\n#EXT-X-TARGETDURATION:2\n', 'bad-answer'], ['#EXTM3U\n#EXTINF:2,\ngone.ts\n#EXT-X-ENDLIST\n', 'server-failed']])('%j is %s', async (text, reason) => {
    const port = await servers.listen(http.createServer((request, response) => (request.url === '/live.m3u8' ? response.end(text) : response.writeHead(404).end())))
    expect(await tryKind({ stream: { url: `http://127.0.0.1:${port}/live.m3u8` } })).toMatchObject({ verdict: 'fail', reason })
  })
})

describe('a container', () => {
  let state: object = { State: { Status: 'running', Running: true, StartedAt: new Date(Date.now() - 90_000).toISOString(), Health: { Status: 'healthy' } } }
  let port: number
  beforeAll(async () => { port = await servers.listen(http.createServer(engineServer(() => state))) })
  const ask = (container = 'rosters', pass: object[] = []) => tryKind({ container: { container, engine: `http://127.0.0.1:${port}` }, pass })

  it('that runs and is healthy passes', async () => {
    expect(await ask('rosters', [{ state: { is: 'running' } }, { health: { is: 'healthy' } }, { uptime: { min: '60s' } }, { restarts: { max: 0 } }, { image: { has: 'rosters:' } }])).toMatchObject({ verdict: 'pass' })
  })

  it.each<[object, string]>([
    [{ State: { Status: 'exited', ExitCode: 3 } }, 'with code 3'], [{ State: { Status: 'running', Running: true, Health: { Status: 'unhealthy', Log: [{ Output: 'no database' }] } } }, 'unhealthy: no database'],
    [{ State: { Status: 'restarting', Restarting: true, ExitCode: 1 } }, 'again and again'], [{ State: { Status: 'exited', OOMKilled: true } }, 'want of memory']
  ])('%j is not running', async (next, words) => {
    state = next
    expect(await ask()).toMatchObject({ verdict: 'fail', reason: 'not-running', sentence: expect.stringContaining(words) as string })
  })

  it('that nobody knows, or an answer about something else, fails in words', async () => {
    expect(await ask('missing')).toMatchObject({ verdict: 'fail', reason: 'not-running' })
    state = { State: 7 }
    expect(await ask()).toMatchObject({ verdict: 'fail', reason: 'bad-answer' })
  })

  it('is asked over a socket of the own machine only where the location allows it', async () => {
    state = { State: { Status: 'running', Running: true } }
    const path = join(folder, 'engine.sock')
    const server = http.createServer(engineServer(() => state))
    servers.also(server)
    await new Promise<void>((resolve) => server.listen(path, () => resolve()))
    expect(existsSync(path)).toBe(true)
    const written = { container: { container: 'rosters', engine: `unix://${path}` } }
    expect(await tryKind(written)).toMatchObject({ verdict: 'fail', reason: 'not-supported' })
    expect(await tryKind(written, { link: realLink({ allowsInternal: true, ranges: [] }) })).toMatchObject({ verdict: 'pass' })
  })
})

describe('the database of the demo', () => {
  it('takes its user and answers its queries', async () => {
    const port = await startDatabase('watch', 'deep water', { 'SELECT count(*) FROM orders': () => 180 })
    const ask = (more: object = {}) => tryKind({ mysql: { host: '127.0.0.1', port, user: 'watch', password: 'deep water', query: 'SELECT count(*) FROM orders', ...more }, pass: [{ number: { min: 100 } }] })
    expect(await ask()).toMatchObject({ verdict: 'pass', readings: { number: 180 } })
    expect(await ask({ password: 'wrong word' })).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
    expect(await ask({ query: 'SELECT 7' })).toMatchObject({ verdict: 'fail', reason: 'server-failed' })
  })
})
