import { outside } from '../core/places/places'
import type { Check } from '../core/definitions/check'
import { same } from '../core/definitions/differences'
import { readService, workspaceProblems, type ServiceDocument } from '../core/definitions/service'
import { settleCheck } from '../core/layers/settle'
import { circleThrough } from '../core/needs/needs'
import { HemeronError, type Problem } from '../core/problems'
import type { Instant } from '../core/units'
import { kinds } from '../kinds/definitions'
import { askForRuns } from './checks'
import { change, fromJson, row, rows, transaction, type Pool, type Queryable } from './database'
import { bumpDefinitions, listLocations } from './locations'
import { endForGood } from './incidents'
import { note } from './live'
import { audit } from './people'
import { copySecrets, openSecrets, setSecret } from './secrets'
import { surroundingsOf, WORKSPACE, type World } from './world'

export type DefinitionKind = 'check' | 'service' | 'workspace'
type Written = Record<string, unknown>

/** One definition to put in place. A document of null takes it out of use; a key that nothing has yet adds it. */
export interface Wanted {
  kind: DefinitionKind
  /** The key it has now, or will have; the workspace has none. */
  key: string
  document: Written | null
  /** The version the editor started from; a newer one is not overwritten. */
  fromVersion?: number
  /** What was taken out of use and comes back with its history. */
  revive?: { id: number; version: number }
  /** A new service that has the same secrets as this one. */
  secretsOf?: number
  /** Values of secrets that a check declares, to be set together with it. */
  secrets?: Record<string, string>
}

/** A definition as it stands, and as it would stand. */
export interface Draft {
  kind: DefinitionKind
  id: number | null
  key: string
  version: number
  before: Written | null
  after: Written | null
  secretsOf?: number
  secrets?: Record<string, string>
}

interface Standing { id: number; key: string; version: number; document: Written }

/** Everything that stands, read inside the caller's transaction. */
interface Standings {
  check: Map<string, Standing>
  service: Map<string, Standing>
  workspace: Standing
  locations: Set<string>
  secrets: World['secrets']
}

async function readStandings(on: Queryable): Promise<Standings> {
  const read = async (table: string, key: string) => new Map((await rows<{ id: number; key: string; version: number; document: unknown }>(on,
    `SELECT id, ${key} AS \`key\`, version, document FROM ${table} WHERE deleted_at IS NULL`)).map((each) => [each.key, { ...each, document: fromJson<Written>(each.document) }]))
  const workspace = await row<{ version: number; document: unknown }>(on, 'SELECT version, document FROM workspace_definition WHERE id = ?', [WORKSPACE])
  return {
    check: await read('check_definition', 'check_key'), service: await read('service', 'service_key'),
    workspace: { id: WORKSPACE, key: '', version: workspace!.version, document: fromJson<Written>(workspace!.document) },
    locations: new Set(outside(await listLocations(on)).map((location) => location.key)), secrets: await openSecrets(on)
  }
}

/**
 * What some changes would come to, and everything that is wrong with them. Nothing is written. Changes that change
 * nothing are left out of the drafts.
 */
export async function previewDefinitions(on: Queryable, wanted: Wanted[]): Promise<{ drafts: Draft[]; problems: Problem[] }> {
  return draft(await readStandings(on), wanted)
}

function draft(standings: Standings, wanted: Wanted[]): { drafts: Draft[]; problems: Problem[]; settled: Map<string, Check> } {
  const drafts = withFollowers(standings, wanted).flatMap((each): Draft[] => {
    const standing = each.kind === 'workspace' ? standings.workspace : standings[each.kind].get(each.key)
    if (!standing && each.document === null) return []
    if (standing && each.document !== null && same(standing.document, each.document)) return []
    return [{ kind: each.kind, id: standing?.id ?? each.revive?.id ?? null, key: each.key, version: standing?.version ?? each.revive?.version ?? 0, before: standing?.document ?? null, after: each.document, ...(each.secretsOf === undefined ? {} : { secretsOf: each.secretsOf }), ...(each.secrets === undefined ? {} : { secrets: each.secrets }) }]
  })
  const several = wanted.length > 1
  const problems = [...clashes(standings, drafts), ...shapeProblems(drafts, several)]
  if (problems.length > 0) return { drafts, problems, settled: new Map() }
  const { problems: inWorld, settled } = worldProblems(standings, drafts, several)
  return { drafts, problems: inWorld, settled }
}

