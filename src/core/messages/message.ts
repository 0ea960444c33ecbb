import { speakExactly } from '../time/zoned'
import { incidentLength, incidentTitle, speakPlaces, type IncidentFacts, type Trouble } from '../incidents/incident'
import type { Instant } from '../units'

export type News = Trouble | 'over' | 'test' | 'code' | 'digest' | 'welcome'

/** One message as every channel gets it; a channel only decides how it is laid out. */
export interface Message {
  news: News
  subject: string
  /** One sentence a line. */
  lines: string[]
  link?: string
  /** Where its receiver can take the incident, without signing in if they allow it. */
  take?: string
  urgent: boolean
  /** It is the first that is told of an incident; the last line says by which route. */
  first?: boolean
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
  /** Others that fail with it, and what they have in common. */
  with?: { names: string[]; more: number; why: string | null }
  /** It is made up, to see whether messages arrive. */
  practice?: boolean
}

/**
 * The message for a piece of news about an incident: what, why, measured facts, where, since when, and, when it is
 * over, how long.
 * @param address where people open Hemeron, without a slash at the end; without it there is no link
 */
export function incidentMessage(news: Trouble | 'over', facts: MessageFacts, zone: string, now: Instant, address?: string): Message {
  const also = facts.with && facts.with.names.length > 0 ? facts.with : undefined
  const title = incidentTitle({ ...facts, more: also ? also.names.length + also.more : 0 })
  const over = news === 'over'
  const where = facts.places.length > 0 ? `: ${facts.places.slice(0, 6).join(', ')}${facts.places.length > 6 ? ` and ${facts.places.length - 6} more` : ''}` : ''
  const measured = Object.entries(facts.measured).map(([name, value]) => `${name} ${value}`).join(', ')
  const lines = [
    ...(facts.practice ? ['This is a practice outage: nothing is really down.'] : []),
    over ? `${facts.checkName} ${overWords(facts.trouble)}.` : `${title}${facts.service ? `, in ${facts.service}` : ''}.`,
    `Why: ${facts.sentence}`,
    ...(also ? [`With it: ${also.names.join(', ')}${also.more > 0 ? ` and ${also.more} more` : ''}${also.why === null ? '' : `; ${also.why}`}.`] : []),
    ...(measured === '' ? [] : [`Measured: ${measured}.`]),
    ...(facts.trouble === 'burn' ? [] : [`Where: ${speakPlaces(facts.failing, facts.locations)}${where}.`]),
    over
      ? `It lasted ${incidentLength(facts, now)}, from ${speakExactly(facts.since, zone)} to ${speakExactly(facts.endedAt ?? now, zone)}.`
      : `Since ${speakExactly(facts.since, zone)}${facts.lastPass === undefined ? '' : `; it last passed at ${speakExactly(facts.lastPass, zone)}`}.`,
    `Target: ${facts.target}`
  ]
  return {
    news,
    subject: `${facts.practice ? 'Practice: ' : ''}${over ? overTitle(facts) : title}`,
    lines,
    ...(address ? { link: `${address}/incidents/${facts.incident}` } : {}),
    urgent: news === 'down',
    thread: `incident-${facts.incident}`,
    facts: {
      incident: facts.incident, check: facts.checkName, trouble: facts.trouble, reason: facts.sentence, failing: facts.failing,
      locations: facts.locations, since: new Date(facts.since).toISOString(),
      ...(facts.lastPass === undefined ? {} : { lastPass: new Date(facts.lastPass).toISOString() }),
      ...(facts.endedAt === undefined ? {} : { ended: new Date(facts.endedAt).toISOString() }), ...(also ? { with: [...also.names, ...(also.more > 0 ? [`${also.more} more`] : [])].join(', ') } : {}),
      ...(facts.practice ? { practice: 'yes' } : {}), ...(facts.service ? { service: facts.service } : {}), target: facts.target, ...facts.measured
    }
  }
}

const OVER_WORDS: Record<Trouble, string> = { down: 'is up again', slow: 'is up again', warning: 'is back within its softer limits', burn: 'keeps within its error budget again' }
export const overWords = (trouble: Trouble): string => OVER_WORDS[trouble]
const overTitle = ({ trouble, checkName }: MessageFacts) => (trouble === 'down' || trouble === 'slow' ? `Up again: ${checkName}` : `${checkName} ${OVER_WORDS[trouble]}`)

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

/** The message that carries the code by which a person confirms an address or number. */
export function codeMessage(code: string, workspace: string, link?: string): Message {
  return {
    news: 'code', subject: `Confirm this for ${workspace}`, urgent: false, thread: 'code', facts: {},
    lines: ['Someone wants messages about outages to come here.', `Your code is ${code.split('').join(' ')}.`, 'It counts for a quarter of an hour. If it was not you, do nothing.'],
    ...(link ? { link } : {})
  }
}

/** The message that invites a person. */
export function welcomeMessage(by: string, workspace: string, link: string): Message {
  return {
    news: 'welcome', subject: `${by} invites you to ${workspace}`, urgent: false, thread: 'welcome', facts: {}, link,
    lines: [`${by} has added you to ${workspace}, where outages are seen and told.`, 'The link below lets you choose a password. It counts for three days, once.']
  }
}
