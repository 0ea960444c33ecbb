import { createHash, randomBytes } from 'node:crypto'
import { hash, verify } from '@node-rs/argon2'
import { HemeronError } from '../core/problems'
import { DAY, MINUTE, type Instant } from '../core/units'
import { change, row, rows, type Queryable } from './database'
import { bumpDefinitions } from './locations'

/** A contact is outside: they receive messages, and cannot sign in. */
export const ROLES = ['contact', 'viewer', 'responder', 'editor', 'owner'] as const
export type Role = (typeof ROLES)[number]

export interface Person {
  id: number
  key: string
  name: string
  mail: string
  job: string
  role: Role
  theme: 'light' | 'dark' | 'auto'
}

const COLUMNS = 'id, person_key AS `key`, name, mail, job, role, theme'
const SESSION_LENGTH = 30 * DAY
const ATTEMPTS = { window: 15 * MINUTE, perAccount: 8, perAddress: 40 }
/** argon2id with the parameters OWASP recommends: 19 MiB, two passes, one lane. */
export const HASHING = { memoryCost: 19_456, timeCost: 2, parallelism: 1 }

export const hashToken = (token: string): Buffer => createHash('sha256').update(token).digest()
const newToken = (prefix: string) => `${prefix}_${randomBytes(24).toString('base64url')}`

/** Throws not-allowed unless the person's role reaches at least the given one. */
export function requireRole(person: Pick<Person, 'role' | 'name'>, role: Role): void {
  if (!roleReaches(person, role)) {
    throw new HemeronError('not-allowed', `This needs the role ${role}; ${person.name} is ${person.role}.`)
  }
}

/** Whether a person's role reaches at least another. */
export const roleReaches = (person: Pick<Person, 'role'>, role: Role): boolean => ROLES.indexOf(person.role) >= ROLES.indexOf(role)

export async function countPeople(on: Queryable): Promise<number> {
  return (await row<{ count: number }>(on, 'SELECT COUNT(*) AS count FROM person'))!.count
}

export async function listPeople(on: Queryable): Promise<Person[]> {
  return rows<Person>(on, `SELECT ${COLUMNS} FROM person ORDER BY name`)
}

