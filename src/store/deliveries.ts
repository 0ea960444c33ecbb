import type { Pool } from 'mysql2/promise'
import type { Message, News } from '../core/messages/message'
import type { ToldOnce } from '../core/routing/load'
import type { Reachable } from '../core/routing/reach'
import type { Means } from '../core/routing/route'
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
}

export async function listChannels(on: Queryable): Promise<Channel[]> {
  const found = await rows<Channel>(on, `SELECT c.id, c.channel_key AS \`key\`, c.name, c.kind, c.person_id AS person, p.name AS personName, c.config, c.working
    FROM channel c LEFT JOIN person p ON p.id = c.person_id ORDER BY p.name, c.id`)
  return found.map((each) => ({ ...each, config: fromJson(each.config), working: Boolean(each.working) }))
}

export async function addChannel(on: Queryable, channel: Pick<Channel, 'key' | 'name' | 'kind' | 'person' | 'config'>): Promise<number> {
  const { insertId } = await change(on, 'INSERT INTO channel (channel_key, name, kind, person_id, config) VALUES (?, ?, ?, ?, ?)',
    [channel.key, channel.name, channel.kind, channel.person, JSON.stringify(channel.config)])
  await bumpDefinitions(on)
  return insertId
}

export async function removeChannel(on: Queryable, id: number): Promise<void> {
  await change(on, 'DELETE FROM channel WHERE id = ?', [id])
  await bumpDefinitions(on)
}

export async function reachableChannels(on: Queryable): Promise<Reachable[]> {
  const found = await rows<Omit<Reachable, 'person' | 'working'> & { person: string | null; working: number }>(on, `SELECT c.id AS channel, c.channel_key AS \`key\`, c.name, c.kind, p.person_key AS person, c.working
    FROM channel c LEFT JOIN person p ON p.id = c.person_id ORDER BY c.id`)
  return found.map(({ person, working, ...each }) => ({ ...each, working: Boolean(working), ...(person === null ? {} : { person }) }))
}

/** What was, or will be, told of an incident: the step, its channel and person. */
export async function toldChannels(on: Queryable, incident: number): Promise<{ channel: number; person: number | null; stepKey: string }[]> {
  return rows(on, 'SELECT channel_id AS channel, person_id AS person, step_key AS stepKey FROM delivery WHERE incident_id = ?', [incident])
}

/** Writes the messages of some steps down; a step that stands already is not written again. */
export async function queueDeliveries(on: Queryable, steps: Step[], news: News, message: Message, incident: number | null, now: Instant): Promise<void> {
  if (steps.length === 0) return
  await change(on, 'INSERT IGNORE INTO delivery (step_key, incident_id, channel_id, person_id, news, message, created_at, due_at, cause) VALUES ?',
    [steps.map((step) => [step.key, incident, step.channel, step.person ?? null, news, JSON.stringify(message), now, now, step.cause ?? null])])
}

export interface DueDelivery {
  id: number
  stepKey: string
  incident: number | null
  tries: number
  message: Message
  kind: ChannelKind
  config: Record<string, unknown>
  channelName: string
  createdAt: Instant
}

/** Leases deliveries that are due; also those whose engine died while it was sending them. */
export async function takeDeliveries(pool: Pool, now: Instant, lease: number): Promise<DueDelivery[]> {
  return transaction(pool, async (on) => {
    const due = await rows<Omit<DueDelivery, 'message' | 'config'> & { message: unknown; config: unknown }>(on,
      `SELECT d.id, d.step_key AS stepKey, d.incident_id AS incident, d.tries, d.message, c.kind, c.config, c.name AS channelName, d.created_at AS createdAt
       FROM delivery d JOIN channel c ON c.id = d.channel_id
       WHERE (d.state = 'waiting' AND d.due_at <= ?) OR (d.state = 'sending' AND d.lease_until < ?) ORDER BY d.due_at LIMIT 20 FOR UPDATE SKIP LOCKED`, [now, now])
    if (due.length > 0) await change(on, "UPDATE delivery SET state = 'sending', lease_until = ?, tries = tries + 1 WHERE id IN (?)", [now + lease, due.map((each) => each.id)])
    return due.map((each) => ({ ...each, tries: each.tries + 1, message: fromJson<Message>(each.message), config: fromJson<Record<string, unknown>>(each.config) }))
  })
}

/** Notes how a try to send went: sent, to be tried again later, or given up. */
export async function settleDelivery(on: Queryable, id: number, outcome: { sent: boolean; answer: string; againAt?: Instant }, now: Instant): Promise<void> {
  const state = outcome.sent ? 'sent' : outcome.againAt === undefined ? 'failed' : 'waiting'
  await change(on, 'UPDATE delivery SET state = ?, answer = ?, sent_at = ?, due_at = COALESCE(?, due_at) WHERE id = ?',
    [state, outcome.answer.slice(0, 500), outcome.sent ? now : null, outcome.againAt ?? null, id])
}

export interface Delivery {
  id: number
  incident: number | null
  channel: string
  channelKind: ChannelKind
  person: string | null
  news: News
  subject: string
  state: 'waiting' | 'sending' | 'sent' | 'failed' | 'dropped'
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
    WHERE d.created_at >= ? AND d.news IN ('down', 'slow') AND d.state = 'sent'`, [from])
  return found.map(({ person, holder, notReal, ...each }) => ({ ...each, notReal: Boolean(notReal), ...(person === null ? {} : { person }), ...(holder === null ? {} : { holder }) }))
}
