import { parseDuration, speakDuration } from '@/core/definitions/duration'
import { speakService } from '@/core/definitions/service'
import { TROUBLES } from '@/core/incidents/incident'
import { locationsOf } from '@/core/places/places'
import { routesFor, subjectOf, type Subject } from '@/core/routing/fits'
import { loadOf } from '@/core/routing/load'
import { compareRoutes, speakShifts } from '@/core/routing/compare-orders'
import { healthOf } from '@/core/channels/health'
import { findGaps, type Gap } from '@/core/routing/gaps'
import { rehearse } from '@/core/routing/rehearse'
import { countByRoute, type RoutingNames } from '@/core/sentence/route-sentence'
import { fromLocal, readLocal, speakMoment } from '@/core/time/zoned'
import { DAY, HOUR, MINUTE } from '@/core/units'
import type { StoredCheck } from '@/store/checks'
import { listClients } from '@/store/clients'
import { database } from '@/store/database'
import { listCarried, listTold } from '@/store/deliveries'
import { definitionsNumber, listLocations, type Location } from '@/store/locations'
import { listRouting, readRoutingWorld, type Routing } from '@/store/routing'
import { listServices, type StoredService } from '@/store/world'
import { allChecks } from './definitions'

/** How much of an incident a rehearsal shows. */
const REHEARSED = 3 * HOUR

/** Names of everyone and everything that can be told. */
export const tellNames = ({ listening: { people, teams, rotas, channels } }: Pick<Routing, 'listening'>): RoutingNames['tell'] => new Map([
  ...rotas.map((each) => [`rota/${each.key}`, each.name] as const), ...teams.map((each) => [`team/${each.key}`, `everyone in ${each.name}`] as const),
  ...people.map((each) => [`person/${each.key}`, each.name] as const), ...channels.filter((each) => each.person === undefined).map((each) => [`channel/${each.key}`, each.name] as const)
])

/** Names that the sentences of routes say for keys. */
export function namesOf(routing: Pick<Routing, 'listening'>, services: StoredService[], clients: { key: string; name: string }[], checks: StoredCheck[], locations: Location[]): RoutingNames {
  return {
    tell: tellNames(routing),
    services: new Map(services.map((each) => [each.key, speakService(each)])), clients: new Map(clients.map((each) => [each.key, each.name])),
    checks: new Map(checks.map(({ check }) => [check.key, check.name])), locations: new Map(locations.map((each) => [each.key, each.place])),
    stages: [...new Set(services.map((each) => each.stage))], tags: [...new Set(checks.flatMap(({ check }) => check.tags))].sort()
  }
}

const placesOf = (places: Location[]) => places.map(({ key, network }) => ({ key, network }))

/** Every check, as if it went down everywhere now. */
function subjectsOf(checks: StoredCheck[], services: ReadonlyMap<string, StoredService>, locations: Location[], now: number) {
  return checks.map((stored) => ({ ...subjectOf(stored.check, services.get(stored.check.service ?? ''), { state: 'down', at: now, failing: placesOf(locationsOf(stored.check.from, locations)) }), name: stored.check.name }))
}

let known: { key: string; gaps: Promise<Gap[]> } | undefined

/** What is missing in who hears what. It is looked at anew after a change of any definition, and every five minutes. */
export async function gapsOf({ routes, listening }: Routing, services: StoredService[], checks: StoredCheck[], locations: Location[], now: number): Promise<Gap[]> {
  const key = `${await definitionsNumber(database())} ${Math.floor(now / (5 * MINUTE))}`
  if (known?.key !== key) known = { key, gaps: findGapsNow() }
  return known.gaps

  async function findGapsNow(): Promise<Gap[]> {
    const lost = new Map([...healthOf(await listCarried(database(), now - 7 * DAY))].map(([channel, { lostInARow }]) => [channel, lostInARow]))
    return findGaps(routes, listening, subjectsOf(checks, new Map(services.map((each) => [each.key, each])), locations, now), now, (at) => speakMoment(at, listening.zone, now), lost)
  }
}

