import type { Check, Importance } from '../definitions/check'
import type { Service } from '../definitions/service'
import { isWithinHours } from '../hours/hours'
import { isOutage, type Trouble } from '../incidents/incident'
import { nameOf } from '../numbers/sample'
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
  /** The numbers that have passed a limit, where it is a check of numbers. */
  metrics?: string[]
  /** When the trouble was called. */
  at: Instant
}

/** The numbers a check looks at; only those of the conditions that `isBeyond` when it is given. */
export const metricsOf = ({ pass }: Pick<Check, 'pass'>, isBeyond: (condition: number) => boolean = () => true): string[] =>
  pass.flatMap(({ test }, index) => (test.on === 'metric' && isBeyond(index) ? [test.name] : []))

/** A check in trouble, as routes see it. Without `metrics` every number it looks at may be the one. */
export function subjectOf({ key, kind, importance, tags, pass }: Pick<Check, 'key' | 'kind' | 'importance' | 'tags' | 'pass'>, service: Pick<Service, 'key' | 'stage' | 'client'> | undefined, trouble: Pick<Subject, 'state' | 'failing' | 'at' | 'metrics'>): Subject {
  return { check: key, kind, importance, tags, metrics: metricsOf({ pass }), ...trouble, ...(service ? { service: service.key, stage: service.stage, ...(service.client === undefined ? {} : { client: service.client }) } : {}) }
}

/** What a route tells of that names no state. */
export const STATES_TOLD: readonly Trouble[] = ['down', 'slow']

/** Whether a route fits, once it has lasted long enough. `zone` is the clock for its hours. */
export function fits(when: RouteMatch, subject: Subject, zone: string): boolean {
  const has = (wanted: readonly string[] | undefined, values: readonly (string | undefined)[]) => wanted === undefined || values.some((value) => value !== undefined && wanted.includes(value))
  return has(when.importance, [subject.importance]) && has(when.state ?? STATES_TOLD, [subject.state]) && has(when.service, [subject.service]) && has(when.stage, [subject.stage])
    && has(when.client, [subject.client]) && has(when.tag, subject.tags) && has(when.kind, [subject.kind]) && has(when.check, [subject.check])
    && has(when.location, subject.failing.map((each) => each.key)) && has(when.network, subject.failing.map((each) => each.network))
    && has(when.metric, (subject.metrics ?? []).flatMap((each) => [each, nameOf(each)]))
    && (when.places === undefined || subject.failing.length >= when.places) && isWithinHours(when.hours, subject.at, zone)
}

/** Whether no route below is asked about what a route tells. */
export const decides = ({ goOn, when }: Pick<Route, 'goOn' | 'when'>): boolean => !goOn && when.lasting === undefined

/**
 * The routes that tell of a trouble: asked in their order, the first that fits decides, and those that let others go on
 * tell beside it; one that waits for a length tells beside it too, when that is over. What no route catches, everyone
 * hears: nothing is lost for want of a route. Of what is no outage only those hear whom a route tells.
 */
export function routesFor(routes: readonly Route[], subject: Subject, zone: string): Route[] {
  const found: Route[] = []
  for (const route of [...routes].sort((a, b) => a.place - b.place)) {
    if (!fits(route.when, subject, zone)) continue
    found.push(route)
    if (decides(route)) return found
  }
  return isOutage(subject.state) ? [...found, EVERYONE] : found
}
