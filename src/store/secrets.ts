import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, rows, type Queryable } from './database'
import { bumpDefinitions } from './locations'
import { audit } from './people'
import { seal, unseal } from './seal'

export type SecretPlace = 'check' | 'service' | 'workspace'

/** The shortest secret: shorter ones could not be cut out of what is recorded without cutting everywhere. */
const SHORTEST = 4
const LONGEST = 8000

const bindingOf = (place: SecretPlace, subject: number, name: string) => `${place}/${subject}/${name}`

/** Sets the value of a secret; it can be replaced, never read again. */
export async function setSecret(on: Queryable, place: SecretPlace, subject: { id: number; key: string }, name: string, value: string, person: number | null, now: Instant): Promise<void> {
  if (value.length < SHORTEST || value.length > LONGEST) {
    throw new HemeronError('bad-document', undefined, [{ path: name, found: `${value.length} characters`, expected: `a secret of ${SHORTEST} to ${LONGEST} characters` }])
  }
  await change(on, `INSERT INTO secret (place, subject_id, name, sealed, set_at, set_by) VALUES (?, ?, ?, ?, ?, ?)
    ON DUPLICATE KEY UPDATE sealed = VALUES(sealed), set_at = VALUES(set_at), set_by = VALUES(set_by)`,
  [place, subject.id, name, seal(value, bindingOf(place, subject.id, name)), now, person])
  await audit(on, person, 'secret set', `${place} ${subject.key} ${name}`, undefined, undefined, now)
  await bumpDefinitions(on)
}

/** Gives another service or check the same secrets, sealed anew for it. */
export async function copySecrets(on: Queryable, place: SecretPlace, from: number, to: number, person: number | null, now: Instant): Promise<void> {
  for (const each of await rows<{ name: string; sealed: Buffer }>(on, 'SELECT name, sealed FROM secret WHERE place = ? AND subject_id = ?', [place, from])) {
    const value = unseal(each.sealed, bindingOf(place, from, each.name))
    await change(on, 'INSERT IGNORE INTO secret (place, subject_id, name, sealed, set_at, set_by) VALUES (?, ?, ?, ?, ?, ?)', [place, to, each.name, seal(value, bindingOf(place, to, each.name)), now, person])
  }
}

export interface SecretSet {
  place: SecretPlace
  subject: number
  name: string
  setAt: Instant
}

/** Which secrets have a value; never the values. */
export async function listSecrets(on: Queryable): Promise<SecretSet[]> {
  return rows<SecretSet>(on, 'SELECT place, subject_id AS subject, name, set_at AS setAt FROM secret')
}

/** Values of all secrets by place and subject, for those who run checks; nowhere else. */
export async function openSecrets(on: Queryable): Promise<(place: SecretPlace, subject: number | null) => Record<string, string>> {
  const found = await rows<{ place: SecretPlace; subject: number; name: string; sealed: Buffer }>(on, 'SELECT place, subject_id AS subject, name, sealed FROM secret')
  const values = new Map<string, Record<string, string>>()
  for (const { place, subject, name, sealed } of found) {
    const key = `${place}/${subject}`
    values.set(key, { ...values.get(key), [name]: unseal(sealed, bindingOf(place, subject, name)) })
  }
  return (place, subject) => values.get(`${place}/${subject}`) ?? {}
}

/** What stands for a secret wherever people look. */
export const MASK = '(hidden)'

/** The same with a mask in place of every value that is set. */
export async function maskedSecrets(on: Queryable): Promise<(place: SecretPlace, subject: number | null) => Record<string, string>> {
  const values = new Map<string, Record<string, string>>()
  for (const { place, subject, name } of await listSecrets(on)) values.set(`${place}/${subject}`, { ...values.get(`${place}/${subject}`), [name]: MASK })
  return (place, subject) => values.get(`${place}/${subject}`) ?? {}
}
