import { startTestDatabase, type TestDatabase } from './database'
import type { Observation } from '../src/core/observation'
import { testMessage } from '../src/core/messages/message'
import { emptySketch, mergeEncoded, percentile, SKETCH_ERROR } from '../src/core/sketches/sketch'
import { DAY, HOUR, MINUTE } from '../src/core/units'
import { askForRuns, haltChecks, requireCheck } from '../src/store/checks'
import { addCheck, removeCheck, replaceCheck } from '../src/store/define-one'
import { rows, transaction, type Pool } from '../src/store/database'
import { addChannel, listDeliveries, queueDeliveries, settleDelivery, takeDeliveries } from '../src/store/deliveries'
import { fenceShare, leaseShares, readArrivals, releaseShares } from '../src/store/engine-work'
import { actOnIncident } from '../src/store/incident-acts'
import { listEvents, listIncidents, openIncident } from '../src/store/incidents'
import { addLocation, listLocations, plainLocation } from '../src/store/locations'
import { keepPartitions, migrate } from '../src/store/migrate'
import { listObservations, numberTexts, storeObservations, textsOfAll } from '../src/store/observations'
import { addPerson, addToken, changePassword, listPeople, personOfSession, personOfToken, signIn, type Person } from '../src/store/people'
import { acceptObservations, addProbe, assignments, holdLocations, listProbes, probeByToken, SHARES, storeHealth, takeOrders } from '../src/store/probes'
import { markDue, dueWindows, readSketches, rollUp } from '../src/store/rollups'
import { stateSpans, storeChanges } from '../src/store/states'

const NOW = Math.floor(Date.now() / DAY) * DAY + 12 * HOUR
const FROM = { address: '192.0.2.7', agent: 'test' }
let database: TestDatabase
let pool: Pool
let location = 0
let other = 0
let owner: Person

const definition = (key: string, more: object = {}) => ({ check: key, name: key, http: { url: 'https://x.example/' }, every: '60s', ...more })
/** What one probe alone at a location has to do. */
const assignedTo = (place: number) => assignments(pool, 1, [{ location: place, alive: [1] }], NOW)
const observation = (check: number, at: number, more: Partial<Observation> = {}): Observation =>
  ({ check, location, at, occasion: 'scheduled', verdict: 'pass', phases: { wait: 40 }, total: 50, version: 1, status: 200, ...more })
const keep = async (observations: Observation[]) => transaction(pool, async (on) => storeObservations(on, observations, await numberTexts(pool, textsOfAll(observations))))

beforeAll(async () => {
  database = await startTestDatabase(4806)
  expect(await migrate(database.url, 'src/store/migrations')).toBeGreaterThan(0)
  pool = database.pool
  await keepPartitions(pool, NOW, { observation: 3 * DAY, evidence: 3 * DAY }, NOW - 2 * DAY)
  location = await addLocation(pool, plainLocation({ key: 'bergen', place: 'Bergen', country: 'NO', network: 'Nordvik Fibre', networkType: 'access' }), 1)
  other = await addLocation(pool, plainLocation({ key: 'galway', place: 'Galway', country: 'IE', network: 'Atlantic Net', networkType: 'transit' }), 2)
  await addPerson(pool, { key: 'ines', name: 'Ines Falk', mail: 'ines@orrinsound.example', job: '', role: 'owner' }, 'a long password', NOW)
  await addPerson(pool, { key: 'mael', name: 'Mael Kerjean', mail: 'mael@orrinsound.example', job: '', role: 'viewer' }, undefined, NOW)
  owner = (await listPeople(pool)).find((person) => person.key === 'ines')!
})

afterAll(() => database.stop())

