import { DAY, HOUR, type Instant } from '../units'
import { fits, routesFor, type Subject } from './fits'
import { reach, type Listening } from './reach'
import type { Route } from './route'

/** Hours in which a failure of some checks would wake nobody: whoever is told then has quiet hours, and the route is not urgent. */
export interface Unreached {
  checks: string[]
  /** Hours of the coming week, from its beginning. */
  hours: { from: Instant; to: Instant }[]
}

const WEEK = 7 * DAY

/** Looks at each hour of the coming week. Checks of which the same routes tell are looked at once. */
export function unreachedHours(routes: readonly Route[], listening: Listening, subjects: readonly (Subject & { name: string })[], now: Instant): Unreached[] {
  const begin = Math.floor(now / HOUR) * HOUR
  const alike = new Map<string, (Subject & { name: string })[]>()
  for (const subject of subjects) {
    const key = routes.filter((route) => fits({ ...route.when, hours: undefined }, subject, listening.zone)).map((route) => route.key).join(' ')
    alike.set(key, [...(alike.get(key) ?? []), subject])
  }
  const reached = new Map<string, boolean>()
  const wakes = (route: Route, at: Instant): boolean => {
    const key = `${route.key} ${at}`
    if (!reached.has(key)) {
      const told = route.then.flatMap((step) => reach(listening, step, at, { news: 'down', urgent: route.urgent }).receivers)
      // a route that reaches no person is a gap of another kind
      reached.set(key, told.every((each) => each.heldUntil === undefined) || told.some((each) => each.person !== undefined && each.heldUntil === undefined))
    }
    return reached.get(key)!
  }
  return [...alike.values()].flatMap((own): Unreached[] => {
    const hours: Unreached['hours'] = []
    for (let at = begin; at < begin + WEEK; at += HOUR) {
      const told = routesFor(routes, { ...own[0]!, at }, listening.zone)
      // a route that tells no person at any hour was meant for a room or a program
      const isMeant = told.some((route) => route.then.some((step) => step.tell.some((each) => !each.startsWith('channel/'))))
      if (!isMeant || told.some((route) => wakes(route, at))) continue
      const last = hours.at(-1)
      if (last?.to === at) last.to = at + HOUR
      else hours.push({ from: at, to: at + HOUR })
    }
    return hours.length === 0 ? [] : [{ checks: own.map((each) => each.name), hours }]
  })
}