/** Adds a person; without a password they cannot sign in. */
export async function addPerson(on: Queryable, person: Omit<Person, 'id' | 'theme'>, password: string | undefined, now: Instant): Promise<number> {
  const hashed = password === undefined ? null : await hash(password, HASHING)
  const result = await change(on, 'INSERT INTO person (person_key, name, mail, job, role, password_hash, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [person.key, person.name, person.mail, person.job, person.role, hashed, now])
  await bumpDefinitions(on)
  return result.insertId
}

/** Checks mail and password, with attempts limited per account and per address. Throws wrong-credentials or too-many-attempts. */
export async function signIn(on: Queryable, mail: string, password: string, from: { address: string; agent: string }, now: Instant): Promise<string> {
  const account = mail.trim().toLowerCase().slice(0, 200)
  const tried = await row<{ account: number; address: number }>(on,
    `SELECT COALESCE(SUM(account = ?), 0) AS account, COALESCE(SUM(address = ?), 0) AS address FROM sign_in_attempt
     WHERE at > ? AND (account = ? OR address = ?)`, [account, from.address, now - ATTEMPTS.window, account, from.address])
  if (Number(tried!.account) >= ATTEMPTS.perAccount || Number(tried!.address) >= ATTEMPTS.perAddress) {
    throw new HemeronError('too-many-attempts', 'Too many attempts. Try again in a quarter of an hour.')
  }
  const found = await row<{ id: number; password_hash: string | null }>(on, 'SELECT id, password_hash FROM person WHERE mail = ?', [account])
  const fits = found?.password_hash ? await verify(found.password_hash, password) : false
  if (!found || !fits) {
    await change(on, 'INSERT INTO sign_in_attempt (at, account, address) VALUES (?, ?, ?)', [now, account, from.address])
    throw new HemeronError('wrong-credentials', 'Mail address or password is wrong.')
  }
  await change(on, 'DELETE FROM sign_in_attempt WHERE account = ? OR at < ?', [account, now - ATTEMPTS.window])
  return openSession(on, found.id, from, now)
}

/** Opens a session and gives its token, of which only a hash is kept. */
export async function openSession(on: Queryable, person: number, from: { address: string; agent: string }, now: Instant): Promise<string> {
  const token = newToken('s')
  await change(on, 'INSERT INTO session (token_hash, person_id, created_at, expires_at, address, agent) VALUES (?, ?, ?, ?, ?, ?)',
    [hashToken(token), person, now, now + SESSION_LENGTH, from.address.slice(0, 60), from.agent.slice(0, 300)])
  return token
}

export async function personOfSession(on: Queryable, token: string, now: Instant): Promise<Person | undefined> {
  return row<Person>(on, `SELECT ${COLUMNS.split(', ').map((column) => `p.${column}`).join(', ')} FROM session s JOIN person p ON p.id = s.person_id
    WHERE s.token_hash = ? AND s.expires_at > ?`, [hashToken(token), now])
}

export async function closeSession(on: Queryable, token: string): Promise<void> {
  await change(on, 'DELETE FROM session WHERE token_hash = ?', [hashToken(token)])
}

/** Drops sessions that have ended. */
export async function dropEndedSessions(on: Queryable, now: Instant): Promise<void> {
  await change(on, 'DELETE FROM session WHERE expires_at < ?', [now])
}

/** Changes a password after checking the old one; every other session of the person ends. */
export async function changePassword(on: Queryable, person: number, before: string, after: string, keepToken: string): Promise<void> {
  if (after.length < 10 || after.length > 200) throw new HemeronError('bad-document', undefined, [{ path: 'password', found: `${after.length} characters`, expected: '10 to 200 characters' }])
  const found = await row<{ password_hash: string | null }>(on, 'SELECT password_hash FROM person WHERE id = ?', [person])
  if (!found?.password_hash || !(await verify(found.password_hash, before))) throw new HemeronError('wrong-credentials', 'The present password is wrong.')
  await change(on, 'UPDATE person SET password_hash = ? WHERE id = ?', [await hash(after, HASHING), person])
  await change(on, 'DELETE FROM session WHERE person_id = ? AND token_hash <> ?', [person, hashToken(keepToken)])
}

export async function setTheme(on: Queryable, person: number, theme: Person['theme']): Promise<void> {
  await change(on, 'UPDATE person SET theme = ? WHERE id = ?', [theme, person])
}

export const SCOPES = ['read', 'respond', 'write'] as const
export type Scope = (typeof SCOPES)[number]

export interface ApiToken {
  id: number
  name: string
  scope: Scope
  person: string
  createdAt: Instant
  expiresAt: Instant | null
  usedAt: Instant | null
}

/** Makes an API token; this is the only time it can be read. */
export async function addToken(on: Queryable, person: number, name: string, scope: Scope, expiresAt: Instant | null, now: Instant): Promise<string> {
  const token = newToken('hem')
  await change(on, 'INSERT INTO api_token (token_hash, name, person_id, scope, created_at, expires_at) VALUES (?, ?, ?, ?, ?, ?)',
    [hashToken(token), name, person, scope, now, expiresAt])
  return token
}

export async function listTokens(on: Queryable): Promise<ApiToken[]> {
  return rows<ApiToken>(on, `SELECT t.id, t.name, t.scope, p.name AS person, t.created_at AS createdAt, t.expires_at AS expiresAt, t.used_at AS usedAt
    FROM api_token t JOIN person p ON p.id = t.person_id ORDER BY t.id DESC`)
}

export async function removeToken(on: Queryable, id: number): Promise<void> {
  await change(on, 'DELETE FROM api_token WHERE id = ?', [id])
}

/** The person and scope behind an API token that has not ended. */
export async function personOfToken(on: Queryable, token: string, now: Instant): Promise<{ person: Person; scope: Scope } | undefined> {
  const found = await row<Person & { scope: Scope; tokenId: number; usedAt: number | null }>(on,
    `SELECT ${COLUMNS.split(', ').map((column) => `p.${column}`).join(', ')}, t.scope, t.id AS tokenId, t.used_at AS usedAt
     FROM api_token t JOIN person p ON p.id = t.person_id WHERE t.token_hash = ? AND (t.expires_at IS NULL OR t.expires_at > ?)`, [hashToken(token), now])
  if (!found) return undefined
  const { scope, tokenId, usedAt, ...person } = found
  if (!usedAt || now - usedAt > MINUTE) await change(on, 'UPDATE api_token SET used_at = ? WHERE id = ?', [now, tokenId])
  return { person, scope }
}

/** Writes one line of the audit trail. */
export async function audit(on: Queryable, person: number | null, act: string, subject: string, before: unknown, after: unknown, now: Instant): Promise<void> {
  await change(on, 'INSERT INTO audit (at, person_id, act, subject, before_value, after_value) VALUES (?, ?, ?, ?, ?, ?)',
    [now, person, act, subject, before === undefined ? null : JSON.stringify(before), after === undefined ? null : JSON.stringify(after)])
}
