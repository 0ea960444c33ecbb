import { outageLength } from '../availability/availability'
import { speakLength } from '../definitions/duration'
import { speakClock } from '../time/zoned'
import type { Instant } from '../units'
import { withMore } from './together'

/** What an incident is about, the worst first. A warning (a softer limit passed) and a fast burn of an error budget are no outages: only routes that name them tell of them. */
export const TROUBLES = ['down', 'slow', 'warning', 'burn'] as const
export type Trouble = (typeof TROUBLES)[number]

export const isOutage = (trouble: Trouble): boolean => trouble === 'down' || trouble === 'slow'
export const isWorse = (one: Trouble, other: Trouble): boolean => TROUBLES.indexOf(one) < TROUBLES.indexOf(other)

/** What follows “is”, “are” and “was”. */
export const TROUBLE_WORDS: Record<Trouble, string> = { down: 'down', slow: 'slow', warning: 'in warning', burn: 'burning its error budget' }

/** Whether an incident can be explained by how its tries went: a warning and a budget that burns are not about times or failures. */
export const hasWhy = (trouble: Trouble): boolean => trouble === 'down' || trouble === 'slow'

/** What a check does that is in trouble, while it lasts and afterwards. */
export const DOING: Record<Trouble, [string, string]> = { down: ['fails', 'failed'], slow: ['is slow', 'was slow'], warning: ['warns', 'warned'], burn: ['burns its error budget', 'burnt its error budget'] }

/** The mark that stands for a trouble. */
export const troubleMark = (trouble: Trouble): 'down' | 'slow' | 'warning' => (trouble === 'burn' ? 'warning' : trouble)

/** What an incident says of itself; the facts behind every sentence on screens and in messages. */
export interface IncidentFacts {
  checkName: string
  trouble: Trouble
  sentence: string
  /** First failure, and the last pass before it when there was one. */
  since: Instant
  lastPass?: Instant
  /** When it was over: the first pass that ended it. */
  endedAt?: Instant
  lastFail?: Instant
  failing: number
  locations: number
}

/** “Sailings API is down”, “Sailings API and 4 more are down”, or “was” and “were” once it is over. */
export function incidentTitle({ checkName, trouble, endedAt, more = 0 }: Pick<IncidentFacts, 'checkName' | 'trouble' | 'endedAt'> & { more?: number }): string {
  const verb = more > 0 ? (endedAt === undefined ? 'are' : 'were') : endedAt === undefined ? 'is' : 'was'
  return `${withMore(checkName, more)} ${verb} ${TROUBLE_WORDS[trouble]}`
}

/** “between 8 min 08 s and 9 min 08 s”, or one length when the two ends agree or no pass was seen before. */
export function speakRange(least: number, most: number): string {
  return Math.round(least / 1000) === Math.round(most / 1000) ? speakLength(least) : `between ${speakLength(least)} and ${speakLength(most)}`
}

/** “it began between 02:13:05 and 02:14:05”, or, where no pass was seen before, “it was first seen at 02:14:05”. */
export const speakBegin = ({ since, lastPass }: { since: Instant; lastPass: Instant | null }, zone: string): string =>
  (lastPass === null ? `it was first seen at ${speakClock(since, zone)}` : `it began between ${speakClock(lastPass, zone)} and ${speakClock(since, zone)}`)

/** How long the incident has lasted or did last, as a range in words. */
export function incidentLength(facts: Pick<IncidentFacts, 'since' | 'lastPass' | 'endedAt' | 'lastFail'>, now: Instant): string {
  const onset = { lastPass: facts.lastPass, firstFail: facts.since }
  if (facts.endedAt === undefined) {
    const { least, most } = outageLength(onset, { firstPass: now })
    return `${speakRange(least, most)} so far`
  }
  const { least, most } = outageLength(onset, { lastFail: facts.lastFail, firstPass: facts.endedAt })
  return speakRange(least, most)
}

/** “at 5 of 12 locations”, “at all 12 locations”, “at its only location”. */
export function speakPlaces(failing: number, locations: number): string {
  if (locations === 1) return 'at its only location'
  if (failing >= locations) return `at all ${locations} locations`
  return `at ${failing} of ${locations} locations`
}

export type IncidentAct = 'take' | 'hand-over' | 'note' | 'not-real' | 'close' | 'hold-off' | 'escalate' | 'call-in' | 'join' | 'take-out' | 'follow-up' | 'follow-up-done' | 'follow-up-open'

/** Why an act does not fit an incident as it is, as a sentence; undefined when it does. */
export function actProblem(act: IncidentAct, incident: { closedAt?: Instant | null; holder?: number | null }, person: number): string | undefined {
  const closed = incident.closedAt != null
  if (act === 'note' || act.startsWith('follow-up')) return undefined
  if (closed) return act === 'not-real' ? undefined : 'The incident is closed already.'
  if (act === 'take' && incident.holder === person) return 'You hold it already.'
  return undefined
}
