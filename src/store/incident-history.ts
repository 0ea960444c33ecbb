import type { Instant } from '../core/units'
import { change, type Queryable } from './database'

/** Writes who held an incident since when, as an import or a made-up past needs it. */
export async function setHolder(on: Queryable, incident: number, holder: number, takenAt: Instant): Promise<void> {
  await change(on, 'UPDATE incident SET holder_id = ?, taken_at = ? WHERE id = ?', [holder, takenAt, incident])
}
