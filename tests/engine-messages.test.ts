import http from 'node:http'
import type { AddressInfo } from 'node:net'
import { SMTPServer } from 'smtp-server'
import { reach } from '../src/core/routing/reach'
import { DAY, HOUR, MINUTE } from '../src/core/units'
import { deliverDue } from '../src/engine/deliver'
import { rows } from '../src/store/database'
import { confirmChannel, sendCode } from '../src/store/channel-codes'
import { gatherHeld } from '../src/store/delivering'
import { addChannel, changeChannel, listChannels, removeChannel, takeDeliveries } from '../src/store/deliveries'
import { acceptInvitation, invite, invited } from '../src/store/invitations'
import { listPeople, signIn } from '../src/store/people'
import { setPreferences } from '../src/store/preferences'
import { defineRouting, readRoutingWorld } from '../src/store/routing'
import { readSettings, writeSettings } from '../src/store/settings'
import { check, database, incidentOf, inEngineWorld, ines, now, pass, seen, setClock, told } from './engine'

/** Receivers that can be broken: a mail server, and a web server for hooks. */
const mailTo: string[] = []
let mailIsAway = false
let hook: 'fine' | 'broken' | 'hanging' | 'elsewhere' = 'fine'
const hooked: { subject: string; key: string }[] = []
let mailServer: SMTPServer
let hookServer: http.Server

async function startReceivers(): Promise<{ mailPort: number; hookPort: number }> {
  mailServer = new SMTPServer({
    disabledCommands: ['AUTH', 'STARTTLS'], logger: false, onConnect: (_, done) => (mailIsAway ? done(new Error('away')) : done()),
    onData: (stream, session, done) => { stream.resume(); stream.on('end', () => { mailTo.push(...session.envelope.rcptTo.map((each) => each.address)); done() }) }
  })
  hookServer = http.createServer((request, response) => {
    let body = ''
    request.on('data', (chunk: Buffer) => { body += chunk.toString() })
    request.on('end', () => {
      if (hook === 'hanging') return
      if (hook === 'elsewhere') return void response.writeHead(302, { location: 'http://169.254.169.254/' }).end()
      if (hook === 'fine') hooked.push({ subject: (JSON.parse(body) as { subject: string }).subject, key: String(request.headers['idempotency-key']) })
      response.writeHead(hook === 'fine' ? 200 : 500).end()
    })
  })
  await new Promise<void>((resolve) => hookServer.listen(0, '127.0.0.1', resolve))
  const mailPort = await new Promise<number>((resolve) => { const listening = mailServer.listen(0, '127.0.0.1', () => resolve((listening.address() as AddressInfo).port)) })
  return { mailPort, hookPort: (hookServer.address() as AddressInfo).port }
}

/** Lets time pass in steps, and sends everything that falls due meanwhile. */
async function sendFor(length: number, step = 1000): Promise<void> {
  const settings = await readSettings(database.pool)
  for (const end = now + length; now < end;) {
    await pass(step)
    await gatherHeld(database.pool, settings.zone, undefined, now)
    while (await deliverDue(database.pool, settings, () => now)) { /* until nothing is due */ }
  }
}
const states = (incident: number) => rows<{ channel: string; state: string; answer: string; cause: string }>(database.pool, 'SELECT c.channel_key AS channel, d.state, d.answer, d.cause FROM delivery d JOIN channel c ON c.id = d.channel_id WHERE d.incident_id = ? ORDER BY d.id', [incident])

afterAll(() => {
  hookServer?.close()
  mailServer?.close(() => undefined)
})

inEngineWorld(4812)

