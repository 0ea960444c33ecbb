import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, rows, type Queryable } from './database'

/** A filter, an order and columns of the table, kept under a name. */
export interface SavedView {
  id: number
  name: string
  query: string
  own: boolean
}

/** The views of a person, and those others share. */
export async function listViews(on: Queryable, person: number): Promise<SavedView[]> {
  const found = await rows<{ id: number; name: string; query: string; person: number }>(on,
    'SELECT id, name, query, person_id AS person FROM saved_view WHERE person_id = ? OR shared = 1 ORDER BY name', [person])
  return found.map(({ person: owner, ...view }) => ({ ...view, own: owner === person }))
}

/** Keeps a view; one of the same name is replaced. Throws bad-document. */
export async function saveView(on: Queryable, person: number, name: string, query: string, shared: boolean): Promise<void> {
  if (name.trim() === '' || name.length > 100) throw new HemeronError('bad-document', undefined, [{ path: 'name', found: `"${name.slice(0, 50)}"`, expected: 'a name of 1 to 100 characters' }])
  if (query.length > 2000) throw new HemeronError('bad-document', undefined, [{ path: 'query', found: `${query.length} characters`, expected: 'at most 2000 characters' }])
  await change(on, 'INSERT INTO saved_view (person_id, name, query, shared) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE query = VALUES(query), shared = VALUES(shared)', [person, name.trim(), query, shared ? 1 : 0])
}

export async function removeView(on: Queryable, person: number, id: number): Promise<void> {
  await change(on, 'DELETE FROM saved_view WHERE id = ? AND person_id = ?', [id, person])
}

/** The colour of each tag that has one. */
export async function tagColours(on: Queryable): Promise<Record<string, string>> {
  return Object.fromEntries((await rows<{ name: string; colour: string }>(on, 'SELECT name, colour FROM tag_colour')).map(({ name, colour }) => [name, colour]))
}

/** Gives a tag a colour such as #1b6ca8. Throws bad-document. */
export async function setTagColour(on: Queryable, name: string, colour: string): Promise<void> {
  if (!/^#[0-9a-f]{6}$/i.test(colour)) throw new HemeronError('bad-document', undefined, [{ path: 'colour', found: `"${colour.slice(0, 20)}"`, expected: 'a colour such as #1b6ca8' }])
  await change(on, 'INSERT INTO tag_colour (name, colour) VALUES (?, ?) ON DUPLICATE KEY UPDATE colour = VALUES(colour)', [name.slice(0, 50), colour.toLowerCase()])
}

/** How often each check went down or slow since a moment. */
export async function troubleCounts(on: Queryable, since: Instant): Promise<Map<number, number>> {
  const found = await rows<{ check: number; count: number }>(on,
    "SELECT check_id AS `check`, COUNT(*) AS count FROM state_change WHERE decided_at >= ? AND to_state IN ('down', 'slow') GROUP BY check_id", [since])
  return new Map(found.map((each) => [each.check, Number(each.count)]))
}
