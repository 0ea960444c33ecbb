import { onCall, type Rota } from '../rotas/rota'
import { toLocal, writeLocal } from '../time/zoned'
import type { Instant } from '../units'
import { isWorking, NEWS_WORDS, quietUntil, type NewsKind, type Preferences } from '../people/preferences'
import type { Means } from './means'
import type { RouteStep } from './route'

/** Days on which a person is away, both included, as dates of the workspace's calendar. */
export interface DaysOff {
  from: string
  to: string
}

export interface Reached {
  key: string
  id: number
  name: string
  off: DaysOff[]
  preferences?: Preferences
  /** They only receive what names them: “everyone” does not. */
  isOutside?: boolean
}

/** A team of people who are told together. */
export interface Team {
  key: string
  name: string
  people: string[]
}

export interface Reachable {
  channel: number
  key: string
  name: string
  kind: Means
  /** The key of the person it belongs to; a channel of the whole workspace has none. */
  person?: string
  working: boolean
  /** Its person has not shown yet that it reaches them. */
  unconfirmed?: boolean
}

/** Everyone and everything messages can go to. */
export interface Listening {
  zone: string
  people: Reached[]
  teams: Team[]
  rotas: Rota[]
  channels: Reachable[]
}

/** One message to one channel. */
export interface Receiver {
  channel: number
  means: Means
  /** The name of the person, or of the channel. */
  name: string
  person?: number
  /** Not disturbed before: it comes in one message with everything else from quiet hours. */
  heldUntil?: Instant
  /** It comes in their quiet hours, because it is urgent. */
  passesQuiet?: boolean
}

/** What is told: an urgent route passes quiet hours. */
export interface Telling {
  news: Exclude<NewsKind, 'urgent'>
  urgent: boolean
}

/** Someone who would have been told, and why they are not. */
export interface PassedOver {
  name: string
  why: string
}

export interface Reach {
  receivers: Receiver[]
  passedOver: PassedOver[]
}

/** Whether a person is away at a moment, on the calendar of a zone. */
export const isOff = (person: Pick<Reached, 'off'>, at: Instant, zone: string): boolean => isOffOn(person, dateAt(at, zone))

const dateAt = (at: Instant, zone: string) => writeLocal(toLocal(at, zone)).slice(0, 10)
const isOffOn = ({ off }: Pick<Reached, 'off'>, date: string) => off.some(({ from, to }) => from <= date && date <= to)

/**
 * Whom a step reaches at a moment, with every channel named once. A person who has none of the means the step names is
 * told by what they have: a missing number is no reason for silence. Without means in the step, each person's own wishes
 * decide. What is not urgent waits for the end of a person's quiet hours.
 */
export function reach(listening: Listening, step: Pick<RouteStep, 'tell' | 'by' | 'workingOnly'>, at: Instant, { news, urgent }: Telling): Reach {
  const receivers = new Map<number, Receiver>()
  const passedOver: PassedOver[] = []
  const today = dateAt(at, listening.zone)
  const take = (channel: Reachable, person?: Reached, quiet?: Instant) => receivers.set(channel.channel, {
    channel: channel.channel, means: channel.kind, name: person?.name ?? channel.name, ...(person ? { person: person.id } : {}), ...(quiet === undefined ? {} : urgent ? { passesQuiet: true } : { heldUntil: quiet })
  })
  const tellPerson = (key: string) => {
    const person = listening.people.find((each) => each.key === key)
    if (!person) return
    if (isOffOn(person, today)) return void passedOver.push({ name: person.name, why: 'is away' })
    if (step.workingOnly && !isWorking(person.preferences ?? {}, at, listening.zone)) return void passedOver.push({ name: person.name, why: 'does not work at this hour' })
    const working = listening.channels.filter((each) => each.person === key && each.working)
    const own = working.filter((each) => !each.unconfirmed)
    if (own.length === 0) return void passedOver.push({ name: person.name, why: working.length === 0 ? 'has no working channel' : 'has not confirmed any channel' })
    const by = step.by ?? person.preferences?.by?.[urgent ? 'urgent' : news]
    if (by?.length === 0) return void passedOver.push({ name: person.name, why: `does not want ${urgent ? 'urgent news' : `news of ${NEWS_WORDS[news]}`}` })
    const wanted = own.filter((each) => by === undefined || by.includes(each.kind))
    const quiet = person.preferences && quietUntil(person.preferences, at, listening.zone)
    for (const channel of wanted.length > 0 ? wanted : own) take(channel, person, quiet)
  }
  const tellChannel = (channel: Reachable) => (channel.working ? void take(channel) : void passedOver.push({ name: channel.name, why: 'does not work' }))
  for (const each of step.tell) {
    const [kind, key] = each.split('/')
    if (kind === 'person') tellPerson(key!)
    else if (kind === 'team') listening.teams.find((team) => team.key === key)?.people.forEach(tellPerson)
    else if (kind === 'channel') listening.channels.filter((channel) => channel.key === key).forEach(tellChannel)
    else if (kind === 'everyone') {
      listening.people.filter((person) => !person.isOutside).forEach((person) => tellPerson(person.key))
      listening.channels.filter((channel) => channel.person === undefined).forEach(tellChannel)
    } else {
      const rota = listening.rotas.find((found) => found.key === key)
      const now = rota && onCall(rota, at)
      if (now) tellPerson(now.person)
      else if (rota) passedOver.push({ name: rota.name, why: 'has nobody on call' })
    }
  }
  return { receivers: [...receivers.values()], passedOver: passedOver.filter((each, index) => passedOver.findIndex((other) => other.name === each.name) === index) }
}
