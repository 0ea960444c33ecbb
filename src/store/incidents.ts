import { groupBy } from '../core/group-by'
import type { Trouble } from '../core/incidents/incident'
import type { Facet, FacetKind, Leading, Sought } from '../core/incidents/together'
import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, insertMany, row, rows, type Queryable } from './database'

export interface Incident {
  id: number
  check: number
  checkKey: string
  checkName: string
  serviceId: number | null
  trouble: Trouble
  openedAt: Instant
  since: Instant
  lastPass: Instant | null
  lastFail: Instant | null
  endedAt: Instant | null
  closedAt: Instant | null
  closedBy: string | null
  holder: number | null
  holderName: string | null
  takenAt: Instant | null
  notReal: boolean
  reason: string | null
  sentence: string
  failing: number
  locations: number
  /** The needed check whose failure explains this one; nobody is told while it does. */
  explainedBy: number | null
  /** The incident it is part of, and what the two have in common. */
  partOf: number | null
  partWhy: string | null
  /** How many others are part of it, and how many of these go on. */
  parts: number
  partsOpen: number
  /** When the check that leads it was well again, while others still fail. */
  ownEndedAt: Instant | null
  /** Until when it is held off: nobody else is told before. */
  heldOffUntil: Instant | null
  /** When a practice outage ends; null for what is real. */
  practiceUntil: Instant | null
}

const SELECT = `SELECT i.id, i.check_id AS \`check\`, c.check_key AS checkKey, IF(i.burn_service IS NULL, c.name, CONCAT(JSON_VALUE(s.document, '$.name'), ', ', COALESCE(JSON_VALUE(s.document, '$.stage'), 'production'))) AS checkName, c.service_id AS serviceId, i.trouble, i.opened_at AS openedAt,
  i.since_at AS since, i.last_pass_at AS lastPass, i.last_fail_at AS lastFail, i.ended_at AS endedAt, i.closed_at AS closedAt, b.name AS closedBy, i.holder_id AS holder, h.name AS holderName,
  i.taken_at AS takenAt, i.not_real AS notReal, i.reason, i.sentence, i.failing, i.locations, i.explained_by AS explainedBy,
  i.part_of AS partOf, i.part_why AS partWhy, i.own_ended_at AS ownEndedAt, i.held_off_until AS heldOffUntil, i.practice_until AS practiceUntil,
  (SELECT COUNT(*) FROM incident p WHERE p.part_of = i.id) AS parts, (SELECT COUNT(*) FROM incident p WHERE p.part_of = i.id AND p.closed_at IS NULL) AS partsOpen
  FROM incident i JOIN check_definition c ON c.id = i.check_id LEFT JOIN service s ON s.id = i.burn_service LEFT JOIN person h ON h.id = i.holder_id LEFT JOIN person b ON b.id = i.closed_by`

const read = (found: Incident): Incident => ({ ...found, notReal: Boolean(found.notReal) })

/** Open incidents (unheld first, then the oldest), or past ones (newest first); only `real` ones without practice outages. Of a check, also those that are part of another one. */
export async function listIncidents(on: Queryable, filter: { open?: boolean; real?: boolean; check?: number; from?: Instant; to?: Instant; limit: number; before?: number }): Promise<Incident[]> {
  const where = [filter.check === undefined ? 'i.part_of IS NULL' : '1 = 1']
  const values: unknown[] = []
  const add = (condition: string, ...given: unknown[]) => {
    where.push(condition)
    values.push(...given)
  }
  if (filter.open !== undefined) add(filter.open ? 'i.closed_at IS NULL' : 'i.closed_at IS NOT NULL')
  if (filter.real) add('i.practice_until IS NULL')
  if (filter.check !== undefined) add('i.check_id = ?', filter.check)
  if (filter.from !== undefined) add('(i.closed_at IS NULL OR i.closed_at >= ?)', filter.from)
  if (filter.to !== undefined) add('i.since_at < ?', filter.to)
  if (filter.before !== undefined) add('i.id < ?', filter.before)
  const order = filter.open === true ? 'i.holder_id IS NOT NULL, i.trouble, i.since_at' : 'i.id DESC'
  return (await rows<Incident>(on, `${SELECT} WHERE ${where.join(' AND ')} ORDER BY ${order} LIMIT ?`, [...values, filter.limit])).map(read)
}

/** Open incidents that are no mere warnings. */
export async function countOpenIncidents(on: Queryable): Promise<number> {
  return (await row<{ count: number }>(on, "SELECT COUNT(*) AS count FROM incident WHERE closed_at IS NULL AND part_of IS NULL AND trouble <> 'warning'"))!.count
}

