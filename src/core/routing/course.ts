import type { Instant } from '../units'
import type { Route, RouteStep } from './route'

/** A step that is still to come. */
export interface Pending {
  step: number
  /** How often the step was told before: 0 for the first time. */
  round: number
  at: Instant
}

/** The steps of one route for one incident, as far as they have come. It is stored with what it caused, in one transaction. */
export interface Course {
  route: Route
  pending: Pending[]
  /** Somebody was told. */
  reached: boolean
}

/** What the clock of a course has to know of the incident. */
export interface CourseFacts {
  /** Someone holds it. */
  taken: boolean
  /** It has ended, or was closed by hand. */
  over: boolean
}

/** A step that falls due: to be told, or left out because somebody holds the incident. */
export interface Due {
  step: number
  round: number
  /** When it was to happen. */
  at: Instant
  left?: 'taken'
}

/** A step that is handled later than this counts its followers from now: nobody had their time to react. */
const LATE = 60_000

/** Begins a route: its first step is due after its own waiting. */
export const beginCourse = (route: Route, at: Instant): Course => ({ route, pending: [{ step: 0, round: 0, at: at + route.then[0]!.after }], reached: false })

/**
 * Brings a course up to now: gives the steps that are due, in the order of their times, and the course after them.
 * Calling it again with the same moment gives nothing new, and a clock that was set back only waits. After a long absence
 * a repeated step is due once, not once for every round that was missed.
 */
export function advance({ pending, ...course }: Course, { taken, over }: CourseFacts, now: Instant): { course: Course; due: Due[] } {
  const { route } = course
  if (over) return { course: { ...course, pending: [] }, due: [] }
  const due: Due[] = []
  let waiting = pending
  for (;;) {
    const next = waiting.reduce<Pending | undefined>((first, each) => (each.at <= now && (first === undefined || each.at < first.at || (each.at === first.at && each.step < first.step)) ? each : first), undefined)
    if (!next) break
    const step = route.then[next.step]!
    const isLeft = taken && step.unlessTaken
    // a round that is left out is not worth a line of its own
    if (!isLeft || next.round === 0) due.push({ ...next, ...(isLeft ? { left: 'taken' as const } : {}) })
    waiting = [...waiting.filter((each) => each !== next), ...followers(route.then, next, now)]
  }
  return { course: { ...course, pending: waiting }, due }
}

function followers(steps: RouteStep[], { step, round, at }: Pending, now: Instant): Pending[] {
  const from = now - at > LATE ? now : at
  const { again } = steps[step]!
  const next = steps[step + 1]
  return [
    ...(again === undefined ? [] : [{ step, round: round + 1, at: from + again }]),
    ...(next === undefined || round > 0 ? [] : [{ step: step + 1, round: 0, at: from + next.after }])
  ]
}

/** Brings the next first-time step forward to now, because the step before reached nobody. */
export function hasten({ pending, ...course }: Course, now: Instant): Course {
  const next = pending.reduce<Pending | undefined>((first, each) => (each.round === 0 && (first === undefined || each.step < first.step) ? each : first), undefined)
  return { ...course, pending: pending.map((each) => (each === next ? { ...each, at: Math.min(each.at, now) } : each)) }
}

/** When a course has something to do next; undefined when it is through. */
export const nextDue = ({ pending }: Course): Instant | undefined => (pending.length === 0 ? undefined : Math.min(...pending.map((each) => each.at)))
