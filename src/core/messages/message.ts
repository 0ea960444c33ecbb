import { speakExactly } from '../time/zoned'
import { incidentLength, incidentTitle, speakPlaces, type IncidentFacts } from '../incidents/incident'
import type { Instant } from '../units'

export type News = 'down' | 'slow' | 'over' | 'test'

/** One message as every channel gets it; a channel only decides how it is laid out. */
export interface Message {
  news: News
  subject: string
  /** One sentence a line. */
  lines: string[]
  link?: string
  urgent: boolean
  /** Ties the messages of one incident together (mail threads, push topics). */
  thread: string
  facts: Record<string, string | number>
}

export interface MessageFacts extends IncidentFacts {
  incident: number
  service?: string
  target: string
  /** Names of the failing locations. */
  places: string[]
  /** What was measured, such as `status` and `total`. */
  measured: Record<string, string | number>
}

/**
 * The message for a piece of news about an incident: what, why, measured facts, where, since when, and, when it is
 * over, how long.
 * @param address where people open Hemeron, without a slash at the end; without it there is no link
 */
export function incidentMessage(news: 'down' | 'slow' | 'over', facts: MessageFacts, zone: string, now: Instant, address?: string): Message {
  const title = incidentTitle(facts)
  const over = news === 'over'
  const where = facts.places.length > 0 ? `: ${facts.places.slice(0, 6).join(', ')}${facts.places.length > 6 ? ` and ${facts.places.length - 6} more` : ''}` : ''
  const measured = Object.entries(facts.measured).map(([name, value]) => `${name} ${value}`).join(', ')
  const lines = [
    over ? `${facts.checkName} is up again.` : `${title}${facts.service ? `, in ${facts.service}` : ''}.`,
    `Why: ${facts.sentence}`,
    ...(measured === '' ? [] : [`Measured: ${measured}.`]),
    `Where: ${speakPlaces(facts.failing, facts.locations)}${where}.`,
    over
      ? `It lasted ${incidentLength(facts, now)}, from ${speakExactly(facts.since, zone)} to ${speakExactly(facts.endedAt ?? now, zone)}.`
      : `Since ${speakExactly(facts.since, zone)}${facts.lastPass === undefined ? '' : `; it last passed at ${speakExactly(facts.lastPass, zone)}`}.`,
    `Target: ${facts.target}`
  ]
  return {
    news,
    subject: over ? `Up again: ${facts.checkName}` : title,
    lines,
    ...(address ? { link: `${address}/incidents/${facts.incident}` } : {}),
    urgent: news === 'down',
    thread: `incident-${facts.incident}`,
    facts: {
      incident: facts.incident, check: facts.checkName, trouble: facts.trouble, reason: facts.sentence, failing: facts.failing,
      locations: facts.locations, since: new Date(facts.since).toISOString(),
      ...(facts.lastPass === undefined ? {} : { lastPass: new Date(facts.lastPass).toISOString() }),
      ...(facts.endedAt === undefined ? {} : { ended: new Date(facts.endedAt).toISOString() }), ...facts.measured
    }
  }
}

/** The message a channel's test sends. */
export function testMessage(channel: string, person: string, zone: string, now: Instant, address?: string): Message {
  return {
    news: 'test',
    subject: `Test of ${channel}`,
    lines: [`${person} tested this channel at ${speakExactly(now, zone)}.`, 'If you read this, messages from Hemeron arrive here.'],
    ...(address ? { link: address } : {}),
    urgent: false,
    thread: 'test',
    facts: { channel, person }
  }
}
