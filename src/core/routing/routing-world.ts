import type { Problem } from '../problems'
import { readRota } from '../rotas/read-rota'
import type { Rota } from '../rotas/rota'
import { readRoute } from './read-route'
import type { Team } from './reach'
import type { Route } from './route'
import { readTeam } from './team'

export const ROUTING_KINDS = ['team', 'rota', 'route'] as const
export type RoutingKind = (typeof ROUTING_KINDS)[number]

/** A team, rota or route in its written form. */
export interface RoutingDocument {
  kind: RoutingKind
  key: string
  document: Record<string, unknown>
}

export interface RoutingWorld {
  teams: Team[]
  rotas: Rota[]
  /** In the order in which they are asked. */
  routes: Route[]
}

/**
 * Judges everything that says who is told, as a whole: a team that a route tells cannot be emptied or removed, a rota
 * needs people who exist.
 * @returns the world, or every mistake with the document it stands in
 */
export function readRouting(documents: RoutingDocument[], people: ReadonlySet<string>, channels: ReadonlySet<string>): { world: RoutingWorld } | { problems: Problem[] } {
  const problems: Problem[] = []
  const of = <Read>(kind: RoutingKind, read: (document: unknown) => Read | { problems: Problem[] }): Read[] =>
    documents.filter((each) => each.kind === kind).flatMap(({ key, document }) => {
      const found = read(document)
      const wrong = found !== null && typeof found === 'object' && 'problems' in found ? found.problems : document[kind] === key ? [] : [{ path: kind, found: String(document[kind]), expected: key }]
      problems.push(...wrong.map((problem) => ({ ...problem, subject: `${kind} ${key}` })))
      return wrong.length > 0 ? [] : [found as Read]
    })
  const teams = of('team', (document) => readTeam(document, people)).map((each) => each.team)
  const rotas = of('rota', (document) => readRota(document, people)).map((each) => each.rota)
  const known = { people, channels, teams: new Map(teams.map((team) => [team.key, team.people.length])), rotas: new Set(rotas.map((rota) => rota.key)) }
  const routes = of('route', (document) => readRoute(document, known)).map((each) => each.route).sort((a, b) => a.place - b.place)
  return problems.length > 0 ? { problems } : { world: { teams, rotas, routes } }
}
