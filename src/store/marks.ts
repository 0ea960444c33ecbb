import type { Mark, MarkDraft } from '../core/marks/mark'
import { HemeronError } from '../core/problems'
import { DAY, type Instant } from '../core/units'
import { change, row, rows, type Pool, type Queryable } from './database'
import { note } from './live'
import { audit } from './people'

const SELECT = `SELECT m.id, m.at, m.kind, m.title, m.detail, JSON_VALUE(s.document, '$.service') AS service, c.check_key AS \`check\`, p.name AS person
  FROM mark m LEFT JOIN service s ON s.id = m.service_id LEFT JOIN check_definition c ON c.id = m.check_id LEFT JOIN person p ON p.id = m.person_id`

/** Marks within a range, oldest first; of a service or check also those that belong to everything. */
export async function listMarks(on: Queryable, range: { from: Instant; to: Instant }, about: { service?: number | null; check?: number } = {}): Promise<Mark[]> {
  const narrowed = about.check !== undefined ? 'AND (m.check_id IS NULL OR m.check_id = ?) AND (m.service_id IS NULL OR m.service_id = ?)' : ''
  return (await rows<Mark>(on, `${SELECT} WHERE m.at >= ? AND m.at < ? ${narrowed} ORDER BY m.at LIMIT 500`, [range.from, range.to, ...(about.check === undefined ? [] : [about.check, about.service ?? 0])]))
}

/** Throws not-found for a number no mark has. */
export async function requireMark(on: Queryable, id: number): Promise<Mark> {
  const found = Number.isInteger(id) ? await row<Mark>(on, `${SELECT} WHERE m.id = ?`, [id]) : undefined
  if (!found) throw new HemeronError('not-found', `There is no mark ${id}.`)
  return found
}

/** Sets a mark; gives its number. Throws bad-document for a service or check there is not. */
export async function addMark(pool: Pool, mark: MarkDraft, by: number | null, now: Instant): Promise<number> {
  const idOf = async (what: 'service' | 'check', key: string | undefined) => {
    if (key === undefined) return null
    const found = await row<{ id: number }>(pool, what === 'service' ? 'SELECT id FROM service WHERE live_key = ?' : 'SELECT id FROM check_definition WHERE live_key = ?', [key])
    if (!found) throw new HemeronError('bad-document', undefined, [{ path: what, found: `"${key}"`, expected: `the key of a ${what} that exists` }])
    return found.id
  }
  const [service, check] = [await idOf('service', mark.service), await idOf('check', mark.check)]
  const { insertId } = await change(pool, 'INSERT INTO mark (at, kind, title, detail, service_id, check_id, person_id, made_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)', [mark.at, mark.kind, mark.title, mark.detail, service, check, by, now])
  await audit(pool, by, 'mark', String(insertId), undefined, mark, now)
  await note(pool, [{ topic: 'definitions', subject: 0 }], now)
  return insertId
}

export async function removeMark(pool: Pool, id: number, by: number | null, now: Instant): Promise<void> {
  await requireMark(pool, id)
  await change(pool, 'DELETE FROM mark WHERE id = ?', [id])
  await audit(pool, by, 'mark removed', String(id), undefined, undefined, now)
  await note(pool, [{ topic: 'definitions', subject: 0 }], now)
}

/** How far around a moment marks are looked for to stand beside an incident. */
export const SHORTLY_BEFORE = DAY / 8
