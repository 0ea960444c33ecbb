import { shifts } from '../rotas/rota'
import { DAY, HOUR, type Instant } from '../units'
import { MEANS_WORDS } from './means'
import { reachedBy } from './reached-by'
import { unreachedHours } from './unreached'
import type { Subject } from './fits'
import { decides, fits, STATES_TOLD } from './fits'
import type { Listening } from './reach'
import { isOff, reach } from './reach'
import type { Route } from './route'

/** Something in the routing through which a message could fall. */
export interface Gap {
  kind: 'no-route' | 'never-asked' | 'nobody-on-call' | 'away-on-call' | 'same-person' | 'no-channel' | 'not-confirmed' | 'dead-channel' | 'quiet-hours'
  /** A route, rota or person, by its key. */
  subject: string
  sentence: string
}

/** How far ahead rotas are looked at. */
export const AHEAD = 14 * DAY

/**
 * Finds what is missing before the night comes.
 * @param subjects every check, as it would be asked about if it went down everywhere now
 * @param speak how a moment is said
 * @param lost how many of the last messages in a row each channel has lost
 */
export function findGaps(routes: readonly Route[], listening: Listening, subjects: (Subject & { name: string })[], now: Instant, speak: (at: Instant) => string, lost: ReadonlyMap<number, number> = new Map()): Gap[] {
  const ordered = [...routes].sort((a, b) => a.place - b.place)
  return [...uncovered(ordered, listening, subjects), ...shadowed(ordered), ...rotaGaps(ordered, listening, now, speak), ...deadChannels(ordered, listening, lost), ...notConfirmed(ordered, listening), ...samePerson(ordered, listening, now), ...withoutChannel(listening), ...quietHours(ordered, listening, subjects, now, speak)]
}

function uncovered(routes: Route[], { zone }: Listening, subjects: (Subject & { name: string })[]): Gap[] {
  const missed = subjects.filter((subject) => !routes.some((route) => decides(route) && fits({ ...route.when, hours: undefined }, subject, zone)))
  if (missed.length === 0 || routes.length === 0) return []
  const names = missed.slice(0, 3).map((each) => each.name).join(', ')
  return [{ kind: 'no-route', subject: missed[0]!.check, sentence: `No route catches ${names}${missed.length > 3 ? ` and ${missed.length - 3} more` : ''}: everyone would be told.` }]
}

/** A route below one that takes everything it could take is never asked. */
function shadowed(routes: Route[]): Gap[] {
  return routes.flatMap((route, index) => {
    const before = routes.slice(0, index).find((other) => decides(other) && covers(other, route))
    return before ? [{ kind: 'never-asked' as const, subject: route.key, sentence: `Route ${index + 1} is never asked: route ${routes.indexOf(before) + 1} takes everything it could take.` }] : []
  })
}

/** Whether everything that fits `narrow` fits `wide`: every demand of `wide` is made by `narrow` too, and no looser. */
function covers(one: Route, other: Route): boolean {
  const [wide, narrow] = [one, other].map(({ when }) => ({ ...when, state: when.state ?? [...STATES_TOLD] })) as [Route['when'], Route['when']]
  return Object.entries(wide).every(([field, demanded]) => {
    const own = narrow[field as keyof typeof narrow]
    if (demanded === undefined) return true
    if (own === undefined) return false
    if (field === 'hours') return JSON.stringify(own) === JSON.stringify(demanded)
    if (field === 'places' || field === 'lasting') return Number(own) >= Number(demanded)
    return (own as string[]).every((each) => (demanded as string[]).includes(each))
  })
}

