import http from 'node:http'
import type { AddressInfo } from 'node:net'
import { SMTPServer } from 'smtp-server'
import type { Observation } from '../src/core/observation'
import { reach } from '../src/core/routing/reach'
import { DAY, HOUR, MINUTE } from '../src/core/units'
import { followBurns } from '../src/engine/burn-step'
import { deliverDue } from '../src/engine/deliver'
import { evaluateShare, type ShareMemory } from '../src/engine/evaluate-share'
import { refresh, type Definitions } from '../src/engine/definitions'
import { tellAsked, tellUnexplained } from '../src/engine/incident-step'
import { endOthers, tellSteadily } from '../src/engine/tell-step'
import { UsualTimes } from '../src/engine/usual-times'
import { defineAll } from '../src/store/define'
import { addCheck } from '../src/store/define-one'
import { rows } from '../src/store/database'
import { confirmChannel, sendCode } from '../src/store/channel-codes'
import { gatherHeld } from '../src/store/delivering'
import { addChannel, changeChannel, listChannels, removeChannel, takeDeliveries } from '../src/store/deliveries'
import { leaseShares, sharesWithArrivals } from '../src/store/engine-work'
import { actOnIncident } from '../src/store/incident-acts'
import { listEvents, listIncidents, listParts, openPractice, requireIncident, type Incident } from '../src/store/incidents'
import { addLocation, plainLocation } from '../src/store/locations'
import { keepPartitions, migrate } from '../src/store/migrate'
import { acceptInvitation, invite, invited } from '../src/store/invitations'
import { addPerson, listPeople, signIn, type Person } from '../src/store/people'
import { acceptObservations } from '../src/store/probes'
import { setPreferences } from '../src/store/preferences'
import { defineRouting, readRoutingWorld } from '../src/store/routing'
import { readSettings, writeSettings } from '../src/store/settings'
import { startTestDatabase, type TestDatabase } from './database'

const ENGINE = '00000000-0000-4000-8000-000000000001'
let database: TestDatabase
let now = Math.floor(Date.now() / DAY) * DAY + 12 * HOUR
let definitions: Definitions | undefined
const memories = new Map<number, ShareMemory>()
const usual = new UsualTimes()
const places: number[] = []
const checks = new Map<string, number>()
let ines: Person

const check = async (key: string, { kind = { http: { url: `https://${key}.example/` } }, ...more }: { kind?: object } & Record<string, unknown> = {}) => {
  const { id } = await addCheck(database.pool, { check: key, name: key, ...kind, every: '60s', down: { tries: 1, apart: '1s', locations: 1 }, up: { tries: 1 }, ...more }, null, now - HOUR)
  checks.set(key, id)
}

/** Lets time pass, and does what an engine does meanwhile. */
async function pass(length: number): Promise<void> {
  now += length
  await leaseShares(database.pool, ENGINE, now, 60_000)
  definitions = await refresh(database.pool, definitions, now)
  for (const share of await sharesWithArrivals(database.pool)) {
    const memory = memories.get(share) ?? new Map()
    memories.set(share, memory)
    while ((await evaluateShare(database.pool, share, ENGINE, definitions, usual, memory, () => now)) ?? 0) { /* until it is empty */ }
  }
  await tellUnexplained(database.pool, definitions, () => true, now)
  await tellAsked(database.pool, definitions, now)
  await endOthers(database.pool, definitions, now)
  await tellSteadily(database.pool, definitions, now)
}

/** Every check is seen once at each location, a second from now. */
async function seen(verdicts: Record<string, 'pass' | 'fail'>, more: Partial<Observation> = {}): Promise<void> {
  now += 1000
  await acceptObservations(database.pool, Object.entries(verdicts).flatMap(([key, verdict]) => places.map((location): Observation => ({
    check: checks.get(key)!, location, at: now, occasion: 'scheduled', verdict, phases: { wait: 20 }, total: 30, version: 1, ...(verdict === 'fail' ? { reason: 'status', sentence: 'the status is 503' } : {}), ...more
  }))), now)
  await pass(500)
}

