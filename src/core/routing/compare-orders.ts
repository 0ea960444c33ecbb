import { routesFor, type Subject } from './fits'
import { reach, type Listening } from './reach'
import type { Route } from './route'

/** Who would be told of more or fewer checks if routes stood otherwise. */
export interface Shift {
  name: string
  /** Checks of which they would be told in addition, and no longer. */
  gains: number
  loses: number
}

/**
 * Compares two sets of routes by whom any of their steps would tell of each check now. Rotas are followed as they stand
 * at that moment.
 */
export function compareRoutes(before: readonly Route[], after: readonly Route[], listening: Listening, subjects: readonly Subject[]): Shift[] {
  const told = (routes: readonly Route[]) => {
    const reached = new Map<string, string[]>()
    const namesOf = (route: Route, at: number) => {
      if (!reached.has(route.key)) reached.set(route.key, route.then.flatMap((step) => reach(listening, step, at, { news: 'down', urgent: route.urgent }).receivers.map((each) => each.name)))
      return reached.get(route.key)!
    }
    return subjects.map((subject) => new Set(routesFor(routes, subject, listening.zone).flatMap((route) => namesOf(route, subject.at))))
  }
  const [old, fresh] = [told(before), told(after)]
  const names = [...new Set([...old, ...fresh].flatMap((each) => [...each]))]
  const count = (name: string, one: Set<string>[], other: Set<string>[]) => one.filter((each, index) => each.has(name) && !other[index]!.has(name)).length
  return names.map((name) => ({ name, gains: count(name, fresh, old), loses: count(name, old, fresh) })).filter((each) => each.gains + each.loses > 0).sort((a, b) => b.gains + b.loses - a.gains - a.loses || a.name.localeCompare(b.name))
}

/** “Ines Falk would hear of 3 more checks; Operations log of 2 fewer.” */
export function speakShifts(shifts: readonly Shift[]): string {
  if (shifts.length === 0) return 'Nobody would be told of more or of fewer checks.'
  const say = ({ name, gains, loses }: Shift) => `${name} of ${[gains > 0 ? `${gains} more` : '', loses > 0 ? `${loses} fewer` : ''].filter((part) => part !== '').join(' and ')}`
  return `Would hear: ${shifts.slice(0, 5).map(say).join('; ')}${shifts.length > 5 ? `; and ${shifts.length - 5} others` : ''}.`
}
