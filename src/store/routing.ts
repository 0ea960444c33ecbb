import type { Course } from '../core/routing/course'
import type { DaysOff, Listening } from '../core/routing/reach'
import type { RouteStep } from '../core/routing/route'
import { readRouting, type RoutingDocument, type RoutingKind, type RoutingWorld } from '../core/routing/routing-world'
import { HemeronError } from '../core/problems'
import type { Preferences } from '../core/people/preferences'
import type { Trouble } from '../core/incidents/incident'
import type { Instant } from '../core/units'
import { change, fromJson, row, rows, transaction, type Pool, type Queryable } from './database'
import { reachableChannels } from './deliveries'
import { note } from './live'
import { bumpDefinitions } from './locations'
import { audit } from './people'
import { readSettings } from './settings'

export interface StoredRouting extends RoutingDocument {
  version: number
}

/** Teams, rotas and routes in their written form; routes in the order in which they are asked. */
export async function listRouting(on: Queryable): Promise<StoredRouting[]> {
  return (await rows<Omit<StoredRouting, 'document'> & { document: unknown }>(on, `SELECT kind, definition_key AS \`key\`, document, version FROM routing_definition
    ORDER BY kind, CAST(JSON_VALUE(document, '$.place') AS INT), definition_key`)).map((each) => ({ ...each, document: fromJson(each.document) }))
}

/** Everything that says who hears of what: the routes, and those who can be told. */
export interface Routing extends RoutingWorld {
  listening: Listening
}

export async function readRoutingWorld(on: Queryable): Promise<Routing> {
  const [documents, people, channels, settings] = [await listRouting(on), await listListeners(on), await reachableChannels(on), await readSettings(on)]
  const { teams, rotas, routes } = readStanding(documents, keysOf(people), sharedKeys(channels))
  return { teams, rotas, routes, listening: { zone: settings.zone, people, teams, rotas, channels } }
}

/** A channel that was removed may leave its name in a route; the other documents go on without that one. */
function readStanding(documents: RoutingDocument[], people: ReadonlySet<string>, channels: ReadonlySet<string>): RoutingWorld {
  const read = readRouting(documents, people, channels)
  if ('world' in read) return read.world
  const sound = documents.filter((each) => !read.problems.some((problem) => problem.subject === `${each.kind} ${each.key}`))
  return sound.length < documents.length ? readStanding(sound, people, channels) : { teams: [], rotas: [], routes: [] }
}

const keysOf = (people: { key: string }[]) => new Set(people.map((each) => each.key))
const sharedKeys = (channels: Listening['channels']) => new Set(channels.filter((each) => each.person === undefined).map((each) => each.key))

async function listListeners(on: Queryable): Promise<Listening['people']> {
  return (await rows<{ key: string; id: number; name: string; off: unknown; preferences: unknown; role: string }>(on, 'SELECT person_key AS `key`, id, name, days_off AS off, preferences, role FROM person ORDER BY name'))
    .map(({ role, ...each }) => ({ ...each, ...(role === 'contact' ? { isOutside: true } : {}), off: fromJson<DaysOff[]>(each.off), preferences: fromJson<Preferences>(each.preferences) }))
}

/** A change of one definition; without a document it is taken away. */
export interface RoutingChange {
  kind: RoutingKind
  key: string
  document: Record<string, unknown> | null
  /** The version it was read with; a newer one refuses the change. */
  fromVersion?: number
}

/** Changes teams, rotas and routes: all of it or nothing. Throws bad-document or edited-meanwhile. */
export async function defineRouting(pool: Pool, changes: RoutingChange[], person: number | null, now: Instant): Promise<void> {
  await transaction(pool, async (on) => {
    await row(on, "SELECT value FROM counter WHERE name = 'definitions' FOR UPDATE")
    const standing = await listRouting(on)
    for (const { kind, key, fromVersion } of changes) {
      const found = standing.find((each) => each.kind === kind && each.key === key)
      if (fromVersion !== undefined && found && found.version !== fromVersion) throw new HemeronError('edited-meanwhile', `Someone else saved the ${kind} ${key} in the meantime. Nothing was overwritten.`)
    }
    const wanted = [
      ...standing.filter((each) => !changes.some((other) => other.kind === each.kind && other.key === each.key)),
      ...changes.flatMap(({ kind, key, document }) => (document === null ? [] : [{ kind, key, document }]))
    ]
    const read = readRouting(wanted, keysOf(await listListeners(on)), sharedKeys(await reachableChannels(on)))
    if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
    for (const { kind, key, document } of changes) {
      const before = standing.find((each) => each.kind === kind && each.key === key)?.document
      if (document === null) await change(on, 'DELETE FROM routing_definition WHERE kind = ? AND definition_key = ?', [kind, key])
      else await change(on, 'INSERT INTO routing_definition (kind, definition_key, document, changed_at) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE document = VALUES(document), version = version + 1, changed_at = VALUES(changed_at)', [kind, key, JSON.stringify(document), now])
      await audit(on, person, `${kind} ${before === undefined ? 'added' : document === null ? 'removed' : 'changed'}`, key, before, document ?? undefined, now)
    }
    await note(on, [{ topic: 'definitions', subject: 0 }], now)
    await bumpDefinitions(on)
  })
}

