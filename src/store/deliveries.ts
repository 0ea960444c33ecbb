import type { Pool } from 'mysql2/promise'
import type { Carried } from '../core/channels/health'
import type { Message, News } from '../core/messages/message'
import type { ToldOnce } from '../core/routing/load'
import type { Reachable } from '../core/routing/reach'
import { CONFIRMED_MEANS, type Means } from '../core/routing/means'
import type { Instant } from '../core/units'
import { change, fromJson, rows, transaction, type Queryable } from './database'
import { bumpDefinitions } from './locations'


/** One message that has to go out. The key is unique: the same step is never sent twice. */
export interface Step {
  key: string
  channel: number
  person?: number
  /** Why it is sent: the route and step that say so. */
  cause?: string
  /** Its receiver is not to be disturbed before. */
  heldUntil?: Instant
}

export type ChannelKind = Means

export interface Channel {
  id: number
  key: string
  name: string
  kind: ChannelKind
  person: number | null
  personName: string | null
  config: Record<string, unknown>
  working: boolean
  /** Its person has shown that it reaches them, or nobody has to. */
  confirmed: boolean
}

export async function listChannels(on: Queryable): Promise<Channel[]> {
  const found = await rows<Channel>(on, `SELECT c.id, c.channel_key AS \`key\`, c.name, c.kind, c.person_id AS person, p.name AS personName, c.config, c.working, c.confirmed_at IS NOT NULL AS confirmed
    FROM channel c LEFT JOIN person p ON p.id = c.person_id WHERE c.removed_at IS NULL ORDER BY p.name, c.id`)
  return found.map((each) => ({ ...each, config: fromJson(each.config), working: Boolean(each.working), confirmed: Boolean(each.confirmed) }))
}

/** Adds a channel. A person's mail address or number is confirmed by a code first, unless it is known to be theirs. */
export async function addChannel(on: Queryable, channel: Pick<Channel, 'key' | 'name' | 'kind' | 'person' | 'config'>, isKnown = true): Promise<number> {
  const confirmed = isKnown || channel.person === null || !CONFIRMED_MEANS.includes(channel.kind)
  const { insertId } = await change(on, 'INSERT INTO channel (channel_key, name, kind, person_id, config, confirmed_at) VALUES (?, ?, ?, ?, ?, ?)',
    [channel.key, channel.name, channel.kind, channel.person, JSON.stringify(channel.config), confirmed ? 0 : null])
  await bumpDefinitions(on)
  return insertId
}

/** Takes a channel away; messages it carried stay readable, and those that wait for it are dropped. */
export async function removeChannel(on: Queryable, id: number, now: Instant): Promise<void> {
  await change(on, "UPDATE channel SET removed_at = ?, config = '{}', channel_key = CONCAT('gone-', id) WHERE id = ?", [now, id])
  await change(on, "UPDATE delivery SET state = 'dropped', answer = 'the channel was taken away' WHERE channel_id = ? AND state IN ('waiting', 'held')", [id])
  await bumpDefinitions(on)
}

export async function reachableChannels(on: Queryable): Promise<Reachable[]> {
  const found = await rows<Omit<Reachable, 'person' | 'working' | 'unconfirmed'> & { person: string | null; working: number; confirmed: number }>(on, `SELECT c.id AS channel, c.channel_key AS \`key\`, c.name, c.kind, p.person_key AS person, c.working, c.confirmed_at IS NOT NULL AS confirmed
    FROM channel c LEFT JOIN person p ON p.id = c.person_id WHERE c.removed_at IS NULL ORDER BY c.id`)
  return found.map(({ person, working, confirmed, ...each }) => ({ ...each, working: Boolean(working), ...(confirmed ? {} : { unconfirmed: true }), ...(person === null ? {} : { person }) }))
}

/** What was, or will be, told of an incident: the step, its channel and person. */
export async function toldChannels(on: Queryable, incident: number, from: Instant = 0): Promise<{ channel: number; kind: Means; person: number | null; stepKey: string }[]> {
  return rows(on, `SELECT d.channel_id AS channel, c.kind, d.person_id AS person, d.step_key AS stepKey FROM delivery d JOIN channel c ON c.id = d.channel_id
    WHERE d.incident_id = ? AND d.created_at >= ? AND d.state NOT IN ('replaced', 'dropped') AND c.removed_at IS NULL`, [incident, from])
}

