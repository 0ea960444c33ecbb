import { acceptedPlanned, type PlannedDocument } from '../core/planned/planned'
import { readPlanned } from '../core/planned/read-planned'
import { Calendar, type Entry } from '../core/planned/calendar'
import { occurrences } from '../core/planned/recurrence'
import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, fromJson, isDuplicate, row, rows, transaction, type Pool, type Queryable } from './database'
import { bumpDefinitions } from './locations'
import { note } from './live'
import { audit } from './people'

export interface StoredPlanned extends Entry {
  id: number
  document: PlannedDocument
}

interface PlannedRow { id: number; document: unknown; ends: unknown }

function stored({ id, document, ends }: PlannedRow): StoredPlanned {
  const written = fromJson<PlannedDocument>(document)
  return { id, document: written, planned: acceptedPlanned(written), ends: fromJson<Record<string, Instant>>(ends) }
}

export async function listPlanned(on: Queryable): Promise<StoredPlanned[]> {
  return (await rows<PlannedRow>(on, 'SELECT id, document, ends FROM planned WHERE deleted_at IS NULL ORDER BY id')).map(stored)
}

/** All planned time, to ask what is on at a moment. */
export async function readPlannedCalendar(on: Queryable): Promise<Calendar> {
  return new Calendar(await listPlanned(on))
}

async function requirePlanned(on: Queryable, key: string): Promise<StoredPlanned> {
  const found = await row<PlannedRow>(on, 'SELECT id, document, ends FROM planned WHERE live_key = ?', [key])
  if (!found) throw new HemeronError('not-found', `There is no planned work ${key.slice(0, 100)}.`)
  return stored(found)
}

async function refuseUnknown(on: Queryable, { for: concerned }: StoredPlanned['planned']): Promise<void> {
  for (const [field, table, column] of [['services', 'service', 'live_key'], ['checks', 'check_definition', 'live_key']] as const) {
    const keys = concerned[field] ?? []
    if (keys.length === 0) continue
    const known = new Set((await rows<{ key: string }>(on, `SELECT ${column} AS \`key\` FROM ${table} WHERE ${column} IN (?)`, [keys])).map((each) => each.key))
    const index = keys.findIndex((key) => !known.has(key))
    if (index >= 0) throw new HemeronError('bad-document', undefined, [{ path: `for.${field}[${index}]`, found: `"${keys[index]}"`, expected: `the key of a ${field.slice(0, -1)} that exists` }])
  }
}

/** Adds planned time, all of it or none. Throws bad-document or duplicate-key. */
export async function addPlanned(pool: Pool, documents: unknown[], person: number | null, now: Instant): Promise<void> {
  await transaction(pool, async (on) => {
    for (const document of documents) {
      const read = readPlanned(document)
      if ('problems' in read) throw new HemeronError('bad-document', undefined, documents.length > 1 ? read.problems.map((problem) => ({ ...problem, subject: String((document as PlannedDocument).title ?? 'planned work') })) : read.problems)
      await refuseUnknown(on, { ...read.planned })
      try {
        await change(on, 'INSERT INTO planned (planned_key, document, created_at) VALUES (?, ?, ?)', [read.planned.key, JSON.stringify(document), now])
      } catch (error) {
        if (isDuplicate(error)) throw new HemeronError('duplicate-key', `There is planned work ${read.planned.key} already.`, [{ path: 'planned', found: `"${read.planned.key}"`, expected: 'a key that is not taken' }])
        throw error
      }
      await audit(on, person, 'planned added', read.planned.key, undefined, document, now)
    }
    await changed(on, now)
  })
}

async function changed(on: Queryable, now: Instant): Promise<void> {
  await note(on, [{ topic: 'definitions', subject: 0 }], now)
  await bumpDefinitions(on)
}

/** Gives the time that is on, or the next one, another end: now, or later. Throws wrong-state when there is none. */
export async function endPlanned(pool: Pool, key: string, to: Instant, person: number | null, now: Instant): Promise<void> {
  await transaction(pool, async (on) => {
    const found = await requirePlanned(on, key)
    const active = occurrences(found.planned, { from: now, to: now + 1 }, found.ends)[0]
    if (!active) throw new HemeronError('wrong-state', `${found.planned.title} is not on at the moment.`)
    const ends = { ...found.ends, [active.from]: Math.max(to, active.from + 1) }
    await change(on, 'UPDATE planned SET ends = ? WHERE id = ?', [JSON.stringify(ends), found.id])
    await audit(on, person, to <= now ? 'planned ended' : 'planned prolonged', key, { to: active.to }, { to }, now)
    await changed(on, now)
  })
}

export async function removePlanned(pool: Pool, key: string, person: number | null, now: Instant): Promise<void> {
  const found = await requirePlanned(pool, key)
  await change(pool, 'UPDATE planned SET deleted_at = ? WHERE id = ?', [now, found.id])
  await audit(pool, person, 'planned removed', key, found.document, undefined, now)
  await changed(pool, now)
}

export interface OpenWindow {
  id: number
  place: 'check' | 'service'
  subject: number
  openedAt: Instant
  openedBy: string | null
  closesAt: Instant | null
}

/** Release windows that people or the API have opened and nobody has closed. */
export async function openWindows(on: Queryable, now: Instant): Promise<OpenWindow[]> {
  return rows<OpenWindow>(on, `SELECT w.id, w.place, w.subject_id AS subject, w.opened_at AS openedAt, p.name AS openedBy, w.closes_at AS closesAt
    FROM release_window w LEFT JOIN person p ON p.id = w.opened_by WHERE w.closed_at IS NULL AND (w.closes_at IS NULL OR w.closes_at > ?)`, [now])
}

/** Opens a release window; one that is open already gets the new end. */
export async function openWindow(pool: Pool, place: OpenWindow['place'], subject: { id: number; key: string }, closesAt: Instant | null, person: number | null, now: Instant): Promise<void> {
  if (closesAt !== null && closesAt <= now) throw new HemeronError('bad-document', undefined, [{ path: 'until', found: new Date(closesAt).toISOString(), expected: 'a time to come' }])
  await transaction(pool, async (on) => {
    await change(on, 'UPDATE release_window SET closed_at = ? WHERE place = ? AND subject_id = ? AND closed_at IS NULL', [now, place, subject.id])
    await change(on, 'INSERT INTO release_window (place, subject_id, opened_at, opened_by, closes_at) VALUES (?, ?, ?, ?, ?)', [place, subject.id, now, person, closesAt])
    await audit(on, person, 'release window opened', `${place} ${subject.key}`, undefined, { closesAt }, now)
    await changed(on, now)
  })
}

export async function closeWindow(pool: Pool, place: OpenWindow['place'], subject: { id: number; key: string }, person: number | null, now: Instant): Promise<void> {
  const { affectedRows } = await change(pool, 'UPDATE release_window SET closed_at = ? WHERE place = ? AND subject_id = ? AND closed_at IS NULL', [now, place, subject.id])
  if (affectedRows === 0) throw new HemeronError('wrong-state', 'No release window is open.')
  await audit(pool, person, 'release window closed', `${place} ${subject.key}`, undefined, undefined, now)
  await changed(pool, now)
}
