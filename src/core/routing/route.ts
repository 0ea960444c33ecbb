import type { Importance } from '../definitions/check'
import { parseDuration } from '../definitions/duration'
import { parseHours, type Hours } from '../hours/hours'
import type { Trouble } from '../incidents/incident'
import type { Milliseconds } from '../units'
import type { Means } from './means'

/** What an incident must be for a route to fit. Every field that is there must hold; of a list, one value is enough. */
export interface RouteMatch {
  importance?: Importance[]
  state?: Trouble[]
  service?: string[]
  stage?: string[]
  client?: string[]
  tag?: string[]
  kind?: string[]
  check?: string[]
  /** Keys of locations of which one is failing. */
  location?: string[]
  /** Names of networks of which one is failing. */
  network?: string[]
  /** Numbers that must have passed a limit, by their names: `disk.used`. */
  metric?: string[]
  /** At least so many locations fail. */
  places?: number
  /** It has lasted so long. Until then the routes below decide, and this one waits beside them. */
  lasting?: Milliseconds
  /** The hours in which the incident must begin to be told of by this route. */
  hours?: Hours
}

/** One step: whom to tell, by what, how long after the step before. */
export interface RouteStep {
  /** `rota/ticketing`, `team/platform`, `person/ines-falk`, `channel/operations-log`, or `everyone`. */
  tell: string[]
  /** By what people are told; every means they have when there are none. */
  by?: Means[]
  after: Milliseconds
  /** Left out while someone holds the incident; otherwise only the end of the trouble stops it. */
  unlessTaken: boolean
  /** Told again so often while it lasts. */
  again?: Milliseconds
  /** People are told in their working hours only. */
  workingOnly?: boolean
}

/** Who hears of what, in which steps. */
export interface Route {
  key: string
  /** What is said of it where it has no place in the order: “Called in by Ines Falk”. */
  title?: string
  place: number
  when: RouteMatch
  then: RouteStep[]
  /** Routes below are asked too. */
  goOn: boolean
  /** Marks messages as urgent. */
  urgent: boolean
  /** Whether those who were told hear that it is over. */
  recovery: boolean
  /** It tells of the same check at most once in so long, counted from incident to incident. */
  notTwiceIn?: Milliseconds
}

export type RouteDocument = { route: string } & Record<string, unknown>

interface WrittenStep { tell: string | string[]; by?: Means[]; after?: string; unless?: 'taken'; again?: string; during?: 'working-hours' }
type WrittenMatch = { [field in keyof RouteMatch]?: unknown }

/** Reads a document that was validated before it was stored. */
export function acceptedRoute(document: RouteDocument): Route {
  const written = document as RouteDocument & { place: number; when?: WrittenMatch; then: WrittenStep[]; goOn?: boolean; urgent?: boolean; recovery?: 'told' | 'nobody'; notTwiceIn?: string }
  return {
    key: written.route, place: written.place, when: acceptedMatch(written.when ?? {}), then: written.then.map(acceptedStep),
    goOn: written.goOn ?? false, urgent: written.urgent ?? false, recovery: (written.recovery ?? 'told') === 'told',
    ...(written.notTwiceIn === undefined ? {} : { notTwiceIn: parseDuration(written.notTwiceIn)! })
  }
}

function acceptedMatch({ places, hours, lasting, ...lists }: WrittenMatch): RouteMatch {
  return {
    ...Object.fromEntries(Object.entries(lists).map(([field, value]) => [field, [value].flat()])),
    ...(places === undefined ? {} : { places: places as number }), ...(lasting === undefined ? {} : { lasting: parseDuration(String(lasting))! }),
    ...(hours === undefined ? {} : { hours: { at: [hours].flat().map((each) => parseHours(String(each))!) } })
  }
}

function acceptedStep({ tell, by, after, unless, again, during }: WrittenStep): RouteStep {
  return {
    tell: [tell].flat(), ...(by === undefined ? {} : { by: [by].flat() }), after: parseDuration(after ?? '0s')!, unlessTaken: unless === 'taken',
    ...(again === undefined ? {} : { again: parseDuration(again)! }), ...(during === undefined ? {} : { workingOnly: true })
  }
}

/** What catches everything that no route catches: everyone hears at once by every means they have. */
export const EVERYONE: Route = {
  key: 'everyone', place: Infinity, when: {}, then: [{ tell: ['everyone'], after: 0, unlessTaken: false }], goOn: false, urgent: false, recovery: true
}
