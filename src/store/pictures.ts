import { randomBytes } from 'node:crypto'
import { mediaTypeOf, PICTURES_MOST } from '../core/incidents/picture'
import { HemeronError } from '../core/problems'
import type { Instant } from '../core/units'
import { change, row, transaction, type Pool, type Queryable } from './database'
import { requireIncident } from './incidents'

/** Keeps a picture for the notes of an incident; gives its key. Throws not-found, or bad-document for what is no picture. */
export async function addPicture(pool: Pool, incident: number, content: Uint8Array, by: number, now: Instant): Promise<string> {
  const type = mediaTypeOf(content)
  return transaction(pool, async (on) => {
    await requireIncident(on, incident)
    const count = (await row<{ count: number }>(on, 'SELECT COUNT(*) AS count FROM picture WHERE incident_id = ?', [incident]))!.count
    if (count >= PICTURES_MOST) throw new HemeronError('bad-document', undefined, [{ path: 'picture', found: `${count} pictures already`, expected: `at most ${PICTURES_MOST} for an incident` }])
    const key = randomBytes(16).toString('hex')
    await change(on, 'INSERT INTO picture (picture_key, incident_id, media_type, content, person_id, made_at) VALUES (?)', [[key, incident, type, Buffer.from(content), by, now]])
    return key
  })
}

/** A picture by its key. Throws not-found. */
export async function requirePicture(on: Queryable, key: string): Promise<{ type: string; content: Buffer }> {
  const found = await row<{ type: string; content: Buffer }>(on, 'SELECT media_type AS type, content FROM picture WHERE picture_key = ?', [key])
  if (!found) throw new HemeronError('not-found', 'There is no such picture.')
  return found
}