function rotaGaps(routes: Route[], listening: Listening, now: Instant, speak: (at: Instant) => string): Gap[] {
  const asked = new Set(routes.flatMap((route) => route.then.flatMap((step) => step.tell)))
  return listening.rotas.filter((rota) => asked.has(`rota/${rota.key}`)).flatMap((rota) => {
    const ahead = shifts(rota, { from: now, to: now + AHEAD })
    const hole = ahead.find((shift) => shift.person === undefined)
    const away = ahead.flatMap((shift) => {
      const person = listening.people.find((each) => each.key === shift.person)
      const day = person && daysOf(shift).find((at) => isOff(person, at, listening.zone))
      return person && day !== undefined ? [{ person, day }] : []
    })[0]
    return [
      ...(hole ? [{ kind: 'nobody-on-call' as const, subject: rota.key, sentence: `${rota.name} has nobody on call from ${speak(hole.from)} to ${speak(hole.to)}.` }] : []),
      ...(away ? [{ kind: 'away-on-call' as const, subject: rota.key, sentence: `${away.person.name} is on call for ${rota.name} on ${speak(away.day)}, and away.` }] : [])
    ]
  })
}

function daysOf({ from, to }: { from: Instant; to: Instant }): Instant[] {
  const days = []
  for (let at = from; at < to; at += DAY / 4) days.push(at)
  return days
}

/** Steps that wait for a reaction and then tell only the people who did not react. */
function samePerson(routes: Route[], listening: Listening, now: Instant): Gap[] {
  return routes.flatMap((route, index) => {
    const people = route.then.map((step) => new Set(reach(listening, step, now, { news: 'down', urgent: route.urgent }).receivers.map((each) => each.name)))
    const same = people.findIndex((names, step) => step > 0 && names.size === 1 && route.then[step]!.unlessTaken && people[step - 1]!.size === 1 && people[step - 1]!.has([...names][0]!))
    return same < 0 ? [] : [{ kind: 'same-person' as const, subject: route.key, sentence: `Steps ${same} and ${same + 1} of route ${index + 1} both reach only ${[...people[same]!][0]}.` }]
  })
}

function withoutChannel({ people, channels }: Listening): Gap[] {
  return people.filter((person) => !channels.some((each) => each.person === person.key && each.working && !each.unconfirmed))
    .map((person) => ({ kind: 'no-channel' as const, subject: person.key, sentence: `${person.name} has no channel that works.` }))
}

/** A channel is thought dead after so many lost messages in a row. */
const DEAD = 3

function deadChannels(routes: Route[], listening: Listening, lost: ReadonlyMap<number, number>): Gap[] {
  return listening.channels.filter((each) => (lost.get(each.channel) ?? 0) >= DEAD && reachedBy(each, routes, listening).length > 0)
    .map((each) => ({ kind: 'dead-channel' as const, subject: each.key, sentence: `${each.name} has lost the last ${lost.get(each.channel)} messages.` }))
}

/** People whom a route tells by a means they have not confirmed. */
function notConfirmed(routes: Route[], listening: Listening): Gap[] {
  return listening.channels.filter((each) => each.unconfirmed && each.working).flatMap((each) => {
    const named = reachedBy(each, routes, listening).find((route) => route.then.some((step) => step.by?.includes(each.kind)))
    const person = listening.people.find((other) => other.key === each.person)
    return named && person ? [{ kind: 'not-confirmed' as const, subject: person.key, sentence: `Route ${routes.indexOf(named) + 1} tells ${person.name} by ${MEANS_WORDS[each.kind]}, which is not confirmed.` }] : []
  })
}

function quietHours(routes: Route[], listening: Listening, subjects: (Subject & { name: string })[], now: Instant, speak: (at: Instant) => string): Gap[] {
  return unreachedHours(routes, listening, subjects, now).map(({ checks, hours }) => {
    const [first] = hours
    const names = checks.length > 2 ? `${checks[0]} and ${checks.length - 1} more would wake` : `${checks.join(' and ')} would wake`
    const total = hours.reduce((sum, each) => sum + each.to - each.from, 0) / HOUR
    return { kind: 'quiet-hours' as const, subject: checks[0]!, sentence: `${names} nobody in ${total} hours of the coming week, first from ${speak(first!.from)} to ${speak(first!.to)}: those on call have quiet hours.` }
  })
}