describe('messages when something on their way is broken', () => {
  let hookPort = 0
  let ports: { mailPort: number; hookPort: number }
  /** A check of its own goes down, urgently, and is told by the steps given. */
  const goesDown = async (key: string, then: object[]): Promise<number> => {
    await check(key)
    await defineRouting(database.pool, [{ kind: 'route', key: 'own', document: { route: 'own', place: 1, when: { check: key }, then, urgent: true } }, { kind: 'route', key: 'vital', document: { route: 'vital', place: 2, when: { importance: 'vital' }, then: [{ tell: 'everyone' }] } }, { kind: 'route', key: 'rest', document: { route: 'rest', place: 3, then: [{ tell: 'everyone' }] } }], null, now)
    await seen({ [key]: 'pass' })
    await seen({ [key]: 'fail' })
    return (await incidentOf(key)).id
  }
  const isWell = async (key: string) => { await seen({ [key]: 'pass' }); await sendFor(3000) }

  beforeAll(async () => {
    ports = await startReceivers()
    hookPort = ports.hookPort
    await writeSettings(database.pool, { mail: { host: '127.0.0.1', port: ports.mailPort, secure: false, user: '', password: '', from: 'hemeron@orrinsound.example' } })
    await sendFor(3000)
    await addChannel(database.pool, { key: 'hook', name: 'The hook', kind: 'webhook', person: null, config: { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret' } })
    await addChannel(database.pool, { key: 'second', name: 'The second hook', kind: 'webhook', person: null, config: { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret' } })
  })

  it('wait for a mail server that is away for ten minutes, and come once', async () => {
    mailIsAway = true
    const id = await goesDown('mail-away', [{ tell: 'person/ines' }])
    const before = mailTo.length
    await sendFor(10 * MINUTE, 5000)
    expect((await states(id)).map(({ channel, state }) => [channel, state])).toEqual([['mail-ines', 'waiting']])
    mailIsAway = false
    await sendFor(10 * MINUTE, 10_000)
    expect((await states(id))[0]).toMatchObject({ state: 'sent' })
    expect(mailTo.slice(before)).toEqual(['ines@orrinsound.example'])
    await isWell('mail-away')
  }, 60_000)

  it('go by another channel of the same person within a quarter of a minute when they are urgent, and the first never comes late', async () => {
    const hooks = await addChannel(database.pool, { key: 'own-hook', name: 'ines by hook', kind: 'webhook', person: ines.id, config: { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret' } })
    hook = 'broken'
    const id = await goesDown('hook-away', [{ tell: 'person/ines', by: ['webhook'] }])
    const before = mailTo.length
    await sendFor(15_000)
    expect((await states(id)).map(({ channel, state, cause }) => [channel, state, cause])).toEqual([['own-hook', 'replaced', 'Route 1'], ['mail-ines', 'sent', 'Route 1, instead of ines by hook']])
    expect((await states(id))[0]!.answer).toMatch(/answers 500.*ines by mail stands in$/)
    hook = 'fine'
    await sendFor(5 * MINUTE, 10_000)
    expect([mailTo.slice(before), hooked.filter((each) => each.subject === 'hook-away is down')]).toEqual([['ines@orrinsound.example'], []])
    await isWell('hook-away')
    await removeChannel(database.pool, hooks, now)
  })

  it('do not go another way when the same person hears of it by another means of the step', async () => {
    const own = await addChannel(database.pool, { key: 'own-hook', name: 'ines by hook', kind: 'webhook', person: ines.id, config: { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret' } })
    const third = await addChannel(database.pool, { key: 'own-third', name: 'ines by a third', kind: 'webhook', person: ines.id, config: { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret' } })
    hook = 'broken'
    const id = await goesDown('both-ways', [{ tell: 'person/ines', by: ['mail', 'webhook'] }])
    await sendFor(20_000)
    expect((await states(id)).map(({ channel, state }) => [channel, state]).sort()).toEqual([['mail-ines', 'sent'], ['own-hook', 'waiting'], ['own-third', 'waiting']])
    hook = 'fine'
    await sendFor(MINUTE, 5000)
    expect((await states(id)).every(({ state }) => state === 'sent')).toBe(true)
    await isWell('both-ways')
    for (const each of [own, third]) await removeChannel(database.pool, each, now)
  })

  it('go by the channel that one of the workspace names, when it redirects or its name is gone', async () => {
    const [first] = (await listChannels(database.pool)).filter((each) => each.key === 'hook')
    for (const config of [{ url: `http://127.0.0.1:${hookPort}/` }, { url: 'http://gone.invalid/' }]) {
      hook = config.url.includes('gone') ? 'fine' : 'elsewhere'
      await changeChannel(database.pool, first!.id, 'The hook', { ...config, secret: 'a long secret', fallback: 'second' }, true)
      const id = await goesDown(`away-${hook}`, [{ tell: 'channel/hook' }])
      if (hook === 'elsewhere') {
        await sendFor(6000)
        hook = 'elsewhere'
      }
      await sendFor(14_000)
      hook = 'fine'
      await sendFor(20_000)
      expect((await states(id)).map(({ channel, state }) => [channel, state])).toEqual([['hook', 'replaced'], ['second', 'sent']])
      await isWell(`away-${config.url.includes('gone') ? 'fine' : 'elsewhere'}`)
    }
    await changeChannel(database.pool, first!.id, 'The hook', { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret' }, true)
  }, 60_000)

  it('are neither lost nor doubled when the clock is set back, or the engine ends between deciding and sending', async () => {
    const id = await goesDown('clock-back', [{ tell: 'channel/hook' }, { tell: 'channel/second', after: '2m' }])
    const taken = await takeDeliveries(database.pool, now, 20_000)
    expect(taken.map((each) => each.channelName)).toContain('The hook')
    // the engine that took it is gone; meanwhile the clock jumps an hour back
    setClock(now - HOUR)
    await sendFor(5000)
    setClock(now + HOUR)
    await sendFor(3 * MINUTE, 5000)
    expect(hooked.filter((each) => /clock-back/.test(each.subject)).map((each) => each.subject)).toEqual(['clock-back is down', 'Still down: clock-back'])
    expect((await states(id)).map(({ channel, state }) => [channel, state])).toEqual([['hook', 'sent'], ['second', 'sent']])
    await isWell('clock-back')
  })

  it('wait when their channel has sent enough, and go another way when they are urgent and there is one', async () => {
    const [first] = (await listChannels(database.pool)).filter((each) => each.key === 'second')
    await changeChannel(database.pool, first!.id, 'The second hook', { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret', limit: { most: 1, minutes: 30 } }, true)
    setClock(now + HOUR)
    const one = await goesDown('limit-one', [{ tell: 'channel/second' }])
    await sendFor(2000)
    const two = await goesDown('limit-two', [{ tell: 'channel/second' }])
    await sendFor(2000)
    expect([...(await states(one)), ...(await states(two))].map((each) => each.state)).toEqual(['sent', 'waiting'])
    expect((await states(two))[0]!.answer).toMatch(/^The second hook sends at most 1 in 30 min; it goes out at/)
    await sendFor(31 * MINUTE, MINUTE)
    expect((await states(two)).map((each) => each.state)).toEqual(['sent'])
    await changeChannel(database.pool, first!.id, 'The second hook', { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret' }, true)
    await seen({ 'limit-one': 'pass', 'limit-two': 'pass' })
    await sendFor(3000)
  })

  it('wait for the end of quiet hours unless they are urgent, and then come as one', async () => {
    await defineRouting(database.pool, [{ kind: 'route', key: 'own', document: { route: 'own', place: 1, then: [{ tell: 'person/ines' }] } }], null, now)
    await setPreferences(database.pool, 'ines', { quiet: ['daily 00:00-23:30'], zone: 'UTC' }, null, now)
    setClock(Math.floor(now / DAY) * DAY + DAY + 20 * HOUR)
    await check('night-one')
    await check('night-two', { http: { url: 'https://other.example/' } })
    await seen({ 'night-one': 'pass', 'night-two': 'pass' })
    await seen({ 'night-one': 'fail' })
    await seen({ 'night-one': 'pass' })
    setClock(now + 10 * MINUTE)
    await seen({ 'night-two': 'fail' })
    const before = mailTo.length
    await sendFor(2 * HOUR, 10 * MINUTE)
    expect(mailTo.length).toBe(before)
    setClock(Math.floor(now / DAY) * DAY + 23.5 * HOUR)
    await sendFor(3000)
    expect(mailTo.slice(before)).toEqual(['ines@orrinsound.example'])
    const digest = (await told()).filter((each) => each.news === 'digest').at(-1)!
    expect([digest.subject, JSON.parse(digest.text)]).toEqual(['2 incidents in your quiet hours, 1 not over', ['2 incidents in your quiet hours. One is not over.', expect.stringMatching(/^\d\d:\d\d night-one is down; \d\d:\d\d Up again: night-one$/), expect.stringMatching(/night-two is down$/)]])
    expect(new Set((await states((await incidentOf('night-one')).id)).map((each) => each.state))).toEqual(new Set(['gathered']))
    await setPreferences(database.pool, 'ines', {}, null, now)
  })
})

describe('an address', () => {
  it('is told nothing before its person has typed the code that came there', async () => {
    const { pool } = database
    const id = await addChannel(pool, { key: 'new-mail', name: 'mael by a new mail', kind: 'mail', person: (await listPeople(pool)).find((each) => each.key === 'mael')!.id, config: { to: 'new@orrinsound.example' } }, false)
    const confirmed = async () => (await listChannels(pool)).find((each) => each.id === id)!.confirmed
    await sendCode(pool, id, now)
    await expect(sendCode(pool, id, now + 1000)).rejects.toMatchObject({ code: 'too-many-attempts' })
    const code = async () => (await told()).filter((each) => each.news === 'code').at(-1)!.text.match(/Your code is ([\d ]+)\./)![1]!
    const right = await code()
    for (let attempt = 0; attempt < 5; attempt += 1) await expect(confirmChannel(pool, id, right === '0 0 0 0 0 0' ? '111111' : '000000', ines.id, now)).rejects.toMatchObject({ code: 'bad-document' })
    await expect(confirmChannel(pool, id, right, ines.id, now)).rejects.toMatchObject({ code: 'too-many-attempts' })
    setClock(now + 2 * MINUTE)
    await sendCode(pool, id, now)
    await expect(confirmChannel(pool, id, await code(), ines.id, now + 16 * MINUTE)).rejects.toMatchObject({ code: 'bad-document' })
    expect(await confirmed()).toBe(false)
    expect(reach((await readRoutingWorld(pool)).listening, { tell: ['person/mael'] }, now, { news: 'down', urgent: true }).receivers.map((each) => each.channel)).not.toContain(id)
    await confirmChannel(pool, id, await code(), ines.id, now)
    expect(await confirmed()).toBe(true)
    await expect(confirmChannel(pool, id, await code(), ines.id, now)).rejects.toMatchObject({ code: 'bad-document' })
  })
})

describe('an invitation', () => {
  it('counts once, for three days, and confirms the address it came to', async () => {
    const { pool } = database
    const link = await invite(pool, { name: 'Ada Brandt', mail: ' Ada@orrinsound.example', job: 'Boards', role: 'responder' }, ines, now)
    const token = link.split('/').at(-1)!
    await expect(invite(pool, { name: 'Other', mail: 'ada@orrinsound.example', job: '', role: 'viewer' }, ines, now)).rejects.toMatchObject({ code: 'bad-document' })
    expect(await invited(pool, token, now + 4 * DAY)).toBeUndefined()
    await expect(acceptInvitation(pool, token, 'short', now)).rejects.toMatchObject({ code: 'bad-document' })
    await expect(acceptInvitation(pool, 'made-up', 'a long password', now)).rejects.toMatchObject({ code: 'wrong-state' })
    const id = await acceptInvitation(pool, token, 'a long password', now)
    await expect(acceptInvitation(pool, token, 'another password', now)).rejects.toMatchObject({ code: 'wrong-state' })
    expect(await signIn(pool, 'ada@orrinsound.example', 'a long password', { address: '192.0.2.7', agent: 'test' }, now)).toMatch(/^s_/)
    expect((await listChannels(pool)).filter((each) => each.person === id).map((each) => each.confirmed)).toEqual([true])
  })
})
