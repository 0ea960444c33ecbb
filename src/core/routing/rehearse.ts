import type { Instant, Milliseconds } from '../units'
import { beginCourse, nextDue, type Course } from './course'
import { routesFor, type Subject } from './fits'
import type { Listening } from './reach'
import type { Route } from './route'
import { tellDue, type Told } from './tell'

export interface Rehearsal {
  /** The keys of the routes that fit, in their order. */
  routes: string[]
  steps: Told[]
  /** Whether more would follow after what is shown. */
  isCut: boolean
}

const MOST_STEPS = 60

/**
 * What would happen, step by step, if something went wrong at a moment: with the code that tells people in earnest, and
 * the people, rotas, cover and days off as they are then.
 * @param takenAfter how long after the beginning someone takes it; undefined when nobody does
 * @param lasts how long the trouble lasts
 */
export function rehearse(routes: readonly Route[], listening: Listening, subject: Subject, { takenAfter, lasts }: { takenAfter?: Milliseconds; lasts: Milliseconds }): Rehearsal {
  const fitting = routesFor(routes, subject, listening.zone)
  let courses = fitting.map((route) => beginCourse(route, subject.at))
  const steps: Told[] = []
  for (;;) {
    const at = soonest(courses)
    if (at === undefined || at >= subject.at + lasts) return { routes: fitting.map((route) => route.key), steps, isCut: false }
    if (steps.length >= MOST_STEPS) return { routes: fitting.map((route) => route.key), steps, isCut: true }
    const done = tellDue(courses, { taken: takenAfter !== undefined && at >= subject.at + takenAfter, over: false, news: subject.state }, listening, at)
    courses = done.courses
    steps.push(...done.told)
  }
}

function soonest(courses: Course[]): Instant | undefined {
  const all = courses.flatMap((course) => nextDue(course) ?? [])
  return all.length === 0 ? undefined : Math.min(...all)
}