const told = (incident?: number) => rows<{ id: number; news: string; subject: string; channel: string; cause: string; text: string }>(database.pool, `SELECT d.id, d.news, JSON_VALUE(d.message, '$.subject') AS subject, c.channel_key AS channel, d.cause, JSON_EXTRACT(d.message, '$.lines') AS text
  FROM delivery d JOIN channel c ON c.id = d.channel_id WHERE ${incident === undefined ? '1 = 1' : 'd.incident_id = ?'} ORDER BY d.id`, incident === undefined ? [] : [incident])
const open = () => listIncidents(database.pool, { open: true, limit: 1000 })
const incidentOf = async (key: string): Promise<Incident> => (await listIncidents(database.pool, { check: checks.get(key)!, limit: 1 }))[0]!
const kinds = async (id: number) => (await listEvents(database.pool, id)).map((each) => each.kind)
const act = (id: number, what: Parameters<typeof actOnIncident>[2], given: Parameters<typeof actOnIncident>[4] = {}) => actOnIncident(database.pool, id, what, ines, given, now)

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

beforeAll(async () => {
  database = await startTestDatabase(4807)
  const { pool } = database
  await migrate(database.url, 'src/store/migrations')
  await keepPartitions(pool, now, { observation: 3 * DAY, evidence: 3 * DAY }, now - DAY)
  for (const [index, key] of ['bergen', 'galway'].entries()) places.push(await addLocation(pool, plainLocation({ key, place: key, country: 'NO', network: key, networkType: 'access' }), index))
  for (const key of ['ines', 'mael']) await addPerson(pool, { key, name: key, mail: `${key}@orrinsound.example`, job: '', role: 'owner' }, undefined, now)
  const people = await listPeople(pool)
  ines = people.find((each) => each.key === 'ines')!
  for (const { key, id } of people) await addChannel(pool, { key: `mail-${key}`, name: `${key} by mail`, kind: 'mail', person: id, config: { to: `${key}@orrinsound.example` } })
  await defineRouting(pool, [
    { kind: 'route', key: 'vital', document: { route: 'vital', place: 1, when: { importance: 'vital' }, then: [{ tell: ['person/ines', 'person/mael'] }] } },
    { kind: 'route', key: 'rest', document: { route: 'rest', place: 2, then: [{ tell: 'person/ines' }, { tell: 'person/mael', after: '10m', unless: 'taken' }] } }
  ], null, now)
}, 90_000)
afterAll(async () => {
  hookServer?.close()
  mailServer?.close(() => undefined)
  await database.stop()
})