/** A new key of a service or a check is carried into the checks that name it. */
function withFollowers(standings: Standings, wanted: Wanted[]): Wanted[] {
  const renamed = (kind: 'check' | 'service') => new Map(wanted.flatMap((each) => {
    const key = each.kind === kind && each.document ? String(each.document[kind]) : undefined
    return key !== undefined && key !== each.key && standings[kind].has(each.key) ? [[each.key, key] as const] : []
  }))
  const [checks, services] = [renamed('check'), renamed('service')]
  if (checks.size + services.size === 0) return wanted
  const all = new Map(wanted.filter((each) => each.kind === 'check').map((each) => [each.key, each.document]))
  const followers = [...standings.check.values()].filter(({ key }) => !all.has(key)).map(({ key, document }): Wanted => ({ kind: 'check', key, document }))
  return [...wanted, ...followers].map((each) => {
    if (each.kind !== 'check' || !each.document) return each
    const service = services.get(String(each.document.service))
    const needs = (each.document.needs as string[] | undefined)?.map((need) => checks.get(need) ?? need)
    const kind = kindOf(each.document)
    const target = kinds[kind]?.renamed?.(each.document[kind] as Written, checks)
    return { ...each, document: { ...each.document, ...(service ? { service } : {}), ...(needs ? { needs } : {}), ...(target ? { [kind]: target } : {}) } }
  })
}

const keyOf = (draft: Draft) => (draft.kind === 'workspace' ? '' : String(draft.after?.[draft.kind] ?? ''))
const subjectOf = (kind: DefinitionKind, key: string) => (kind === 'workspace' ? 'the workspace' : `${kind} ${key}`)

function clashes(standings: Standings, drafts: Draft[]): Problem[] {
  const problems: Problem[] = []
  for (const kind of ['check', 'service'] as const) {
    const own = drafts.filter((each) => each.kind === kind)
    const free = new Set(own.filter((each) => each.id !== null && keyOf(each) !== each.key).map((each) => each.key))
    const seen = new Set<string>()
    for (const each of own.filter(({ after }) => after !== null)) {
      const key = keyOf(each)
      const isTaken = seen.has(key) || (key !== each.key || each.before === null) && standings[kind].has(key) && !free.has(key)
      if (isTaken) problems.push({ subject: subjectOf(kind, key), path: kind, found: `"${key}"`, expected: 'a key that is not taken' })
      seen.add(key)
    }
  }
  return problems
}

function shapeProblems(drafts: Draft[], several: boolean): Problem[] {
  return drafts.flatMap((each) => {
    if (each.after === null || each.kind === 'check') return []
    const found = each.kind === 'workspace' ? workspaceProblems(each.after) : problemsOfService(each.after)
    return several ? found.map((problem) => ({ ...problem, subject: subjectOf(each.kind, each.key) })) : found
  })
}

function problemsOfService(document: unknown): Problem[] {
  const read = readService(document)
  return 'problems' in read ? read.problems : []
}

/** Judges every check that the drafts touch, in the world as it would be. */
function worldProblems(standings: Standings, drafts: Draft[], several: boolean): { problems: Problem[]; settled: Map<string, Check> } {
  const services = apply(standings.service, drafts, 'service')
  const checks = apply(standings.check, drafts, 'check')
  const workspace = drafts.find((each) => each.kind === 'workspace')?.after ?? standings.workspace.document
  const world: World = {
    services: new Map([...services].map(([key, { id, secretsOf, document }]) => [key, { id: id ?? secretsOf ?? 0, document: document as ServiceDocument }])),
    workspace: { document: workspace, version: 0 }, secrets: standings.secrets
  }
  const changedServices = new Set(drafts.filter((each) => each.kind === 'service').flatMap((each) => [each.key, keyOf(each)]))
  const needs = new Map([...checks].map(([key, { document }]) => [key, Array.isArray(document.needs) ? (document.needs as string[]) : []]))
  const judged = new Map([...checks].map(([key, { document }]) => [key, membersOf(document)]))
  const leads = new Map([...checks.keys()].map((key) => [key, [...needs.get(key)!, ...judged.get(key)!]]))
  const own = new Set(drafts.filter((each) => each.kind === 'check').map(keyOf))
  const gone = new Set(drafts.filter((each) => each.after === null).map((each) => `${each.kind} ${each.key}`))
  const all = drafts.some((each) => each.kind === 'workspace')
  const problems: Problem[] = []
  const settled = new Map<string, Check>()
  for (const [key, { id, document, secrets }] of checks) {
    const isOwn = own.has(key)
    const isTouched = isOwn || all || changedServices.has(String(document.service)) || leads.get(key)!.some((need) => gone.has(`check ${need}`))
    if (!isTouched) continue
    const found: Problem[] = []
    const around = surroundingsOf(world, document, id)
    const read = settleCheck(document, { ...around, secrets: { ...around.secrets, check: { ...around.secrets.check, ...secrets } } }, kinds)
    const isLost = typeof document.service === 'string' && !world.services.has(document.service)
    // without its service everything it took from there is missing; that is one mistake, not many
    if ('problems' in read) found.push(...(isLost ? [] : read.problems))
    else settled.set(key, read.settled.check)
    found.push(...namedProblems(key, document, world, standings.locations, { needs, judged, leads }, 'settled' in read ? read.settled.check : undefined))
    problems.push(...found.map((problem) => (several || !isOwn ? { ...problem, subject: subjectOf('check', key) } : problem)))
  }
  return { problems, settled }
}