/** Throws not-found for a number no incident has. */
export async function requireIncident(on: Queryable, id: number): Promise<Incident> {
  const found = Number.isInteger(id) ? await row<Incident>(on, `${SELECT} WHERE i.id = ?`, [id]) : undefined
  if (!found) throw new HemeronError('not-found', `There is no incident ${id}.`)
  return read(found)
}

export interface IncidentEvent {
  id: number
  at: Instant
  kind: string
  person: string | null
  title: string
  detail: string
}

export async function listEvents(on: Queryable, incident: number): Promise<IncidentEvent[]> {
  return rows<IncidentEvent>(on, `SELECT e.id, e.at, e.kind, p.name AS person, e.title, e.detail FROM incident_event e LEFT JOIN person p ON p.id = e.person_id
    WHERE e.incident_id = ? ORDER BY e.at, e.id`, [incident])
}

/** What follow-ups of incidents since a moment can be read from, in the order in which it was said; real incidents only. */
export async function listFollowUpEvents(on: Queryable, since: Instant): Promise<(IncidentEvent & { incident: number; checkName: string })[]> {
  return rows(on, `SELECT e.id, e.incident_id AS incident, k.name AS checkName, e.at, e.kind, p.name AS person, e.title, e.detail FROM incident_event e JOIN incident i ON i.id = e.incident_id JOIN check_definition k ON k.id = i.check_id
    LEFT JOIN person p ON p.id = e.person_id WHERE i.since_at >= ? AND i.practice_until IS NULL AND (e.kind IN ('follow-up', 'follow-up-done', 'follow-up-open') OR (e.kind = 'note' AND e.detail LIKE '%[ ]%') OR (e.kind = 'note' AND e.detail LIKE '%[x]%'))
    ORDER BY e.incident_id DESC, e.at, e.id LIMIT 5000`, [since])
}

export async function addEvent(on: Queryable, incident: number, event: { at: Instant; kind: string; person?: number; title: string; detail?: string }): Promise<void> {
  await change(on, 'INSERT INTO incident_event (incident_id, at, kind, person_id, title, detail) VALUES (?, ?, ?, ?, ?, ?)',
    [incident, event.at, event.kind, event.person ?? null, event.title.slice(0, 300), (event.detail ?? '').slice(0, 4000)])
}

/** The open incident of a check, locked for this transaction. */
export async function openIncidentOf(on: Queryable, check: number): Promise<Incident | undefined> {
  const found = await row<{ id: number }>(on, 'SELECT id FROM incident WHERE open_check = ? FOR UPDATE', [check])
  return found && requireIncident(on, found.id)
}

export async function openIncident(on: Queryable, incident: Pick<Incident, 'check' | 'trouble' | 'openedAt' | 'since' | 'lastPass' | 'reason' | 'sentence' | 'failing' | 'locations'>): Promise<number> {
  return (await change(on, `INSERT INTO incident (check_id, trouble, opened_at, since_at, last_pass_at, reason, sentence, failing, locations) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)`,
    [incident.check, incident.trouble, incident.openedAt, incident.since, incident.lastPass, incident.reason, incident.sentence.slice(0, 500), incident.failing, incident.locations])).insertId
}

export async function hasOpenWarning(on: Queryable, check: number): Promise<boolean> {
  return (await row(on, "SELECT id FROM incident WHERE open_check = ? AND trouble = 'warning'", [check])) !== undefined
}

/** The open incident of a service that burns its error budget, locked for this transaction. */
export async function openBurnOf(on: Queryable, service: number): Promise<Incident | undefined> {
  const found = await row<{ id: number }>(on, 'SELECT id FROM incident WHERE open_burn = ? FOR UPDATE', [service])
  return found && requireIncident(on, found.id)
}

/** Opens an incident of a service; `check` has used up most of its budget. */
export async function openBurn(on: Queryable, service: number, check: number, sentence: string, now: Instant): Promise<number> {
  return (await change(on, "INSERT INTO incident (check_id, burn_service, trouble, opened_at, since_at, sentence, failing, locations) VALUES (?, ?, 'burn', ?, ?, ?, 0, 0)", [check, service, now, now, sentence.slice(0, 500)])).insertId
}

/** Services that have an open incident about their error budget. */
export async function burningServices(on: Queryable): Promise<Set<number>> {
  return new Set((await rows<{ service: number }>(on, 'SELECT open_burn AS service FROM incident WHERE open_burn IS NOT NULL')).map((each) => each.service))
}