describe('one cause', () => {
  it('is one incident and one message a person and step, however many checks fail', async () => {
    const keys = Array.from({ length: 300 }, (_, index) => `storm-${index}`)
    for (const key of keys) await check(key)
    await seen(Object.fromEntries(keys.map((key) => [key, 'pass'])))
    await seen(Object.fromEntries(keys.map((key) => [key, 'fail'])), { address: '192.0.2.10' })
    const [incident, ...others] = await open()
    expect(others).toEqual([])
    expect(incident).toMatchObject({ parts: 299, partsOpen: 299 })
    expect(new Set((await listParts(database.pool, incident!.id)).map((each) => each.partWhy))).toEqual(new Set(['both use the address 192.0.2.10']))
    const first = await told(incident!.id)
    expect(first.map((each) => each.channel)).toEqual(['mail-ines'])
    // what had joined before the message went out stands in it
    expect(first[0]!.subject).toMatch(/^storm-\d+ and 299 more are down$/)
    await pass(11 * MINUTE)
    expect((await told(incident!.id)).map(({ channel, subject }) => [channel, subject.replace(/\d+ and/, 'n and')])).toEqual([['mail-ines', expect.anything()], ['mail-mael', 'Still down: storm-n and 299 more']])
    await seen(Object.fromEntries(keys.slice(0, -1).map((key) => [key, 'pass'])))
    expect((await requireIncident(database.pool, incident!.id)).closedAt).toBeNull()
    await seen({ 'storm-299': 'pass' })
    expect(await open()).toEqual([])
    expect((await told(incident!.id)).filter((each) => each.news === 'over').map((each) => each.channel).sort()).toEqual(['mail-ines', 'mail-mael'])
  }, 60_000)

  it('does not swallow a failure that shares nothing, and tells those whom another route would have told', async () => {
    await check('edge', { http: { url: 'https://one.example/' } })
    await check('shop', { http: { url: 'https://one.example/shop' }, importance: 'vital' })
    await check('mail', { http: { url: 'https://two.example/' } })
    await seen({ edge: 'pass', shop: 'pass', mail: 'pass' })
    await seen({ edge: 'fail' })
    await seen({ shop: 'fail', mail: 'fail' })
    const edge = await incidentOf('edge')
    expect((await open()).map((each) => [each.checkKey, each.partsOpen])).toEqual([['edge', 1], ['mail', 0]])
    expect((await incidentOf('shop'))).toMatchObject({ partOf: edge.id, partWhy: 'both use the host one.example' })
    // ines heard of it two seconds ago; mael only by the route for what is vital
    expect((await told(edge.id)).map(({ channel, cause, subject }) => [channel, cause, subject])).toEqual([['mail-ines', 'Route 2, step 1', 'edge and 1 more are down'], ['mail-mael', 'Route 1', 'edge and 1 more are down']])
  })

  it('can be judged otherwise by hand: taken out it is told of by itself, joined it is not told of apart', async () => {
    const [edge, shop, mail] = [await incidentOf('edge'), await incidentOf('shop'), await incidentOf('mail')]
    await expect(act(edge.id, 'take-out')).rejects.toMatchObject({ code: 'wrong-state' })
    await act(shop.id, 'take-out')
    await pass(1000)
    expect((await told(shop.id)).map((each) => each.channel).sort()).toEqual(['mail-ines', 'mail-mael'])
    await expect(act(mail.id, 'join', { into: mail.id })).rejects.toMatchObject({ code: 'bad-document' })
    const whole = await act(mail.id, 'join', { into: edge.id })
    expect(whole).toMatchObject({ id: edge.id, partsOpen: 1 })
    // what was done to a part is done to the incident
    expect((await act(mail.id, 'take')).id).toBe(edge.id)
    const before = (await told()).length
    await pass(11 * MINUTE)
    expect((await told()).slice(before)).toEqual([])
    expect(await kinds(edge.id)).toContain('left-out')
    await seen({ edge: 'pass', shop: 'pass' })
    expect((await open()).map((each) => [each.checkKey, each.ownEndedAt !== null])).toEqual([['edge', true]])
    await seen({ mail: 'pass' })
    expect(await open()).toEqual([])
  })

  it('holds back what a needed check explains, until that works and it fails again', async () => {
    await check('names')
    await check('web', { needs: ['names'] })
    await seen({ names: 'pass', web: 'pass' })
    await seen({ names: 'fail', web: 'fail' })
    await seen({ names: 'fail', web: 'fail' })
    const lead = await incidentOf('names')
    expect(await incidentOf('web')).toMatchObject({ partOf: lead.id, partWhy: 'it needs names', explainedBy: checks.get('names') })
    expect((await told(lead.id)).map((each) => each.channel)).toEqual(['mail-ines'])
    await seen({ names: 'pass' })
    expect(await open()).toHaveLength(1)
    await seen({ web: 'fail' })
    const web = await incidentOf('web')
    expect(web).toMatchObject({ partOf: null, explainedBy: null })
    expect((await told(web.id)).map((each) => [each.channel, each.subject])).toEqual([['mail-ines', 'web is down']])
    await seen({ web: 'pass' })
    await pass(1000)
    expect(await open()).toEqual([])
  })
})

