import type { Check, Importance } from '../definitions/check'
import type { Service } from '../definitions/service'
import { isWithinHours } from '../hours/hours'
import type { Trouble } from '../incidents/incident'
import type { Instant } from '../units'
import { EVERYONE, type Route, type RouteMatch } from './route'

/** What a route looks at: a check in trouble. */
export interface Subject {
  check: string
  kind: string
  importance: Importance
  tags: string[]
  service?: string
  stage?: string
  client?: string
  state: Trouble
  /** The locations at which it is in trouble. */
  failing: { key: string; network: string }[]
  /** When the trouble was called. */
  at: Instant
}

/** A check in trouble, as routes see it. */
export function subjectOf({ key, kind, importance, tags }: Check, service: Pick<Service, 'key' | 'stage' | 'client'> | undefined, trouble: Pick<Subject, 'state' | 'failing' | 'at'>): Subject {
  return { check: key, kind, importance, tags, ...trouble, ...(service ? { service: service.key, stage: service.stage, ...(service.client === undefined ? {} : { client: service.client }) } : {}) }
}

/** Whether a route fits. `zone` is the clock for its hours. */
export function fits(when: RouteMatch, subject: Subject, zone: string): boolean {
  const has = (wanted: readonly string[] | undefined, values: readonly (string | undefined)[]) => wanted === undefined || values.some((value) => value !== undefined && wanted.includes(value))
  return has(when.importance, [subject.importance]) && has(when.state, [subject.state]) && has(when.service, [subject.service]) && has(when.stage, [subject.stage])
    && has(when.client, [subject.client]) && has(when.tag, subject.tags) && has(when.kind, [subject.kind]) && has(when.check, [subject.check])
    && has(when.location, subject.failing.map((each) => each.key)) && has(when.network, subject.failing.map((each) => each.network))
    && (when.places === undefined || subject.failing.length >= when.places) && isWithinHours(when.hours, subject.at, zone)
}

/**
 * The routes that tell of a trouble: asked in their order, the first that fits decides, and those that let others go on
 * tell beside it. What no route catches, everyone hears: nothing is lost for want of a route.
 */
export function routesFor(routes: readonly Route[], subject: Subject, zone: string): Route[] {
  const found: Route[] = []
  for (const route of [...routes].sort((a, b) => a.place - b.place)) {
    if (!fits(route.when, subject, zone)) continue
    found.push(route)
    if (!route.goOn) return found
  }
  return [...found, EVERYONE]
}