/** Brings the first messages of an incident that nobody has begun to send up to date with those that have joined it. */
export async function rewriteWaiting(on: Queryable, incident: number, { subject, lines, facts }: Message): Promise<void> {
  const waiting = await rows<{ id: number; message: unknown }>(on, "SELECT id, message FROM delivery WHERE incident_id = ? AND news IN ('down', 'slow', 'warning') AND state = 'waiting' AND tries = 0 FOR UPDATE", [incident])
  for (const { id, message } of waiting) {
    const before = fromJson<Message>(message)
    if (before.first) await change(on, 'UPDATE delivery SET message = ? WHERE id = ?', [JSON.stringify({ ...before, subject, facts, lines: [...lines, before.lines.at(-1)!] }), id])
  }
}

/** Writes the messages of some steps down; a step that stands already is not written again. */
export async function queueDeliveries(on: Queryable, steps: Step[], news: News, message: Message, incident: number | null, now: Instant): Promise<void> {
  if (steps.length === 0) return
  await change(on, 'INSERT IGNORE INTO delivery (step_key, incident_id, channel_id, person_id, news, message, created_at, due_at, state, cause) VALUES ?',
    [steps.map((step) => [step.key, incident, step.channel, step.person ?? null, news, JSON.stringify(message), now, step.heldUntil ?? now, step.heldUntil === undefined ? 'waiting' : 'held', step.cause?.slice(0, 300) ?? null])])
}

export interface DueDelivery {
  id: number
  stepKey: string
  incident: number | null
  tries: number
  message: Message
  news: News
  kind: ChannelKind
  config: Record<string, unknown>
  channel: number
  channelName: string
  person: number | null
  cause: string | null
  createdAt: Instant
}

/** Leases deliveries that are due; also those whose engine died while it was sending them. */
export async function takeDeliveries(pool: Pool, now: Instant, lease: number): Promise<DueDelivery[]> {
  return transaction(pool, async (on) => {
    const due = await rows<Omit<DueDelivery, 'message' | 'config'> & { message: unknown; config: unknown }>(on,
      `SELECT d.id, d.step_key AS stepKey, d.incident_id AS incident, d.tries, d.message, d.news, d.channel_id AS channel, d.person_id AS person, d.cause, c.kind, c.config, c.name AS channelName, d.created_at AS createdAt
       FROM delivery d JOIN channel c ON c.id = d.channel_id
       WHERE (d.state = 'waiting' AND d.due_at <= ?) OR (d.state = 'sending' AND d.lease_until < ?) ORDER BY d.due_at LIMIT 20 FOR UPDATE SKIP LOCKED`, [now, now])
    if (due.length > 0) await change(on, "UPDATE delivery SET state = 'sending', lease_until = ?, tries = tries + 1 WHERE id IN (?)", [now + lease, due.map((each) => each.id)])
    return due.map((each) => ({ ...each, tries: each.tries + 1, message: fromJson<Message>(each.message), config: fromJson<Record<string, unknown>>(each.config) }))
  })
}

/** Puts a delivery off because its channel has sent enough for now; this was no try. */
export async function putOff(on: Queryable, id: number, until: Instant, why: string): Promise<void> {
  await change(on, "UPDATE delivery SET state = 'waiting', due_at = ?, tries = tries - 1, answer = ? WHERE id = ?", [until, why.slice(0, 500), id])
}

/** Notes how a try to send went: sent, to be tried again later, or given up. */
export async function settleDelivery(on: Queryable, id: number, outcome: { sent: boolean; answer: string; againAt?: Instant }, now: Instant): Promise<void> {
  const state = outcome.sent ? 'sent' : outcome.againAt === undefined ? 'failed' : 'waiting'
  await change(on, 'UPDATE delivery SET state = ?, answer = ?, sent_at = ?, due_at = COALESCE(?, due_at) WHERE id = ?',
    [state, outcome.answer.slice(0, 500), outcome.sent ? now : null, outcome.againAt ?? null, id])
}

