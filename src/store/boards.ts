import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, fromJson, row, rows, type Pool, type Queryable } from './database'
import { audit } from './people'

/** Chosen checks at chosen locations, for a wall or for somebody outside. */
export interface Board {
  id: number
  name: string
  /** Keys; an empty list is all of them. */
  checks: string[]
  locations: string[]
}

type BoardRow = Omit<Board, 'checks' | 'locations'> & { checks: unknown; locations: unknown }
const SELECT = 'SELECT id, name, checks, locations FROM board'
const read = (found: BoardRow): Board => ({ ...found, checks: fromJson<string[]>(found.checks), locations: fromJson<string[]>(found.locations) })

export const listBoards = async (on: Queryable): Promise<Board[]> => (await rows<BoardRow>(on, `${SELECT} ORDER BY name, id`)).map(read)

/** Throws not-found for a number no board has. */
export async function requireBoard(on: Queryable, id: number): Promise<Board> {
  const found = Number.isInteger(id) ? await row<BoardRow>(on, `${SELECT} WHERE id = ?`, [id]) : undefined
  if (!found) throw new HemeronError('not-found', 'There is no such board any more.')
  return read(found)
}

/** What a board is to hold, with its name tidied. Throws bad-document. */
function fit({ name, checks, locations }: Omit<Board, 'id'>): Omit<Board, 'id'> {
  const said = name.trim()
  if (said === '' || said.length > 200) throw new HemeronError('bad-document', undefined, [{ path: 'name', found: `${said.length} characters`, expected: 'a name of 1 to 200 characters' }])
  if (checks.length > 500 || locations.length > 500) throw new HemeronError('bad-document', undefined, [{ path: 'checks', found: `${checks.length} checks, ${locations.length} locations`, expected: 'at most 500 of each' }])
  return { name: said, checks, locations }
}

/** Makes a board; gives its number. Throws bad-document. */
export async function addBoard(pool: Pool, given: Omit<Board, 'id'>, by: number | null, now: Instant): Promise<number> {
  const { name, checks, locations } = fit(given)
  const { insertId } = await change(pool, 'INSERT INTO board (name, checks, locations, person_id, made_at) VALUES (?, ?, ?, ?, ?)', [name, JSON.stringify(checks), JSON.stringify(locations), by, now])
  await audit(pool, by, 'board', name, undefined, { checks, locations }, now)
  return insertId
}

/** Changes what a board holds; its link stays. Throws not-found or bad-document. */
export async function changeBoard(pool: Pool, { id, ...given }: Board, by: number | null, now: Instant): Promise<void> {
  const [before, { name, checks, locations }] = [await requireBoard(pool, id), fit(given)]
  await change(pool, 'UPDATE board SET name = ?, checks = ?, locations = ? WHERE id = ?', [name, JSON.stringify(checks), JSON.stringify(locations), id])
  await audit(pool, by, 'board', name, { name: before.name, checks: before.checks, locations: before.locations }, { checks, locations }, now)
}

/** Takes a board away: its link opens nothing any more. */
export async function removeBoard(pool: Pool, id: number, by: number | null, now: Instant): Promise<void> {
  const { name } = await requireBoard(pool, id)
  await change(pool, 'DELETE FROM board WHERE id = ?', [id])
  await audit(pool, by, 'board removed', name, undefined, undefined, now)
}
