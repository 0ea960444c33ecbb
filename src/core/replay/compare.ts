import { median } from '../usual/usual'
import { minuteOfDay } from '../time/zoned'
import type { Instant, Milliseconds } from '../units'
import type { Power } from './power'
import type { Replayed, ReplayedIncident } from './replay'

/** A person and by how many channels each piece of news reaches them. */
export interface Told {
  name: string
  channels: number
}

export interface RuleOutcome {
  incidents: number
  down: number
  slow: number
  /** The middle of the times from the first failed try to the call. */
  detection?: Milliseconds
  /** Messages over all channels, of beginnings and ends, and how many of them at night. */
  messages: number
  atNight: number
  people: { name: string; messages: number; atNight: number }[]
}

/** A rule as it would be beside the rule as it is, over the recorded past. */
export interface RuleReplay {
  days: number
  tries: number
  wished: RuleOutcome & { power: Power }
  present: RuleOutcome & { power: Power }
  /** Incidents of the present rule that the wished one would not have opened, and the other way round. */
  missed: ReplayedIncident[]
  added: ReplayedIncident[]
  /** Share of tries that failed by chance. */
  chance: number
  took: number
}

/** Night is from 22:00 to 07:00 on the clock of the workspace. */
const isNight = (at: Instant, zone: string) => {
  const minute = minuteOfDay(at, zone)
  return minute >= 22 * 60 || minute < 7 * 60
}

/** What a rule did over the past, told to the people who would have heard of it. */
export function outcomeOf({ incidents }: Pick<Replayed, 'incidents'>, people: Told[], zone: string): RuleOutcome {
  const news = incidents.flatMap((incident) => [incident.called, ...(incident.to === undefined ? [] : [incident.to])])
  const night = news.filter((at) => isNight(at, zone)).length
  const byPerson = people.map(({ name, channels }) => ({ name, messages: news.length * channels, atNight: night * channels }))
  return {
    incidents: incidents.length, down: incidents.filter((each) => each.trouble === 'down').length, slow: incidents.filter((each) => each.trouble === 'slow').length,
    ...(incidents.length > 0 ? { detection: median(incidents.map((each) => each.called - each.from)) } : {}),
    messages: byPerson.reduce((sum, each) => sum + each.messages, 0), atNight: byPerson.reduce((sum, each) => sum + each.atNight, 0), people: byPerson
  }
}

/** The incidents of one rule at a time at which the other had none: what it would miss, or find in addition. */
export function onlyIn(own: ReplayedIncident[], other: ReplayedIncident[]): ReplayedIncident[] {
  return own.filter((incident) => !other.some((each) => each.from <= (incident.to ?? Infinity) && (each.to ?? Infinity) >= incident.from))
}
