import type { Observation } from '../src/core/observation'
import { DAY, HOUR } from '../src/core/units'
import { evaluateShare, type ShareMemory } from '../src/engine/evaluate-share'
import { refresh, type Definitions } from '../src/engine/definitions'
import { tellAsked, tellUnexplained } from '../src/engine/incident-step'
import { endOthers, tellSteadily } from '../src/engine/tell-step'
import { UsualTimes } from '../src/engine/usual-times'
import { addCheck } from '../src/store/define-one'
import { rows } from '../src/store/database'
import { addChannel } from '../src/store/deliveries'
import { leaseShares, sharesWithArrivals } from '../src/store/engine-work'
import { actOnIncident } from '../src/store/incident-acts'
import { listEvents, listIncidents, type Incident } from '../src/store/incidents'
import { addLocation, plainLocation } from '../src/store/locations'
import { keepPartitions, migrate } from '../src/store/migrate'
import { addPerson, listPeople, type Person } from '../src/store/people'
import { acceptObservations } from '../src/store/probes'
import { defineRouting } from '../src/store/routing'
import { startTestDatabase, type TestDatabase } from './database'

export let database: TestDatabase
const ENGINE = '00000000-0000-4000-8000-000000000001'
/** The time of the engine under test; it passes only when it is told to. */
export let now = Math.floor(Date.now() / DAY) * DAY + 12 * HOUR
export let definitions: Definitions | undefined
const memories = new Map<number, ShareMemory>()
const usual = new UsualTimes()
const places: number[] = []
export const checks = new Map<string, number>()
export let ines: Person

/** Makes a check that is down at its first failure, unless told otherwise. */
export const check = async (key: string, { kind = { http: { url: `https://${key}.example/` } }, ...more }: { kind?: object } & Record<string, unknown> = {}) => {
  const { id } = await addCheck(database.pool, { check: key, name: key, ...kind, every: '60s', down: { tries: 1, apart: '1s', locations: 1 }, up: { tries: 1 }, ...more }, null, now - HOUR)
  checks.set(key, id)
}

/** Lets time pass, and does what an engine does meanwhile. */
export async function pass(length: number): Promise<void> {
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
export async function seen(verdicts: Record<string, 'pass' | 'fail'>, more: Partial<Observation> = {}): Promise<void> {
  now += 1000
  await acceptObservations(database.pool, Object.entries(verdicts).flatMap(([key, verdict]) => places.map((location): Observation => ({
    check: checks.get(key)!, location, at: now, occasion: 'scheduled', verdict, phases: { wait: 20 }, total: 30, version: 1, ...(verdict === 'fail' ? { reason: 'status', sentence: 'the status is 503' } : {}), ...more
  }))), now)
  await pass(500)
}

/** What was said, of one incident or at all, in its order. */
export const told = (incident?: number) => rows<{ id: number; news: string; subject: string; channel: string; cause: string; text: string }>(database.pool, `SELECT d.id, d.news, JSON_VALUE(d.message, '$.subject') AS subject, c.channel_key AS channel, d.cause, JSON_EXTRACT(d.message, '$.lines') AS text
  FROM delivery d JOIN channel c ON c.id = d.channel_id WHERE ${incident === undefined ? '1 = 1' : 'd.incident_id = ?'} ORDER BY d.id`, incident === undefined ? [] : [incident])
export const open = () => listIncidents(database.pool, { open: true, limit: 1000 })
export const incidentOf = async (key: string): Promise<Incident> => (await listIncidents(database.pool, { check: checks.get(key)!, limit: 1 }))[0]!
export const kinds = async (id: number) => (await listEvents(database.pool, id)).map((each) => each.kind)
export const act = (id: number, what: Parameters<typeof actOnIncident>[2], given: Parameters<typeof actOnIncident>[4] = {}) => actOnIncident(database.pool, id, what, ines, given, now)

/** Sets the clock; backwards too. */
export function setClock(at: number): void {
  now = at
}

/** Starts an engine's world for the tests of one file: a database, two places, two people and the routes that stand. */
export function inEngineWorld(port: number): void {
  beforeAll(async () => {
    database = await startTestDatabase(port)
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
  afterAll(() => database.stop())
}