/** `held` waits for the end of quiet hours, `gathered` went out in one message with others, `replaced` was told by another channel instead. */
export type DeliveryState = 'waiting' | 'sending' | 'sent' | 'failed' | 'dropped' | 'held' | 'gathered' | 'replaced'

export interface Delivery {
  id: number
  incident: number | null
  channel: string
  channelKind: ChannelKind
  person: string | null
  news: News
  subject: string
  state: DeliveryState
  createdAt: Instant
  dueAt: Instant
  sentAt: Instant | null
  tries: number
  answer: string | null
  /** The route and step that caused it. */
  cause: string | null
}

/** Deliveries, newest first. */
export async function listDeliveries(on: Queryable, filter: { incident?: number; limit: number }): Promise<Delivery[]> {
  return rows<Delivery>(on, `SELECT d.id, d.incident_id AS incident, c.name AS channel, c.kind AS channelKind, p.name AS person, d.news, JSON_VALUE(d.message, '$.subject') AS subject,
    d.state, d.created_at AS createdAt, d.due_at AS dueAt, d.sent_at AS sentAt, d.tries, d.answer, d.cause
    FROM delivery d JOIN channel c ON c.id = d.channel_id LEFT JOIN person p ON p.id = d.person_id
    ${filter.incident === undefined ? '' : 'WHERE d.incident_id = ?'} ORDER BY d.id DESC LIMIT ?`, [...(filter.incident === undefined ? [] : [filter.incident]), filter.limit])
}

/** Drops messages older than their retention. */
export async function dropOldDeliveries(on: Queryable, before: Instant): Promise<void> {
  await change(on, 'DELETE FROM delivery WHERE created_at < ? LIMIT 20000', [before])
}

/** Every message that told of trouble since a moment, with what came of its incident. */
export async function listTold(on: Queryable, from: Instant): Promise<ToldOnce[]> {
  const found = await rows<{ name: string; person: number | null; incident: number; at: Instant; holder: number | null; notReal: number }>(on, `SELECT COALESCE(p.name, c.name) AS name, d.person_id AS person, d.incident_id AS incident,
    d.created_at AS at, i.holder_id AS holder, i.not_real AS notReal FROM delivery d JOIN incident i ON i.id = d.incident_id JOIN channel c ON c.id = d.channel_id LEFT JOIN person p ON p.id = d.person_id
    WHERE d.created_at >= ? AND d.news IN ('down', 'slow', 'warning', 'burn') AND d.state = 'sent' AND i.practice_until IS NULL`, [from])
  return found.map(({ person, holder, notReal, ...each }) => ({ ...each, notReal: Boolean(notReal), ...(person === null ? {} : { person }), ...(holder === null ? {} : { holder }) }))
}

/** How messages of a stretch went, in the order of time. */
export async function listCarried(on: Queryable, from: Instant): Promise<Carried[]> {
  return (await rows<{ channel: number; took: number | null; tries: number }>(on, `SELECT channel_id AS channel, IF(state = 'sent', sent_at - created_at, NULL) AS took, tries FROM delivery
    WHERE created_at >= ? AND state IN ('sent', 'failed', 'replaced') AND tries > 0 ORDER BY id`, [from])).map(({ took, ...each }) => ({ ...each, ...(took === null ? {} : { took: Number(took) }) }))
}

/** Changes a channel's name and how it behaves. */
export async function changeChannel(on: Queryable, id: number, name: string, config: Record<string, unknown>, isConfirmed: boolean): Promise<void> {
  await change(on, `UPDATE channel SET name = ?, config = ?${isConfirmed ? '' : ', confirmed_at = NULL'} WHERE id = ?`, [name, JSON.stringify(config), id])
  await bumpDefinitions(on)
}

/** Sends a message again that was sent, given up or dropped before. Gives false when it is on its way. */
export async function sendAgain(on: Queryable, id: number, key: string, cause: string, now: Instant): Promise<boolean> {
  return (await change(on, `INSERT INTO delivery (step_key, incident_id, channel_id, person_id, news, message, created_at, due_at, cause)
    SELECT ?, incident_id, channel_id, person_id, news, message, ?, ?, ? FROM delivery WHERE id = ? AND state NOT IN ('waiting', 'sending')`, [key, now, now, cause.slice(0, 300), id])).affectedRows === 1
}
