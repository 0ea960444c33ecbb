import type { Availability } from '../core/availability/availability'
import type { LevelShift } from '../core/patterns/level-shift'
import type { Usual } from '../core/usual/usual'
import type { Instant } from '../core/units'
import { change, fromJson, rows, type Queryable } from './database'

/** What an engine computes about every minute so that lists open at once. */
export interface Summary {
  /** Over the objective's stretch, 30 days when there is none. */
  available: Availability
  /** Share of the error budget left; undefined without an objective. */
  budget?: number
  /** The 95th percentile of today's totals, in milliseconds, and what is usual for these hours. */
  p95?: number
  usual?: number
  /** For a check: trouble that comes back at the same time of day, in words. */
  pattern?: string
  /** For a check: a change of level of its times within five weeks. */
  shift?: LevelShift
  /** For a check: what is usual at every hour of the week, null where that cannot be said yet. */
  usualByHour?: (Usual | null)[]
}

type Kind = 'check' | 'service'

export async function storeSummary(on: Queryable, kind: Kind, id: number, summary: Summary, now: Instant): Promise<void> {
  await change(on, `INSERT INTO ${kind}_summary (${kind}_id, at, content) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE at = VALUES(at), content = VALUES(content)`,
    [id, now, JSON.stringify(summary)])
}

export async function listSummaries(on: Queryable, kind: Kind): Promise<Map<number, Summary>> {
  const columns = kind === 'check' ? "JSON_REMOVE(content, '$.usualByHour')" : 'content'
  const found = await rows<{ id: number; content: unknown }>(on, `SELECT ${kind}_id AS id, ${columns} AS content FROM ${kind}_summary`)
  return new Map(found.map((each) => [each.id, fromJson<Summary>(each.content)]))
}

export async function checkSummary(on: Queryable, id: number): Promise<Summary | undefined> {
  const found = await rows<{ content: unknown }>(on, 'SELECT content FROM check_summary WHERE check_id = ?', [id])
  return found[0] && fromJson<Summary>(found[0].content)
}