interface Applied { id: number | null; document: Written; secretsOf?: number; secrets?: Record<string, string> }

function apply(standing: Map<string, Standing>, drafts: Draft[], kind: 'check' | 'service'): Map<string, Applied> {
  const after = new Map<string, Applied>([...standing].map(([key, { id, document }]) => [key, { id, document }]))
  const own = drafts.filter((each) => each.kind === kind)
  for (const each of own) after.delete(each.key)
  for (const each of own) if (each.after) after.set(keyOf(each), { id: each.id, document: each.after, ...(each.secretsOf === undefined ? {} : { secretsOf: each.secretsOf }), ...(each.secrets === undefined ? {} : { secrets: each.secrets }) })
  return after
}

const kindOf = (document: Written) => Object.keys(kinds).find((kind) => document[kind] !== undefined) ?? ''

/** The checks that a check judges together. */
function membersOf(document: Written): string[] {
  const kind = kindOf(document)
  const target = document[kind]
  return target !== null && typeof target === 'object' ? kinds[kind]?.members?.(target as Written) ?? [] : []
}

/** What only the whole world shows: that the service, the locations and the needed checks exist, and that needs form no circle. */
function namedProblems(key: string, document: Written, world: World, locations: Set<string>, { needs, judged, leads }: Record<'needs' | 'judged' | 'leads', Map<string, string[]>>, check: Check | undefined): Problem[] {
  const problems: Problem[] = []
  if (document.service !== undefined && !world.services.has(String(document.service))) problems.push({ path: 'service', found: `"${String(document.service)}"`, expected: 'the key of a service that exists' })
  if (Array.isArray(check?.from) && !check.isInside) {
    check.from.forEach((place, index) => {
      if (!locations.has(place)) problems.push({ path: `from[${index}]`, found: `"${place}"`, expected: `one of the locations ${[...locations].slice(0, 15).join(', ')}` })
    })
  }
  for (const [index, need] of (needs.get(key) ?? []).entries()) if (!needs.has(need)) problems.push({ path: `needs[${index}]`, found: `"${need}"`, expected: 'the key of a check that exists' })
  for (const member of judged.get(key) ?? []) if (!needs.has(member)) problems.push({ path: `${kindOf(document)}.of`, found: `"${member}"`, expected: 'the key of a check that exists' })
  const circle = circleThrough(key, leads)
  if (circle) problems.push({ path: circleThrough(key, needs) ? 'needs' : `${kindOf(document)}.of`, found: circle.join(' → '), expected: 'checks that do not lead back to the check itself' })
  return problems
}

/**
 * Puts definitions in place: all of them or none. Every document is judged in the world as it will be, so that a change
 * of a service that would break one of its checks is refused. The change can be undone as a whole.
 * @param title what was done, for the history
 * @throws bad-document with every problem, duplicate-key, or edited-meanwhile
 * @returns the number of the change set; undefined when nothing differed
 */
export async function defineAll(pool: Pool, wanted: Wanted[], title: string, person: number | null, now: Instant): Promise<number | undefined> {
  return transaction(pool, async (on) => {
    await row(on, "SELECT value FROM counter WHERE name = 'definitions' FOR UPDATE")
    const standings = await readStandings(on)
    for (const each of wanted) await refuseOlder(on, standings, each)
    const { drafts, problems, settled } = draft(standings, wanted)
    const [first] = problems
    if (first) throw new HemeronError(isClash(first) ? 'duplicate-key' : 'bad-document', undefined, problems)
    if (drafts.length === 0) return undefined
    const { insertId } = await change(on, 'INSERT INTO change_set (at, person_id, title) VALUES (?, ?, ?)', [now, person, title.slice(0, 300)])
    for (const each of order(drafts)) await write(on, each, insertId, person, now)
    await place(on)
    await runAgain(on, drafts, settled, now)
    await note(on, [{ topic: 'definitions', subject: 0 }], now)
    await bumpDefinitions(on)
    return insertId
  })
}

const isClash = (problem: Problem) => problem.expected === 'a key that is not taken'

/** Services before the checks that name them; what goes before what takes its key. */
function order(drafts: Draft[]): Draft[] {
  const rank = (each: Draft) => (each.after === null ? 0 : each.kind === 'workspace' ? 1 : each.kind === 'service' ? 2 : 3)
  return [...drafts].sort((a, b) => rank(a) - rank(b))
}