/** Says on which days a person is away. */
export async function setDaysOff(pool: Pool, key: string, off: DaysOff[], by: number | null, now: Instant): Promise<void> {
  const isDate = (text: string) => /^\d{4}-\d\d-\d\d$/.test(text) && !Number.isNaN(Date.parse(text))
  const wrong = off.findIndex(({ from, to }) => !isDate(from) || !isDate(to) || to < from)
  if (wrong >= 0) throw new HemeronError('bad-document', undefined, [{ path: `off[${wrong}]`, found: `${off[wrong]!.from} to ${off[wrong]!.to}`, expected: 'two dates such as 2026-12-24, the later one second' }])
  const { affectedRows } = await change(pool, 'UPDATE person SET days_off = ? WHERE person_key = ?', [JSON.stringify(off), key])
  if (affectedRows === 0) throw new HemeronError('not-found', `There is no person ${key.slice(0, 100)}.`)
  await audit(pool, by, 'days off', key, undefined, off, now)
  await note(pool, [{ topic: 'definitions', subject: 0 }], now)
  await bumpDefinitions(pool)
}

export interface StoredCourse {
  news: Trouble
  course: Course
}

/** The steps to come of an incident, in the order of the routes, locked for this transaction. */
export async function coursesOf(on: Queryable, incident: number): Promise<StoredCourse[]> {
  return (await rows<{ news: Trouble; course: unknown }>(on, 'SELECT news, course FROM incident_course WHERE incident_id = ? ORDER BY news, position FOR UPDATE', [incident]))
    .map((each) => ({ news: each.news, course: fromJson<Course>(each.course) }))
}

/** Writes courses down, with when each has something to do next. */
export async function storeCourses(on: Queryable, incident: number, courses: StoredCourse[], nextDue: (course: Course) => Instant | undefined, from = 0): Promise<void> {
  if (courses.length === 0) return
  await change(on, 'INSERT INTO incident_course (incident_id, news, route_key, position, course, due_at) VALUES ? ON DUPLICATE KEY UPDATE course = VALUES(course), due_at = VALUES(due_at)',
    [courses.map(({ news, course }, position) => [incident, news, course.route.key, from + position, JSON.stringify(course), nextDue(course) ?? null])])
}

/** Routes that told of a check, in an incident other than this one, since a moment. */
export async function routesToldOf(on: Queryable, check: number, except: number, since: Instant): Promise<Set<string>> {
  return new Set((await rows<{ route: string }>(on, `SELECT DISTINCT c.route_key AS route FROM incident i JOIN incident_course c ON c.incident_id = COALESCE(i.part_of, i.id)
    WHERE i.check_id = ? AND i.id <> ? AND i.opened_at > ? AND i.practice_until IS NULL`, [check, except, since])).map((each) => each.route))
}

/** The incidents of which a step is due. */
export async function incidentsDue(on: Queryable, now: Instant): Promise<number[]> {
  return (await rows<{ id: number }>(on, 'SELECT DISTINCT incident_id AS id FROM incident_course WHERE due_at <= ? ORDER BY due_at LIMIT 200', [now])).map((each) => each.id)
}

/** The next step of each incident that has one, with when it is due. */
export async function nextSteps(on: Queryable, incidents: number[]): Promise<Map<number, { at: Instant; step: RouteStep }>> {
  if (incidents.length === 0) return new Map()
  const found = await rows<{ incident: number; at: Instant; course: unknown }>(on, 'SELECT incident_id AS incident, due_at AS at, course FROM incident_course WHERE due_at IS NOT NULL AND incident_id IN (?) ORDER BY due_at DESC', [incidents])
  return new Map(found.map(({ incident, at, course }) => {
    const { route, pending } = fromJson<Course>(course)
    return [incident, { at, step: route.then[pending.find((each) => each.at === at)!.step]! }]
  }))
}
