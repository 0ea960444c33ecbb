import type { Reachable, Listening } from './reach'
import type { Route, RouteStep } from './route'

/** Everyone a step may tell at some moment, by their keys: a rota counts with all who take turns. */
function peopleOf({ teams, rotas, people }: Listening, { tell }: Pick<RouteStep, 'tell'>): Set<string> {
  return new Set(tell.flatMap((each) => {
    const [kind, key] = each.split('/')
    if (kind === 'person') return [key!]
    if (kind === 'team') return teams.find((team) => team.key === key)?.people ?? []
    if (kind === 'rota') return rotas.find((rota) => rota.key === key)?.layers.flatMap((layer) => layer.people) ?? []
    return kind === 'everyone' ? people.filter((person) => !person.isOutside).map((person) => person.key) : []
  }))
}

/** The routes that may send something over a channel, in their order. */
export function reachedBy(channel: Pick<Reachable, 'key' | 'kind' | 'person'>, routes: readonly Route[], listening: Listening): Route[] {
  return routes.filter((route) => route.then.some((step) => (channel.person === undefined
    ? step.tell.includes(`channel/${channel.key}`) || step.tell.includes('everyone')
    : (step.by === undefined || step.by.includes(channel.kind)) && peopleOf(listening, step).has(channel.person))))
}