async function refuseOlder(on: Queryable, standings: Standings, { kind, key, fromVersion }: Wanted): Promise<void> {
  const standing = kind === 'workspace' ? standings.workspace : standings[kind].get(key)
  if (fromVersion === undefined || !standing || standing.version === fromVersion) return
  const last = await row<{ name: string | null }>(on,
    'SELECT p.name FROM revision r LEFT JOIN person p ON p.id = r.person_id WHERE r.kind = ? AND r.subject_id = ? AND r.version = ?', [kind, standing.id, standing.version])
  throw new HemeronError('edited-meanwhile', `${last?.name ?? 'Someone else'} saved version ${standing.version} while you were editing version ${fromVersion}. Nothing was overwritten.`)
}

const TABLES = { check: 'check_definition', service: 'service', workspace: 'workspace_definition' } as const

async function write(on: Queryable, each: Draft, changeSet: number, person: number | null, now: Instant): Promise<void> {
  const { kind, after } = each
  const json = after === null ? null : JSON.stringify(after)
  if (each.id === null) each.id = await insert(on, kind as 'check' | 'service', keyOf(each), after!, now)
  else if (after === null) await change(on, `UPDATE ${TABLES[kind]} SET deleted_at = ?, version = version + 1 WHERE id = ?`, [now, each.id])
  else if (kind === 'check') await change(on, 'UPDATE check_definition SET deleted_at = NULL, check_key = ?, name = ?, document = ?, version = version + 1, changed_at = ? WHERE id = ?', [keyOf(each), after.name, json, now, each.id])
  else if (kind === 'service') await change(on, 'UPDATE service SET deleted_at = NULL, service_key = ?, document = ?, version = version + 1 WHERE id = ?', [keyOf(each), json, each.id])
  else await change(on, 'UPDATE workspace_definition SET document = ?, version = version + 1 WHERE id = ?', [json, each.id])
  await change(on, 'INSERT INTO revision (kind, subject_id, version, at, person_id, change_id, document) VALUES (?, ?, ?, ?, ?, ?, ?)', [kind, each.id, each.version + 1, now, person, changeSet, json])
  if (each.secretsOf !== undefined) await copySecrets(on, 'service', each.secretsOf, each.id, person, now)
  for (const [name, value] of Object.entries(each.secrets ?? {})) await setSecret(on, 'check', { id: each.id, key: keyOf(each) }, name, value, person, now)
  if (kind === 'check' && after === null) await leave(on, each.id, person, now)
  await audit(on, person, `${kind} ${each.before === null ? 'added' : after === null ? 'removed' : 'changed'}`, after === null ? each.key : keyOf(each), each.before ?? undefined, after ?? undefined, now)
}

async function insert(on: Queryable, kind: 'check' | 'service', key: string, document: Written, now: Instant): Promise<number> {
  if (kind === 'service') {
    return (await change(on, 'INSERT INTO service (service_key, document, position) SELECT ?, ?, COALESCE(MAX(position), 0) + 1 FROM service', [key, JSON.stringify(document)])).insertId
  }
  const { insertId } = await change(on, 'INSERT INTO check_definition (check_key, name, document, created_at, changed_at) VALUES (?, ?, ?, ?, ?)', [key, document.name, JSON.stringify(document), now, now])
  await change(on, "INSERT INTO check_state (check_id, state, since_at) VALUES (?, 'nodata', ?)", [insertId, now])
  return insertId
}

async function leave(on: Queryable, check: number, person: number | null, now: Instant): Promise<void> {
  await change(on, 'DELETE FROM run_request WHERE check_id = ?', [check])
  await endForGood(on, check, person, now)
}

/** The service of each check by its number, as its document names it. */
async function place(on: Queryable): Promise<void> {
  await change(on, `UPDATE check_definition c LEFT JOIN service s ON s.live_key = JSON_VALUE(c.document, '$.service') SET c.service_id = s.id
    WHERE c.deleted_at IS NULL AND NOT (c.service_id <=> s.id)`)
}

/** A check that is new or runs otherwise than before runs at once, unless it is paused. */
async function runAgain(on: Queryable, drafts: Draft[], settled: Map<string, Check>, now: Instant): Promise<void> {
  const ids = drafts.filter((each) => each.kind === 'check' && each.after !== null).map((each) => each.id!)
  if (ids.length === 0) return
  const running = await rows<{ id: number; key: string }>(on, 'SELECT id, check_key AS `key` FROM check_definition WHERE id IN (?) AND paused_at IS NULL', [ids])
  for (const { id, key } of running) {
    const check = settled.get(key)
    if (check) await askForRuns(on, id, check, now)
  }
}