describe('people', () => {
  it('sign in with the right password only, and are slowed down after eight wrong ones', async () => {
    const token = await signIn(pool, ' INES@orrinsound.example', 'a long password', FROM, NOW)
    expect((await personOfSession(pool, token, NOW))?.name).toBe('Ines Falk')
    expect(await personOfSession(pool, token, NOW + 31 * DAY)).toBeUndefined()
    expect(await personOfSession(pool, 'made up', NOW)).toBeUndefined()
    await expect(signIn(pool, 'mael@orrinsound.example', '', FROM, NOW)).rejects.toThrow('wrong')
    for (let attempt = 0; attempt < 8; attempt += 1) await expect(signIn(pool, 'guess@orrinsound.example', 'x', FROM, NOW)).rejects.toThrow('is wrong')
    await expect(signIn(pool, 'guess@orrinsound.example', 'x', FROM, NOW)).rejects.toThrow('Too many attempts')
    await expect(signIn(pool, 'guess@orrinsound.example', 'x', FROM, NOW + 16 * MINUTE)).rejects.toThrow('is wrong')
  })

  it('end every other session when they change their password', async () => {
    const [one, two] = [await signIn(pool, owner.mail, 'a long password', FROM, NOW), await signIn(pool, owner.mail, 'a long password', FROM, NOW)]
    await expect(changePassword(pool, owner.id, 'not it', 'another password', one)).rejects.toThrow('present password')
    await expect(changePassword(pool, owner.id, 'a long password', 'short', one)).rejects.toThrow('10 to 200')
    await changePassword(pool, owner.id, 'a long password', 'another password', one)
    expect(await personOfSession(pool, one, NOW)).toBeDefined()
    expect(await personOfSession(pool, two, NOW)).toBeUndefined()
  })

  it('hold tokens with a scope and an end, of which only a hash is kept', async () => {
    const token = await addToken(pool, owner.id, 'pipeline', 'read', NOW + HOUR, NOW)
    expect(await personOfToken(pool, token, NOW)).toMatchObject({ scope: 'read', person: { name: 'Ines Falk' } })
    expect(await personOfToken(pool, token, NOW + 2 * HOUR)).toBeUndefined()
    expect(JSON.stringify(await rows(pool, 'SELECT * FROM api_token'))).not.toContain(token)
  })
})

describe('checks', () => {
  it('keep every version, refuse a late editor, and free their key when removed', async () => {
    const first = await addCheck(pool, definition('one'), owner.id, NOW)
    await expect(addCheck(pool, definition('one'), owner.id, NOW)).rejects.toMatchObject({ code: 'duplicate-key' })
    await replaceCheck(pool, 'one', definition('one', { every: '5m' }), 1, owner.id, NOW)
    await expect(replaceCheck(pool, 'one', definition('one', { every: '1h' }), 1, owner.id, NOW)).rejects.toThrow(/Ines Falk saved version 2/)
    expect((await requireCheck(pool, 'one')).check.every).toBe(5 * MINUTE)
    const renamed = await replaceCheck(pool, 'one', definition('uno'), 2, owner.id, NOW)
    expect(renamed.id).toBe(first.id)
    expect(await rows(pool, "SELECT version FROM revision WHERE kind = 'check' AND subject_id = ? ORDER BY version", [first.id])).toHaveLength(3)
    await removeCheck(pool, 'uno', owner.id, NOW)
    await expect(requireCheck(pool, 'uno')).rejects.toMatchObject({ code: 'not-found' })
    expect((await addCheck(pool, definition('uno'), owner.id, NOW)).id).not.toBe(first.id)
  })
})

describe('observations', () => {
  it('are stored once however often they come, and read back as they were', async () => {
    const { id } = await addCheck(pool, definition('stored'), null, NOW)
    const failing = observation(id, NOW + 1, { verdict: 'fail', reason: 'status', sentence: 'the status is 503', status: 503, server: 'edge-4', address: '198.51.100.14', certificateEnd: NOW + DAY, evidence: { redirects: [] } })
    expect(await keep([observation(id, NOW), failing, failing])).toHaveLength(2)
    expect(await keep([observation(id, NOW), failing, observation(id, NOW + 2)])).toHaveLength(1)
    const found = await listObservations(pool, { check: id, from: NOW, to: NOW + 10, limit: 10 })
    expect(found).toHaveLength(3)
    expect({ ...found[1], evidence: failing.evidence }).toEqual(failing)
    expect(await listObservations(pool, { check: id, from: NOW, to: NOW + 10, limit: 10, verdict: 'fail' })).toHaveLength(1)
  })

  it('roll up to the same sketches however often, and their percentiles are those of the observations', async () => {
    const { id } = await addCheck(pool, definition('rolled'), null, NOW)
    const start = Math.floor(NOW / HOUR) * HOUR
    const totals = Array.from({ length: 600 }, (_, index) => 20 + ((index * 7919) % 1000))
    await keep(totals.map((total, index) => observation(id, start + index * 5000, { total, location: index % 2 === 0 ? location : other })))
    const windows = Array.from({ length: 12 }, (_, index) => ({ check: id, at: start + index * 5 * MINUTE }))
    for (let round = 0; round < 2; round += 1) {
      await markDue(pool, windows)
      const due = (await dueWindows(pool, NOW + DAY, 100)).filter((each) => each.check === id)
      expect(due).toHaveLength(12)
      await transaction(pool, (on) => rollUp(on, due))
    }
    for (const span of ['5m', '1h', '1d'] as const) {
      const merged = emptySketch()
      for (const window of await readSketches(pool, [id], span, 'total', { from: start - DAY, to: start + DAY })) mergeEncoded(merged, window.sketch)
      expect(merged.total).toBe(600)
      const exact = [...totals].sort((a, b) => a - b)[Math.ceil(0.95 * 600) - 1]! * 1000
      expect(Math.abs(percentile(merged, 0.95)! - exact)).toBeLessThanOrEqual(exact * SKETCH_ERROR + 1)
    }
  })

  it('are dropped by whole days when they are too old', async () => {
    const days = async () => (await rows<{ name: string }>(pool, "SELECT partition_name AS name FROM information_schema.partitions WHERE table_schema = DATABASE() AND table_name = 'observation'")).length
    const before = await days()
    await keepPartitions(pool, NOW + 4 * DAY, { observation: 2 * DAY, evidence: 2 * DAY })
    await keepPartitions(pool, NOW + 4 * DAY, { observation: 2 * DAY, evidence: 2 * DAY })
    expect(await days()).toBeGreaterThan(3)
    expect(await days()).toBeLessThan(before + 5)
    expect((await listObservations(pool, { check: 1, from: 0, to: NOW - 2 * DAY, limit: 10 }))).toEqual([])
  })

  it('give spans of state that follow one another', async () => {
    const { id } = await addCheck(pool, definition('spans'), null, NOW)
    const turn = (from: 'up' | 'down', to: 'up' | 'down', since: number) => ({ check: id, decided: since, since, lastPass: null, from, to, reason: null, sentence: null, failing: 0, locations: 2 })
    await storeChanges(pool, [turn('down', 'up', NOW - HOUR), turn('up', 'down', NOW), turn('down', 'up', NOW + MINUTE)])
    expect((await stateSpans(pool, [id], { from: NOW - MINUTE, to: NOW + HOUR })).get(id)).toEqual([
      { state: 'up', from: NOW - MINUTE, to: NOW }, { state: 'down', from: NOW, to: NOW + MINUTE }, { state: 'up', from: NOW + MINUTE }
    ])
  })
})

