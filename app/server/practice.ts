import { parseDuration } from '@/core/definitions/duration'
import { locationsOf } from '@/core/places/places'
import { HemeronError } from '@/core/problems'
import { HOUR, MINUTE } from '@/core/units'
import type { StoredCheck } from '@/store/checks'
import { database, transaction } from '@/store/database'
import { openPractice, requireIncident, type Incident } from '@/store/incidents'
import { note } from '@/store/live'
import { listLocations } from '@/store/locations'
import { audit, type Person } from '@/store/people'

/** Begins a practice outage of a check at all its locations. Throws bad-document or wrong-state. */
export async function beginPractice(stored: StoredCheck, { state, lasts }: { state: unknown; lasts: unknown }, by: Person, now: number): Promise<Incident> {
  const length = parseDuration(String(lasts))
  if (state !== 'down' && state !== 'slow') throw new HemeronError('bad-document', undefined, [{ path: 'state', found: `"${String(state).slice(0, 50)}"`, expected: 'down or slow' }])
  if (length === undefined || length < MINUTE || length > 4 * HOUR) throw new HemeronError('bad-document', undefined, [{ path: 'for', found: `"${String(lasts).slice(0, 50)}"`, expected: 'a duration from 1m to 4h' }])
  if (stored.mutedAt !== null) throw new HemeronError('wrong-state', 'The check is muted: nobody would be told.')
  const locations = locationsOf(stored.check.from, await listLocations(database())).length
  const id = await transaction(database(), async (on) => {
    const opened = await openPractice(on, { check: stored.id, trouble: state, by: by.id, byName: by.name, until: now + length, sentence: `made up by ${by.name} for practice`, locations: Math.max(1, locations) }, now)
    await audit(on, by.id, 'practice outage', stored.check.key, undefined, { state, lasts }, now)
    await note(on, [{ topic: 'incident', subject: opened }], now)
    return opened
  })
  return requireIncident(database(), id)
}