/** Writes how an open incident has grown: the most locations that failed at once, and whether slow became down. */
export async function growIncident(on: Queryable, id: number, facts: Pick<Incident, 'trouble' | 'failing' | 'locations' | 'sentence' | 'reason'>): Promise<void> {
  await change(on, 'UPDATE incident SET trouble = ?, failing = ?, locations = ?, sentence = ?, reason = ? WHERE id = ?',
    [facts.trouble, facts.failing, facts.locations, facts.sentence.slice(0, 500), facts.reason, id])
}

export async function endIncident(on: Queryable, id: number, lastFail: Instant | null, endedAt: Instant, closedAt: Instant): Promise<void> {
  await forgetFacets(on, [id])
  await change(on, 'UPDATE incident SET last_fail_at = ?, ended_at = ?, closed_at = COALESCE(closed_at, ?) WHERE id = ?', [lastFail, endedAt, closedAt, id])
}

/** Takes the turn of whoever decides what belongs together, until the transaction ends. */
export async function lockTogether(on: Queryable): Promise<void> {
  await row(on, "SELECT value FROM counter WHERE name = 'incidents' FOR UPDATE")
}

/** Notes what the check that leads an incident is known by. */
export async function storeFacets(on: Queryable, incident: number, facets: Pick<Facet, 'kind' | 'value'>[]): Promise<void> {
  await insertMany(on, 'INSERT IGNORE INTO incident_facet (incident_id, kind, value)', facets.map((each) => [incident, each.kind, each.value.slice(0, 300)]))
}

/** Nobody joins these incidents any more. */
export async function forgetFacets(on: Queryable, incidents: number[]): Promise<void> {
  await change(on, 'DELETE FROM incident_facet WHERE incident_id IN (?)', [incidents])
}

/** The open incidents of which the leading check is known by one of these, and that are as bad at least. */
export async function listLeading(on: Queryable, sought: readonly Pick<Sought, 'kind' | 'value'>[], trouble: Trouble): Promise<Leading[]> {
  if (sought.length === 0) return []
  const found = await rows<{ incident: number; kind: FacetKind; value: string; since: Instant; lastPass: Instant | null }>(on, `SELECT f.incident_id AS incident, f.kind, f.value, i.since_at AS since, i.last_pass_at AS lastPass
    FROM incident_facet f JOIN incident i ON i.id = f.incident_id WHERE (f.kind, f.value) IN (?) AND i.closed_at IS NULL AND i.part_of IS NULL AND i.trouble IN (${trouble === 'down' ? "'down'" : trouble === 'warning' ? "'warning'" : "'down', 'slow'"})`, [sought.map((each) => [each.kind, each.value])])
  return [...groupBy(found, (each) => each.incident)].map(([incident, facets]) => ({ incident, onset: { since: facets[0]!.since, ...(facets[0]!.lastPass === null ? {} : { lastPass: facets[0]!.lastPass }) }, facets }))
}

/** Makes an incident part of another one, with everything that was part of it. */
export async function joinIncident(on: Queryable, id: number, lead: number, why: string): Promise<void> {
  await forgetFacets(on, [id])
  await change(on, 'UPDATE incident SET part_of = ?, part_why = IF(id = ?, ?, part_why) WHERE id = ? OR part_of = ?', [lead, id, why.slice(0, 200), id, id])
}

/** Takes an incident out of the one it is part of. With `tell`, the engine asks the routes about it. */
export async function partIncident(on: Queryable, id: number, tell: boolean): Promise<void> {
  await change(on, 'UPDATE incident SET part_of = NULL, part_why = NULL, explained_by = NULL, tell_asked = ? WHERE id = ?', [Number(tell), id])
}

/** Incidents about which the routes are to be asked. */
export async function incidentsAsked(on: Queryable): Promise<number[]> {
  return (await rows<{ id: number }>(on, 'SELECT id FROM incident WHERE tell_asked = 1 LIMIT 100')).map((each) => each.id)
}

export async function settleAsked(on: Queryable, id: number): Promise<void> {
  await change(on, 'UPDATE incident SET tell_asked = 0 WHERE id = ?', [id])
}

/** Notes that the check that leads an incident is well again, or fails again, while others go on. */
export async function setOwnEnd(on: Queryable, id: number, at: Instant | null): Promise<void> {
  await change(on, 'UPDATE incident SET own_ended_at = ? WHERE id = ?', [at, id])
}

