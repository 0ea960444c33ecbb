import type { Instant } from '../core/units'
import { change, insertMany, row, rows, type Queryable } from './database'

export type LiveTopic = 'check' | 'state' | 'incident' | 'delivery' | 'definitions'

export interface LiveEvent {
  id: number
  topic: LiveTopic
  subject: number
}

/** Tells open pages that something changed. Part of the caller's transaction, so that nobody hears of what was undone. */
export async function note(on: Queryable, events: { topic: LiveTopic; subject: number }[], now: Instant): Promise<void> {
  await insertMany(on, 'INSERT INTO live_event (at, topic, subject)', events.map((each) => [now, each.topic, each.subject]))
}

/** Events after a number. Numbers are given before transactions commit, so a reader keeps asking a little further back. */
export async function eventsAfter(on: Queryable, after: number): Promise<LiveEvent[]> {
  return rows<LiveEvent>(on, 'SELECT id, topic, subject FROM live_event WHERE id > ? ORDER BY id LIMIT 5000', [after])
}

export async function newestEvent(on: Queryable): Promise<number> {
  return Number((await row<{ id: number | null }>(on, 'SELECT MAX(id) AS id FROM live_event'))?.id ?? 0)
}

export async function dropOldEvents(on: Queryable, before: Instant): Promise<void> {
  await change(on, 'DELETE FROM live_event WHERE at < ? LIMIT 20000', [before])
}
