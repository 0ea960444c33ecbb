import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, fromJson, row, rows, type Pool, type Queryable } from './database'
import { defineAll, type DefinitionKind, type Wanted } from './define'
import { WORKSPACE } from './world'

type Written = Record<string, unknown>

/** One version of a definition, with the version before it. */
export interface Revision {
  kind: DefinitionKind
  subject: number
  version: number
  at: Instant
  person: string | null
  title: string | null
  changeSet: number | null
  document: Written | null
  before: Written | null
}

type RevisionRow = Omit<Revision, 'document' | 'before'> & { document: unknown; before: unknown }

const SELECT = `SELECT r.kind, r.subject_id AS subject, r.version, r.at, p.name AS person, c.title, r.change_id AS changeSet, r.document, b.document AS \`before\`
  FROM revision r LEFT JOIN revision b ON b.kind = r.kind AND b.subject_id = r.subject_id AND b.version = r.version - 1
  LEFT JOIN person p ON p.id = r.person_id LEFT JOIN change_set c ON c.id = r.change_id`

const parsed = (value: unknown): Written | null => (value === null || value === undefined ? null : fromJson<Written>(value))
const revision = (found: RevisionRow): Revision => ({ ...found, document: parsed(found.document), before: parsed(found.before) })

/** The versions of one definition, newest first. */
export async function listRevisions(on: Queryable, kind: DefinitionKind, subject: number, limit = 100): Promise<Revision[]> {
  return (await rows<RevisionRow>(on, `${SELECT} WHERE r.kind = ? AND r.subject_id = ? ORDER BY r.version DESC LIMIT ?`, [kind, subject, limit])).map(revision)
}

export interface ChangeSet {
  id: number
  at: Instant
  person: string | null
  title: string
  undone: boolean
  count: number
}

/** What was changed lately, over all definitions, newest first. */
export async function listChangeSets(on: Queryable, limit: number): Promise<ChangeSet[]> {
  const found = await rows<Omit<ChangeSet, 'undone'> & { undoneBy: number | null }>(on, `SELECT c.id, c.at, p.name AS person, c.title, c.undone_by AS undoneBy, COUNT(r.version) AS count
    FROM change_set c LEFT JOIN person p ON p.id = c.person_id LEFT JOIN revision r ON r.change_id = c.id GROUP BY c.id ORDER BY c.id DESC LIMIT ?`, [limit])
  return found.map(({ undoneBy, ...each }) => ({ ...each, undone: undoneBy !== null }))
}

export async function changeSet(on: Queryable, id: number): Promise<Revision[]> {
  return (await rows<RevisionRow>(on, `${SELECT} WHERE r.change_id = ? ORDER BY r.kind, r.subject_id`, [id])).map(revision)
}

const keyNow = async (on: Queryable, { kind, subject }: Revision): Promise<{ key: string; version: number; deleted: boolean }> => {
  if (kind === 'workspace') return { key: '', version: (await row<{ version: number }>(on, 'SELECT version FROM workspace_definition WHERE id = ?', [WORKSPACE]))!.version, deleted: false }
  const [table, column] = kind === 'check' ? ['check_definition', 'check_key'] : ['service', 'service_key']
  const found = await row<{ key: string; version: number; deletedAt: number | null }>(on, `SELECT ${column} AS \`key\`, version, deleted_at AS deletedAt FROM ${table} WHERE id = ?`, [subject])
  return { key: found!.key, version: found!.version, deleted: found!.deletedAt !== null }
}

/**
 * Takes back everything one change did, as a change of its own. What was taken out of use comes back with its history.
 * @throws wrong-state when something of it has been changed again since, and says what
 */
export async function undoChange(pool: Pool, id: number, person: number | null, now: Instant): Promise<void> {
  const set = await row<{ title: string; undone_by: number | null }>(pool, 'SELECT title, undone_by FROM change_set WHERE id = ?', [id])
  if (!set) throw new HemeronError('not-found', 'There is no such change.')
  if (set.undone_by !== null) throw new HemeronError('wrong-state', 'This change was undone already.')
  const wanted: Wanted[] = []
  const since: string[] = []
  for (const each of await changeSet(pool, id)) {
    const standing = await keyNow(pool, each)
    if (standing.version !== each.version) since.push(`${each.kind} ${standing.key}`)
    else if (standing.deleted) wanted.push({ kind: each.kind, key: String(each.before![each.kind]), document: each.before, revive: { id: each.subject, version: each.version } })
    else wanted.push({ kind: each.kind, key: standing.key, document: each.before, fromVersion: each.version })
  }
  if (since.length > 0) throw new HemeronError('wrong-state', `Changed again since: ${since.slice(0, 5).join(', ')}${since.length > 5 ? ` and ${since.length - 5} more` : ''}. Undo that first, or restore single versions.`)
  const undone = await defineAll(pool, wanted, `Undone: ${set.title}`, person, now)
  await change(pool, 'UPDATE change_set SET undone_by = ? WHERE id = ?', [undone ?? id, id])
}

/** Puts an earlier version in place again, as a new version. Throws like defineAll. */
export async function restoreVersion(pool: Pool, kind: DefinitionKind, subject: number, version: number, person: number | null, now: Instant): Promise<void> {
  const found = (await listRevisions(pool, kind, subject, 10_000)).find((each) => each.version === version)
  if (!found?.document) throw new HemeronError('not-found', 'There is no such version.')
  const { key, deleted } = await keyNow(pool, found)
  if (deleted) throw new HemeronError('wrong-state', 'It is out of use; undo its removal first.')
  await defineAll(pool, [{ kind, key, document: found.document }], `Restored version ${version} of ${kind === 'workspace' ? 'the defaults' : String(found.document.name ?? key)}`, person, now)
}
