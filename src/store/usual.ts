import type { Usual } from '../core/usual/usual'
import type { Instant } from '../core/units'
import { change, fromJson, rows, type Queryable } from './database'

/** What is usual for one check, by location. */
export type UsualByLocation = Map<number, (Usual | null)[]>

export async function storeUsual(on: Queryable, check: number, location: number, phase: string, usual: (Usual | null)[], now: Instant): Promise<void> {
  await change(on, 'INSERT INTO usual (check_id, location_id, phase, at, content) VALUES (?, ?, ?, ?, ?) ON DUPLICATE KEY UPDATE at = VALUES(at), content = VALUES(content)', [check, location, phase, now, JSON.stringify(usual)])
}

/** What is usual for a check in one phase at each location, and when that was worked out. */
export async function readUsual(on: Queryable, check: number, phase: string): Promise<{ at: Instant; byLocation: UsualByLocation }> {
  const found = await rows<{ location: number; at: number; content: unknown }>(on, 'SELECT location_id AS location, at, content FROM usual WHERE check_id = ? AND phase = ?', [check, phase])
  return { at: Math.max(0, ...found.map((each) => each.at)), byLocation: new Map(found.map((each) => [each.location, fromJson<(Usual | null)[]>(each.content)])) }
}