/** The incidents that are part of one, the oldest first. */
export async function listParts(on: Queryable, lead: number): Promise<Incident[]> {
  return (await rows<Incident>(on, `${SELECT} WHERE i.part_of = ? ORDER BY i.since_at, i.id`, [lead])).map(read)
}

/** Names of the checks that fail with the one that leads; those that are well again too unless `open`. */
export async function namesWith(on: Queryable, lead: number, limit: number, open = true): Promise<{ names: string[]; why: string | null; more: number }> {
  const found = await rows<{ name: string; why: string | null; count: number }>(on, `SELECT c.name, i.part_why AS why, COUNT(*) OVER () AS count FROM incident i JOIN check_definition c ON c.id = i.check_id
    WHERE i.part_of = ? ${open ? 'AND i.closed_at IS NULL' : ''} ORDER BY i.since_at, i.id LIMIT ?`, [lead, limit])
  return { names: found.map((each) => each.name), why: found[0]?.why ?? null, more: Math.max(0, Number(found[0]?.count ?? 0) - found.length) }
}

/** Open incidents that a check's failure explains and that belong to nothing yet. */
export async function explainedAlone(on: Queryable, check: number): Promise<number[]> {
  return (await rows<{ id: number }>(on, 'SELECT id FROM incident WHERE explained_by = ? AND part_of IS NULL AND closed_at IS NULL', [check])).map((each) => each.id)
}

/** Opens a practice outage: made up, and told of in earnest. The engine asks the routes about it. */
export async function openPractice(on: Queryable, practice: { check: number; trouble: Trouble; by: number; byName: string; until: Instant; sentence: string; locations: number }, now: Instant): Promise<number> {
  const { insertId } = await change(on, 'INSERT INTO incident (check_id, trouble, opened_at, since_at, sentence, failing, locations, practice_until, practice_by, tell_asked) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, 1)',
    [practice.check, practice.trouble, now, now, practice.sentence, practice.locations, practice.locations, practice.until, practice.by])
  await addEvent(on, insertId, { at: now, kind: 'practice', person: practice.by, title: `${practice.byName} began a practice outage`, detail: 'nothing is really down; messages go the whole way' })
  return insertId
}

/** Ends the incident of a check that is gone. One that others are part of goes on without it. */
export async function endForGood(on: Queryable, check: number, by: number | null, now: Instant): Promise<void> {
  const open = await row<{ id: number; parts: number }>(on, 'SELECT i.id, (SELECT COUNT(*) FROM incident p WHERE p.part_of = i.id AND p.closed_at IS NULL) AS parts FROM incident i WHERE i.open_check = ? FOR UPDATE', [check])
  if (!open) return
  if (open.parts > 0) return setOwnEnd(on, open.id, now)
  await change(on, 'UPDATE incident SET closed_at = ?, ended_at = COALESCE(ended_at, ?), closed_by = ? WHERE id = ?', [now, now, by, open.id])
  await addEvent(on, open.id, { at: now, kind: 'over', ...(by === null ? {} : { person: by }), title: 'The check was removed' })
  await forgetFacets(on, [open.id])
}

/** Open incidents of which no check fails any more: the one that leads was well, or gone, before the last other. */
export async function emptied(on: Queryable): Promise<number[]> {
  return (await rows<{ id: number }>(on, `SELECT i.id FROM incident i WHERE i.closed_at IS NULL AND i.part_of IS NULL AND i.own_ended_at IS NOT NULL
    AND NOT EXISTS (SELECT 1 FROM incident p WHERE p.part_of = i.id AND p.closed_at IS NULL) LIMIT 100`)).map((each) => each.id)
}

/** Practice outages whose time is over. */
export async function practicesOver(on: Queryable, now: Instant): Promise<number[]> {
  return (await rows<{ id: number }>(on, 'SELECT id FROM incident WHERE practice_until <= ? AND closed_at IS NULL LIMIT 100', [now])).map((each) => each.id)
}

/** Says which needed check explains an incident, or that none does any more. */
export async function explainIncident(on: Queryable, id: number, check: number | null): Promise<void> {
  await change(on, 'UPDATE incident SET explained_by = ? WHERE id = ?', [check, id])
}

/** Open incidents that another check's failure explains. */
export async function listExplained(on: Queryable): Promise<Incident[]> {
  return (await rows<Incident>(on, `${SELECT} WHERE i.closed_at IS NULL AND i.explained_by IS NOT NULL`)).map(read)
}
