import type { Pool } from 'mysql2/promise'
import { TROUBLES } from '../core/incidents/incident'
import { digestMessage } from '../core/messages/digest'
import type { Message, News } from '../core/messages/message'
import { standIn, triesBeforeStandIn } from '../core/routing/back-off'
import type { Means } from '../core/routing/means'
import { insteadKey, momentOfKey } from '../core/routing/step-key'
import { MINUTE, type Instant } from '../core/units'
import { change, fromJson, row, rows, transaction, type Queryable } from './database'
import { queueDeliveries, type DueDelivery } from './deliveries'

/** At most so many messages in a stretch of minutes. */
export interface Limit {
  most: number
  minutes: number
}

/** When a channel that has reached its limit may send again; undefined when it may now. */
export async function limitReached(on: Queryable, channel: number, { most, minutes }: Limit, now: Instant): Promise<Instant | undefined> {
  const sent = await rows<{ at: Instant }>(on, "SELECT sent_at AS at FROM delivery WHERE channel_id = ? AND state = 'sent' AND sent_at > ? ORDER BY sent_at DESC LIMIT ?", [channel, now - minutes * MINUTE, most])
  return sent.length < most ? undefined : sent.at(-1)!.at + minutes * MINUTE + 1
}

export interface StandIn {
  id: number
  name: string
  kind: Means
}

const STOOD_IN_FOR: readonly News[] = [...TROUBLES, 'over', 'digest']

/**
 * The channel that stands in for one through which a message does not come: the one it names, or another one of the same
 * person by which this step was not told yet. None when the person hears of it by another means of the step anyway.
 */
export async function standInFor(on: Queryable, failed: Pick<DueDelivery, 'id' | 'stepKey' | 'news' | 'channel' | 'person' | 'kind' | 'config'>): Promise<StandIn | undefined> {
  if (!STOOD_IN_FOR.includes(failed.news)) return undefined
  const told = await rows<{ channel: number; person: number | null; isHopeful: number }>(on, `SELECT channel_id AS channel, person_id AS person, id <> ? AND (state = 'sent' OR (state IN ('waiting', 'sending') AND tries < ?)) AS isHopeful
    FROM delivery WHERE step_key LIKE CONCAT(?, '/%')`, [failed.id, triesBeforeStandIn(true), momentOfKey(failed.stepKey)])
  if (failed.person !== null && told.some((each) => each.person === failed.person && each.isHopeful)) return undefined
  const open = (await rows<StandIn & { key: string; person: number | null }>(on, 'SELECT id, name, kind, channel_key AS `key`, person_id AS person FROM channel WHERE removed_at IS NULL AND working = 1 AND confirmed_at IS NOT NULL'))
    .filter((each) => !told.some((other) => other.channel === each.id))
  return open.find((each) => each.key === failed.config.fallback) ?? (failed.person === null ? undefined : standIn(failed.kind, open.filter((each) => each.person === failed.person)))
}

/** Hands a message over to the channel that stands in. Gives false when it was sent or handed over already. */
export async function replaceBy(pool: Pool, failed: Pick<DueDelivery, 'id' | 'stepKey' | 'message' | 'news' | 'incident' | 'person' | 'cause' | 'channelName'>, other: StandIn, why: string, now: Instant): Promise<boolean> {
  return transaction(pool, async (on) => {
    const { affectedRows } = await change(on, "UPDATE delivery SET state = 'replaced', answer = ? WHERE id = ? AND state IN ('waiting', 'sending', 'failed', 'sent')", [`${why.slice(0, 350)}; ${other.name} stands in`, failed.id])
    if (affectedRows === 0) return false
    await queueDeliveries(on, [{ key: insteadKey(failed.stepKey, other.id), channel: other.id, ...(failed.person === null ? {} : { person: failed.person }), cause: `${failed.cause ?? ''}, instead of ${failed.channelName}` }], failed.news, failed.message, failed.incident, now)
    return true
  })
}

/** Sends on what waited for the end of quiet hours: one message for each channel. */
export async function gatherHeld(pool: Pool, zone: string, address: string | undefined, now: Instant): Promise<void> {
  for (const { channel } of await rows<{ channel: number }>(pool, "SELECT DISTINCT channel_id AS channel FROM delivery WHERE state = 'held' AND due_at <= ?", [now])) {
    await transaction(pool, async (on) => {
      const held = (await rows<{ id: number; at: Instant; person: number | null; message: unknown }>(on, "SELECT id, created_at AS at, person_id AS person, message FROM delivery WHERE state = 'held' AND due_at <= ? AND channel_id = ? ORDER BY id FOR UPDATE", [now, channel]))
        .map((each) => ({ ...each, message: fromJson<Message>(each.message) }))
      const ids = held.map((each) => each.id)
      if (ids.length === 0) return
      if (ids.length === 1) return void (await change(on, "UPDATE delivery SET state = 'waiting' WHERE id = ?", [ids[0]!]))
      const person = held[0]!.person
      await queueDeliveries(on, [{ key: `digest/${channel}/${ids.at(-1)!}/${channel}`, channel, ...(person === null ? {} : { person }), cause: 'The end of quiet hours' }], 'digest', digestMessage(held, zone, address), null, now)
      await change(on, "UPDATE delivery SET state = 'gathered', answer = 'in one message with others from quiet hours' WHERE id IN (?)", [ids])
    })
  }
}

/** The delivery a link or call belongs to, with whether its link was used and what its person allows. */
export interface LinkedDelivery {
  id: number
  incident: number | null
  person: number | null
  usedAt: Instant | null
  takeByLink: boolean
}

export async function linkedDelivery(on: Queryable, id: number): Promise<LinkedDelivery | undefined> {
  const found = await row<Omit<LinkedDelivery, 'takeByLink'> & { preferences: unknown }>(on, 'SELECT d.id, d.incident_id AS incident, d.person_id AS person, d.link_used_at AS usedAt, p.preferences FROM delivery d LEFT JOIN person p ON p.id = d.person_id WHERE d.id = ?', [id])
  if (!found) return undefined
  const { preferences, ...rest } = found
  return { ...rest, takeByLink: fromJson<{ takeByLink?: boolean } | null>(preferences)?.takeByLink !== false }
}

/** Uses up the link of a delivery. Gives false when it was used before. */
export async function spendLink(on: Queryable, id: number, now: Instant): Promise<boolean> {
  return (await change(on, 'UPDATE delivery SET link_used_at = ? WHERE id = ? AND link_used_at IS NULL', [now, id])).affectedRows === 1
}

/** One delivery as it was sent, to be handed over or sent again. */
export async function readDelivery(on: Queryable, id: number): Promise<(DueDelivery & { state: string }) | undefined> {
  const found = await row<Omit<DueDelivery, 'message' | 'config'> & { message: unknown; config: unknown; state: string }>(on, `SELECT d.id, d.step_key AS stepKey, d.incident_id AS incident, d.tries, d.message, d.news, d.channel_id AS channel, d.person_id AS person, d.cause, d.state, c.kind, c.config,
    c.name AS channelName, d.created_at AS createdAt FROM delivery d JOIN channel c ON c.id = d.channel_id WHERE d.id = ?`, [id])
  return found && { ...found, message: fromJson(found.message), config: fromJson(found.config) }
}
