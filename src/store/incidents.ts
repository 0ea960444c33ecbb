import type { Pool } from 'mysql2/promise'
import { actProblem, type IncidentAct, type Trouble } from '../core/incidents/incident'
import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, row, rows, transaction, type Queryable } from './database'
import { note as noteLive } from './live'
import { audit, type Person } from './people'

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
}

const SELECT = `SELECT i.id, i.check_id AS \`check\`, c.check_key AS checkKey, c.name AS checkName, c.service_id AS serviceId, i.trouble, i.opened_at AS openedAt,
  i.since_at AS since, i.last_pass_at AS lastPass, i.last_fail_at AS lastFail, i.ended_at AS endedAt, i.closed_at AS closedAt, b.name AS closedBy, i.holder_id AS holder, h.name AS holderName,
  i.taken_at AS takenAt, i.not_real AS notReal, i.reason, i.sentence, i.failing, i.locations, i.explained_by AS explainedBy
  FROM incident i JOIN check_definition c ON c.id = i.check_id LEFT JOIN person h ON h.id = i.holder_id LEFT JOIN person b ON b.id = i.closed_by`

const read = (found: Incident): Incident => ({ ...found, notReal: Boolean(found.notReal) })

/** Open incidents (unheld first, then the oldest), or past ones (newest first). */
export async function listIncidents(on: Queryable, filter: { open?: boolean; check?: number; from?: Instant; to?: Instant; limit: number; before?: number }): Promise<Incident[]> {
  const where = ['1 = 1']
  const values: unknown[] = []
  const add = (condition: string, ...given: unknown[]) => {
    where.push(condition)
    values.push(...given)
  }
  if (filter.open !== undefined) add(filter.open ? 'i.closed_at IS NULL' : 'i.closed_at IS NOT NULL')
  if (filter.check !== undefined) add('i.check_id = ?', filter.check)
  if (filter.from !== undefined) add('(i.closed_at IS NULL OR i.closed_at >= ?)', filter.from)
  if (filter.to !== undefined) add('i.since_at < ?', filter.to)
  if (filter.before !== undefined) add('i.id < ?', filter.before)
  const order = filter.open === true ? 'i.holder_id IS NOT NULL, i.trouble, i.since_at' : 'i.id DESC'
  return (await rows<Incident>(on, `${SELECT} WHERE ${where.join(' AND ')} ORDER BY ${order} LIMIT ?`, [...values, filter.limit])).map(read)
}

export async function countOpenIncidents(on: Queryable): Promise<number> {
  return (await row<{ count: number }>(on, 'SELECT COUNT(*) AS count FROM incident WHERE closed_at IS NULL'))!.count
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

/** Writes how an open incident has grown: the most locations that failed at once, and whether slow became down. */
export async function growIncident(on: Queryable, id: number, facts: Pick<Incident, 'trouble' | 'failing' | 'locations' | 'sentence' | 'reason'>): Promise<void> {
  await change(on, 'UPDATE incident SET trouble = ?, failing = ?, locations = ?, sentence = ?, reason = ? WHERE id = ?',
    [facts.trouble, facts.failing, facts.locations, facts.sentence.slice(0, 500), facts.reason, id])
}

export async function endIncident(on: Queryable, id: number, lastFail: Instant | null, endedAt: Instant, closedAt: Instant): Promise<void> {
  await change(on, 'UPDATE incident SET last_fail_at = ?, ended_at = ?, closed_at = COALESCE(closed_at, ?) WHERE id = ?', [lastFail, endedAt, closedAt, id])
}

/** Takes, hands over, notes, closes an incident or marks it as not real. Throws wrong-state, bad-document or not-found. */
export async function actOnIncident(pool: Pool, id: number, act: IncidentAct, person: Person, given: { to?: number; text?: string }, now: Instant): Promise<Incident> {
  await transaction(pool, async (on) => {
    await row(on, 'SELECT id FROM incident WHERE id = ? FOR UPDATE', [id])
    const incident = await requireIncident(on, id)
    const problem = actProblem(act, incident, person.id)
    if (problem) throw new HemeronError('wrong-state', problem)
    const text = given.text?.trim() ?? ''
    if (act === 'take') {
      await change(on, 'UPDATE incident SET holder_id = ?, taken_at = COALESCE(taken_at, ?) WHERE id = ?', [person.id, now, id])
      await addEvent(on, id, { at: now, kind: 'taken', person: person.id, title: `${person.name} took it`, ...(incident.holderName ? { detail: `from ${incident.holderName}` } : {}) })
    } else if (act === 'hand-over') {
      const to = await row<{ name: string }>(on, 'SELECT name FROM person WHERE id = ?', [given.to ?? 0])
      if (!to) throw new HemeronError('bad-document', undefined, [{ path: 'to', found: String(given.to ?? 'nothing'), expected: 'the number of a person' }])
      await change(on, 'UPDATE incident SET holder_id = ?, taken_at = COALESCE(taken_at, ?) WHERE id = ?', [given.to, now, id])
      await addEvent(on, id, { at: now, kind: 'handed-over', person: person.id, title: `${person.name} handed it to ${to.name}`, detail: text })
    } else if (act === 'note') {
      if (text === '' || text.length > 4000) throw new HemeronError('bad-document', undefined, [{ path: 'text', found: `${text.length} characters`, expected: '1 to 4000 characters' }])
      await addEvent(on, id, { at: now, kind: 'note', person: person.id, title: person.name, detail: text })
    } else {
      await change(on, 'UPDATE incident SET closed_at = COALESCE(closed_at, ?), closed_by = COALESCE(closed_by, ?), not_real = ? WHERE id = ?',
        [now, person.id, act === 'not-real' ? 1 : Number(incident.notReal), id])
      await addEvent(on, id, { at: now, kind: act === 'not-real' ? 'not-real' : 'closed', person: person.id, title: act === 'not-real' ? `${person.name} marked it as not real` : `${person.name} closed it`, detail: text })
    }
    await audit(on, person.id, `incident ${act}`, String(id), undefined, { to: given.to, text }, now)
    await noteLive(on, [{ topic: 'incident', subject: id }], now)
  })
  return requireIncident(pool, id)
}

/** Says which needed check explains an incident, or that none does any more. */
export async function explainIncident(on: Queryable, id: number, check: number | null): Promise<void> {
  await change(on, 'UPDATE incident SET explained_by = ? WHERE id = ?', [check, id])
}

/** Open incidents that another check's failure explains. */
export async function listExplained(on: Queryable): Promise<Incident[]> {
  return (await rows<Incident>(on, `${SELECT} WHERE i.closed_at IS NULL AND i.explained_by IS NOT NULL`)).map(read)
}