describe('someone who holds an incident', () => {
  it('holds it off, has the next step now, and calls others in', async () => {
    await check('desk')
    await seen({ desk: 'pass' })
    await seen({ desk: 'fail' })
    const { id } = await incidentOf('desk')
    await expect(act(id, 'hold-off', { until: now - 1 })).rejects.toMatchObject({ code: 'bad-document' })
    await act(id, 'hold-off', { until: now + 30 * MINUTE })
    await pass(20 * MINUTE)
    expect((await told(id)).map((each) => each.channel)).toEqual(['mail-ines'])
    await act(id, 'take')
    await act(id, 'escalate')
    await pass(1000)
    expect((await told(id)).map(({ channel, cause }) => [channel, cause])).toEqual([['mail-ines', 'Route 2, step 1'], ['mail-mael', 'Route 2, step 2']])
    await expect(act(id, 'escalate')).rejects.toMatchObject({ code: 'wrong-state' })
    await expect(act(id, 'call-in', { tell: ['person/nobody'] })).rejects.toMatchObject({ code: 'bad-document' })
    await act(id, 'call-in', { tell: ['person/mael'], text: 'the desk is yours' })
    await pass(1000)
    const last = (await told(id)).at(-1)!
    expect([last.channel, last.cause]).toEqual(['mail-mael', 'Called in by ines: the desk is yours'])
    await seen({ desk: 'pass' })
  })
})

describe('a practice outage', () => {
  it('goes the whole way, is marked everywhere, and ends by itself', async () => {
    await check('drill')
    await seen({ drill: 'pass' })
    const id = await openPractice(database.pool, { check: checks.get('drill')!, trouble: 'down', by: ines.id, byName: ines.name, until: now + 15 * MINUTE, sentence: 'made up', locations: 2 }, now)
    await pass(1000)
    await pass(10 * MINUTE)
    expect((await told(id)).map(({ channel, subject }) => [channel, subject])).toEqual([['mail-ines', 'Practice: drill is down'], ['mail-mael', 'Practice: Still down: drill']])
    expect((await told(id))[0]!.text).toContain('nothing is really down')
    // a real failure meanwhile is an incident of its own
    await seen({ drill: 'fail' })
    expect((await open()).map((each) => each.practiceUntil === null).sort()).toEqual([false, true])
    expect(await listIncidents(database.pool, { real: true, open: true, limit: 10 })).toHaveLength(1)
    await seen({ drill: 'pass' })
    await pass(10 * MINUTE)
    expect(await open()).toEqual([])
    expect((await told(id)).filter((each) => each.news === 'over').map((each) => each.subject)).toEqual(['Practice: Up again: drill', 'Practice: Up again: drill'])
  })
})