/** Who would hear of more and who of fewer checks with the routes in another order, in a sentence. */
export async function shiftsOf(keys: string[], now: number): Promise<string> {
  const on = database()
  const [{ routes, listening }, services, checks, locations] = await Promise.all([readRoutingWorld(on), listServices(on), allChecks(), listLocations(on)])
  const after = routes.map((route) => ({ ...route, place: keys.indexOf(route.key) + 1 }))
  return speakShifts(compareRoutes(routes, after, listening, subjectsOf(checks, new Map(services.map((each) => [each.key, each])), locations, now)))
}

/** What a rehearsal asks, as it stands in the address. */
export interface Question {
  check?: string
  state?: string
  places?: string
  at?: string
  taken?: string
}

/** Everything of the page of routes: sentences, how many checks each takes, gaps, and a rehearsal. */
export async function routesView(question: Question, now: number) {
  const on = database()
  const [routing, documents, services, clients, checks, locations, told] = await Promise.all([readRoutingWorld(on), listRouting(on), listServices(on), listClients(on), allChecks(), listLocations(on), listTold(on, now - 7 * DAY)])
  const { listening } = routing
  const byKey = new Map(services.map((each) => [each.key, each]))
  const everywhere = subjectsOf(checks, byKey, locations, now)
  return {
    load: loadOf(told, listening.zone), names: namesOf(routing, services, clients, checks, locations), zone: listening.zone, routes: documents.filter((each) => each.kind === 'route'),
    counts: countByRoute(routing.routes, everywhere, (all, subject) => [...new Set(TROUBLES.flatMap((state) => routesFor(all, { ...subject, state }, listening.zone)))]),
    gaps: await gapsOf(routing, services, checks, locations, now),
    rehearsal: rehearsalOf(question, { routing, checks, byKey, locations }, now), checks: checks.map(({ check }) => ({ key: check.key, name: check.name }))
  }
}

function rehearsalOf(question: Question, { routing, checks, byKey, locations }: { routing: Routing; checks: StoredCheck[]; byKey: Map<string, StoredService>; locations: Location[] }, now: number) {
  const stored = checks.find((each) => each.check.key === question.check) ?? checks.find((each) => each.check.importance === 'vital') ?? checks[0]
  if (!stored) return undefined
  const { zone } = routing.listening
  const all = locationsOf(stored.check.from, locations)
  const wanted = Number(question.places)
  const count = Number.isInteger(wanted) && wanted >= 1 && wanted <= all.length ? wanted : all.length
  const local = question.at === undefined ? undefined : readLocal(question.at)
  const at = local === undefined ? now : fromLocal(local, zone)
  const state = TROUBLES.find((each) => each === question.state) ?? 'down'
  const takenAfter = question.taken === undefined ? undefined : parseDuration(question.taken)
  const done = rehearse(routing.routes, routing.listening, subjectOf(stored.check, byKey.get(stored.check.service ?? ''), { state, at, failing: placesOf(all.slice(0, count)) }), { lasts: REHEARSED, ...(takenAfter === undefined ? {} : { takenAfter }) })
  return {
    ...done, at, state, check: stored.check.name, checkKey: stored.check.key, muted: stored.mutedAt !== null, places: `${count} of ${all.length} ${all.length === 1 ? 'location' : 'locations'}`,
    when: local === undefined ? 'now' : question.at!.replace('T', ' '), taken: takenAfter === undefined ? 'nobody takes it' : `it is taken after ${speakDuration(takenAfter)}`,
    fits: done.routes.map((key) => routing.routes.findIndex((route) => route.key === key) + 1)
  }
}

/** Rehearses a check at all its locations, with everything as it stands now. */
export async function rehearseNow(stored: StoredCheck, { state, at, takenAfter }: { state: Subject['state']; at: number; takenAfter?: number }) {
  const [routing, services, locations] = await Promise.all([readRoutingWorld(database()), listServices(database()), listLocations(database())])
  const subject = subjectOf(stored.check, services.find((each) => each.key === stored.check.service), { state, at, failing: placesOf(locationsOf(stored.check.from, locations)) })
  return rehearse(routing.routes, routing.listening, subject, { lasts: REHEARSED, ...(takenAfter === undefined ? {} : { takenAfter }) })
}
