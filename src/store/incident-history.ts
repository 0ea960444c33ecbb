import type { Trouble } from '../core/incidents/incident'
import type { Instant } from '../core/units'
import { change, insertMany, type Queryable } from './database'

/** Writes who held an incident since when, as an import or a made-up past needs it. */
export async function setHolder(on: Queryable, incident: number, holder: number, takenAt: Instant): Promise<void> {
  await change(on, 'UPDATE incident SET holder_id = ?, taken_at = ? WHERE id = ?', [holder, takenAt, incident])
}

/** A message that was sent in the past. */
export interface PastDelivery {
  at: Instant
  /** The step of the route and the channel, unique within the incident. */
  key: string
  channel: number
  person: number | null
  /** How long it took to hand over, in milliseconds. */
  took: number
  cause: string
}

/** Writes down messages that were sent while an incident of the past lasted. */
export async function recordDeliveries(on: Queryable, incident: number, news: Trouble, subject: string, deliveries: PastDelivery[]): Promise<void> {
  await insertMany(on, 'INSERT INTO delivery (step_key, incident_id, channel_id, person_id, news, message, state, created_at, due_at, sent_at, tries, cause)', deliveries.map((each) => [
    `incident/${incident}/${news}/${each.key}`, incident, each.channel, each.person, news, JSON.stringify({ news, subject, lines: [], urgent: news === 'down', thread: `incident-${incident}`, facts: {} }),
    'sent', each.at, each.at, each.at + each.took, 1, each.cause
  ]))
}
