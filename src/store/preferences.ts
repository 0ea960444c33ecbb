import { readPreferences, type Preferences } from '../core/people/preferences'
import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, fromJson, row, type Queryable } from './database'
import { note } from './live'
import { bumpDefinitions } from './locations'
import { audit } from './people'

/** How a person wants to be told; everything that they never said is missing. */
export async function preferencesOf(on: Queryable, person: number): Promise<Preferences> {
  return fromJson<Preferences>((await row<{ preferences: unknown }>(on, 'SELECT preferences FROM person WHERE id = ?', [person]))!.preferences)
}

/** Says how a person wants to be told. Throws bad-document or not-found. */
export async function setPreferences(on: Queryable, key: string, wanted: unknown, by: number | null, now: Instant): Promise<void> {
  const read = readPreferences(wanted)
  if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
  const before = await row<{ preferences: unknown }>(on, 'SELECT preferences FROM person WHERE person_key = ?', [key])
  if (!before) throw new HemeronError('not-found', `There is no person ${key.slice(0, 100)}.`)
  await change(on, 'UPDATE person SET preferences = ? WHERE person_key = ?', [JSON.stringify(read.preferences), key])
  await audit(on, by, 'preferences', key, fromJson(before.preferences), read.preferences, now)
  await note(on, [{ topic: 'definitions', subject: 0 }], now)
  await bumpDefinitions(on)
}