describe('what is no outage', () => {
  const route = (key: string, place: number, document: object) => ({ kind: 'route' as const, key, document: { route: key, place, ...document } })
  const rest = [route('vital', 8, { when: { importance: 'vital' }, then: [{ tell: 'everyone' }] }), route('rest', 9, { then: [{ tell: 'person/ines' }] })]
  const warned = { verdict: 'warn' as const, reason: 'condition', sentence: 'the certificate ends in 13 days' }

  it('is told where a route asks for warnings, and becomes an outage when it gets worse', async () => {
    await check('ending', { down: { tries: 2, apart: '1s', locations: 1 } })
    await seen({ ending: 'pass' })
    for (let turn = 0; turn < 2; turn += 1) await seen({ ending: 'pass' }, warned)
    expect(await listIncidents(database.pool, { check: checks.get('ending')!, limit: 1 })).toEqual([])
    await defineRouting(database.pool, [route('warnings', 1, { when: { state: 'warning', check: 'ending' }, then: [{ tell: 'person/mael' }] }), ...rest], null, now)
    await seen({ ending: 'pass' })
    for (let turn = 0; turn < 2; turn += 1) await seen({ ending: 'pass' }, warned)
    const { id } = await incidentOf('ending')
    expect((await told(id)).map(({ channel, news, subject }) => [channel, news, subject])).toEqual([['mail-mael', 'warning', 'ending is in warning']])
    // a suspicion is not the end of a warning
    await seen({ ending: 'fail' })
    await seen({ ending: 'pass' }, warned)
    expect(await requireIncident(database.pool, id)).toMatchObject({ trouble: 'warning', closedAt: null })
    await seen({ ending: 'fail' })
    await seen({ ending: 'fail' })
    expect(await requireIncident(database.pool, id)).toMatchObject({ trouble: 'down', closedAt: null })
    expect((await told(id)).map(({ channel, news }) => [channel, news])).toEqual([['mail-mael', 'warning'], ['mail-ines', 'down']])
    await seen({ ending: 'pass' })
    await seen({ ending: 'pass' })
    expect((await requireIncident(database.pool, id)).closedAt).not.toBeNull()
  })

  it('says that it is over', async () => {
    for (let turn = 0; turn < 2; turn += 1) await seen({ ending: 'pass' }, warned)
    const { id } = await incidentOf('ending')
    await seen({ ending: 'pass' })
    expect((await told(id)).map(({ news, subject }) => [news, subject])).toEqual([['warning', 'ending is in warning'], ['over', 'ending is back within its softer limits']])
    await defineRouting(database.pool, [{ kind: 'route', key: 'warnings', document: null }], null, now)
  })

  it('of one host is one warning, whichever checks see it', async () => {
    await defineRouting(database.pool, [route('warnings', 1, { when: { state: 'warning' }, then: [{ tell: 'person/mael' }] })], null, now)
    for (const key of ['tide-one', 'tide-two']) await check(key, { kind: { http: { url: `https://tides.example/${key}` } } })
    await seen({ 'tide-one': 'pass', 'tide-two': 'pass' })
    await seen({ 'tide-one': 'pass', 'tide-two': 'pass' }, warned)
    const warnings = (await open()).filter((each) => each.trouble === 'warning')
    expect(warnings.map((each) => each.parts)).toEqual([1])
    expect((await told(warnings[0]!.id)).map((each) => each.channel)).toEqual(['mail-mael'])
    await seen({ 'tide-one': 'pass', 'tide-two': 'pass' })
    expect((await open()).filter((each) => each.trouble === 'warning')).toEqual([])
    await defineRouting(database.pool, [{ kind: 'route', key: 'warnings', document: null }], null, now)
  })

  it('is a service that uses up its error budget too fast, until the pace is fine again', async () => {
    await defineAll(database.pool, [{ kind: 'service', key: 'sales', document: { service: 'sales', name: 'Sales', objective: { available: '99%', over: '30d' } } }], 'A service', null, now)
    for (const key of ['sales-one', 'sales-two']) await check(key, { service: 'sales' })
    await seen({ 'sales-one': 'pass', 'sales-two': 'pass' })
    await defineRouting(database.pool, [route('budget', 1, { when: { state: 'burn' }, then: [{ tell: 'person/mael' }] })], null, now)
    await pass(HOUR)
    await seen({ 'sales-two': 'fail' })
    await pass(25 * MINUTE)
    const before = (await open()).length
    await followBurns(database.pool, definitions!, now)
    await followBurns(database.pool, definitions!, now)
    expect((await open()).length).toBe(before + 1)
    const burn = (await open()).find((each) => each.trouble === 'burn')!
    expect(burn).toMatchObject({ checkName: 'Sales, production', checkKey: 'sales-two', sentence: expect.stringMatching(/^\d\d times faster than 99% allows, over the last 1 h/) })
    expect((await told(burn.id)).map(({ channel, news, subject }) => [channel, news, subject])).toEqual([['mail-mael', 'burn', 'Sales, production is burning its error budget']])
    // the check's own incident ends by itself and leaves the burn alone
    await seen({ 'sales-two': 'pass' })
    expect((await requireIncident(database.pool, burn.id)).closedAt).toBeNull()
    await pass(31 * MINUTE)
    await followBurns(database.pool, definitions!, now)
    expect((await told(burn.id)).map((each) => each.subject).at(-1)).toBe('Sales, production keeps within its error budget again')
    await defineRouting(database.pool, [{ kind: 'route', key: 'budget', document: null }], null, now)
  })
})