describe('work that several processes share', () => {
  it('belongs to one engine at a time, and to another as soon as that one is silent or lets go', async () => {
    expect(await leaseShares(pool, 'one', NOW, 5000)).toHaveLength(SHARES + 2)
    expect(await leaseShares(pool, 'two', NOW + 1000, 5000)).toEqual([])
    expect(await transaction(pool, (on) => fenceShare(on, 0, 'two'))).toBe(false)
    expect(await leaseShares(pool, 'two', NOW + 6000, 5000)).toHaveLength(SHARES + 2)
    expect(await transaction(pool, (on) => fenceShare(on, 0, 'one'))).toBe(false)
    await releaseShares(pool, 'two')
    expect(await leaseShares(pool, 'one', NOW + 6001, 5000)).toHaveLength(SHARES + 2)
  })

  it('reaches the engine in the order in which it came', async () => {
    await acceptObservations(pool, [observation(8, NOW), observation(16, NOW + 1)], NOW)
    await acceptObservations(pool, [observation(8, NOW + 2)], NOW)
    expect((await readArrivals(pool, 0, 10)).observations.map((each) => each.at)).toEqual([NOW, NOW + 1, NOW + 2])
  })

  it('is shared by the probes of a location, and done by the others when one is silent', async () => {
    const [one, two] = [await probeByToken(pool, await addProbe(pool, 'one', [location], NOW)), await probeByToken(pool, await addProbe(pool, 'two', [location, other], NOW))]
    await expect(probeByToken(pool, 'made up')).rejects.toMatchObject({ code: 'not-signed-in' })
    expect(await holdLocations(pool, one, '1', NOW)).toEqual([{ location, alive: [one.id] }])
    const both = await holdLocations(pool, two, '1', NOW)
    expect(both).toEqual([{ location, alive: [one.id, two.id] }, { location: other, alive: [two.id] }])
    const of = async (probe: number, held: typeof both) => (await assignments(pool, probe, held, NOW)).checks.filter((check) => check.locations.some((place) => place.id === location)).map((check) => check.id)
    const [first, second] = [await of(one.id, both.slice(0, 1)), await of(two.id, both)]
    expect(first.filter((id) => second.includes(id))).toEqual([])
    expect([...first, ...second].sort()).toEqual((await of(two.id, [{ location, alive: [two.id] }])).sort())
    expect(await holdLocations(pool, two, '1', NOW + 60_000)).toEqual([{ location, alive: [two.id] }, { location: other, alive: [two.id] }])
    await storeHealth(pool, two, { clockOffset: -12, backlog: 3, lateness: 8, checks: 5, lines: [{ location, cutSince: NOW }] }, NOW)
    expect((await listProbes(pool)).find((probe) => probe.id === two.id)).toMatchObject({ clockOffset: -12, backlog: 3, lateness: 8, checks: 5 })
    expect((await listLocations(pool)).find((each) => each.id === location)).toMatchObject({ cutSince: NOW })
    const { checks } = await assignedTo(other)
    expect(checks.every((check) => check.locations.length === 1 && check.locations[0]!.id === other)).toBe(true)
  })

  it('is handed out once, and again only when nobody answered; a paused check is not assigned', async () => {
    const stored = await addCheck(pool, definition('ordered', { from: ['bergen'] }), null, NOW)
    const mine = async (now: number) => (await takeOrders(pool, 1, [{ location, alive: [1] }], now)).runs.filter((run) => run.check === stored.id).length
    expect(await askForRuns(pool, stored.id, stored.check, NOW)).toBe(1)
    expect([await mine(NOW), await mine(NOW + 1000), await mine(NOW + 30_000)]).toEqual([1, 0, 1])
    await haltChecks(pool, 'pause', ['ordered'], {}, owner.id, NOW)
    expect((await assignedTo(location)).checks.some((check) => check.id === stored.id)).toBe(false)
  })

  it('sends each delivery once, takes over what a dead engine left, and never writes a step twice', async () => {
    const channel = await addChannel(pool, { key: 'mail', name: 'Mail', kind: 'mail', person: null, config: { to: 'x@y.example' } })
    const steps = [{ key: 'incident/1/down/1', channel }, { key: 'incident/1/down/2', channel }]
    for (let round = 0; round < 3; round += 1) await queueDeliveries(pool, steps, 'test', testMessage('Mail', 'Ines', 'UTC', NOW), null, NOW)
    const [one, two] = await Promise.all([takeDeliveries(pool, NOW, 20_000), takeDeliveries(pool, NOW, 20_000)])
    expect(one.length + two.length).toBe(2)
    expect(await takeDeliveries(pool, NOW + 1000, 20_000)).toEqual([])
    const [first, second] = [...one, ...two]
    await settleDelivery(pool, first!.id, { sent: true, answer: '250' }, NOW)
    expect((await takeDeliveries(pool, NOW + 30_000, 20_000)).map((each) => each.id)).toEqual([second!.id])
    await settleDelivery(pool, second!.id, { sent: false, answer: 'refused', againAt: NOW + 60_000 }, NOW)
    expect(await takeDeliveries(pool, NOW + 59_000, 20_000)).toEqual([])
    expect(await takeDeliveries(pool, NOW + 61_000, 20_000)).toHaveLength(1)
    expect((await listDeliveries(pool, { limit: 10 })).map((each) => each.tries).sort()).toEqual([1, 3])
  })
})