describe('a route', () => {
  const own = (document: object) => defineRouting(database.pool, [{ kind: 'route', key: 'own', document: { route: 'own', place: 1, ...document } }], null, now)
  it('that never tells twice in a time stays quiet about the same check, and says so', async () => {
    await check('flapping')
    await own({ when: { check: 'flapping' }, notTwiceIn: '6h', then: [{ tell: 'person/mael' }] })
    const ids = []
    for (let turn = 0; turn < 3; turn += 1) {
      await seen({ flapping: 'pass' })
      await seen({ flapping: 'fail' })
      ids.push((await incidentOf('flapping')).id)
      await seen({ flapping: 'pass' })
      await pass(turn === 1 ? 7 * HOUR : 10 * MINUTE)
    }
    expect(await Promise.all(ids.map(async (id) => (await told(id)).map((each) => each.news)))).toEqual([['down', 'over'], [], ['down', 'over']])
    expect(await kinds(ids[1]!)).toContain('quiet')
  })

  it('of a number tells when that number is the one beyond its limit', async () => {
    const pass = [{ metric: 'cpu.busy', value: { max: 90 } }, { metric: 'disk.used', value: { max: 90 } }]
    await check('host', { kind: { numbers: { scrape: 'http://host.example/metrics' } }, pass })
    await own({ when: { metric: 'disk.used' }, then: [{ tell: 'person/mael' }] })
    const beyond = (index: number) => ({ evidence: { conditions: [0, 1].map((each) => ({ index: each, outcome: each === index ? 'failed' as const : 'held' as const, found: '95' })) } })
    await seen({ host: 'pass' })
    await seen({ host: 'fail' }, beyond(0))
    expect((await told((await incidentOf('host')).id)).map((each) => each.channel)).toEqual(['mail-ines'])
    await seen({ host: 'pass' })
    await seen({ host: 'fail' }, beyond(1))
    expect((await told((await incidentOf('host')).id)).map((each) => each.channel)).toEqual(['mail-mael'])
    await seen({ host: 'pass' })
    await defineRouting(database.pool, [{ kind: 'route', key: 'own', document: null }], null, now)
  })
})

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
    now -= HOUR
    await sendFor(5000)
    now += HOUR
    await sendFor(3 * MINUTE, 5000)
    expect(hooked.filter((each) => /clock-back/.test(each.subject)).map((each) => each.subject)).toEqual(['clock-back is down', 'Still down: clock-back'])
    expect((await states(id)).map(({ channel, state }) => [channel, state])).toEqual([['hook', 'sent'], ['second', 'sent']])
    await isWell('clock-back')
  })

  it('wait when their channel has sent enough, and go another way when they are urgent and there is one', async () => {
    const [first] = (await listChannels(database.pool)).filter((each) => each.key === 'second')
    await changeChannel(database.pool, first!.id, 'The second hook', { url: `http://127.0.0.1:${hookPort}/`, secret: 'a long secret', limit: { most: 1, minutes: 30 } }, true)
    now += HOUR
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
    now = Math.floor(now / DAY) * DAY + DAY + 20 * HOUR
    await check('night-one')
    await check('night-two', { http: { url: 'https://other.example/' } })
    await seen({ 'night-one': 'pass', 'night-two': 'pass' })
    await seen({ 'night-one': 'fail' })
    await seen({ 'night-one': 'pass' })
    now += 10 * MINUTE
    await seen({ 'night-two': 'fail' })
    const before = mailTo.length
    await sendFor(2 * HOUR, 10 * MINUTE)
    expect(mailTo.length).toBe(before)
    now = Math.floor(now / DAY) * DAY + 23.5 * HOUR
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
    now += 2 * MINUTE
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