describe('an incident', () => {
  it('is open once a check, is taken, handed over, noted and closed, and says who did what', async () => {
    const { id: check } = await addCheck(pool, definition('troubled'), null, NOW)
    const facts = { check, trouble: 'down' as const, openedAt: NOW, since: NOW, lastPass: null, reason: 'status', sentence: 'the status is 503', failing: 2, locations: 2 }
    const id = await openIncident(pool, facts)
    await expect(openIncident(pool, facts)).rejects.toMatchObject({ code: 'ER_DUP_ENTRY' })
    const other = (await listPeople(pool)).find((person) => person.key === 'mael')!
    expect((await actOnIncident(pool, id, 'take', owner, {}, NOW + 1)).holderName).toBe('Ines Falk')
    await expect(actOnIncident(pool, id, 'take', owner, {}, NOW + 2)).rejects.toMatchObject({ code: 'wrong-state' })
    expect((await actOnIncident(pool, id, 'hand-over', owner, { to: other.id }, NOW + 3)).holderName).toBe('Mael Kerjean')
    await expect(actOnIncident(pool, id, 'hand-over', owner, { to: 999 }, NOW + 4)).rejects.toMatchObject({ code: 'bad-document' })
    await expect(actOnIncident(pool, id, 'note', owner, { text: '  ' }, NOW + 5)).rejects.toMatchObject({ code: 'bad-document' })
    await actOnIncident(pool, id, 'note', owner, { text: 'restarted' }, NOW + 6)
    const closed = await actOnIncident(pool, id, 'not-real', owner, {}, NOW + 7)
    expect(closed).toMatchObject({ notReal: true, closedBy: 'Ines Falk' })
    await expect(actOnIncident(pool, id, 'close', owner, {}, NOW + 8)).rejects.toMatchObject({ code: 'wrong-state' })
    expect((await listEvents(pool, id)).map((event) => event.kind)).toEqual(['taken', 'handed-over', 'note', 'not-real'])
    expect(await openIncident(pool, facts)).not.toBe(id)
    expect((await listIncidents(pool, { open: true, limit: 10 }))).toHaveLength(1)
  })
})
