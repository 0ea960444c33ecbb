import type { Instant } from '../units'
import type { Trouble } from '../incidents/incident'
import type { Route, RouteStep } from './route'

/** A step that is still to come. */
export interface Pending {
  step: number
  /** How often the step was told before: 0 for the first time. */
  round: number
  at: Instant
  /** Somebody asked for it now: it happens also while the incident is held or held off. */
  asked?: boolean
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
  /** Until when it is held off: what falls due before happens then. */
  heldOffUntil?: Instant
  /** What is told. */
  news: Trouble
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

/** Begins a route: its first step is due when the trouble has lasted as long as the route demands, and after its own waiting. */
export const beginCourse = (route: Route, at: Instant): Course => ({ route, pending: [{ step: 0, round: 0, at: at + (route.when.lasting ?? 0) + route.then[0]!.after }], reached: false })

/**
 * Brings a course up to now: gives the steps that are due, in the order of their times, and the course after them.
 * Calling it again with the same moment gives nothing new, and a clock that was set back only waits. After a long absence
 * a repeated step is due once, not once for every round that was missed.
 */
export function advance({ pending, ...course }: Course, { taken, over, heldOffUntil = -Infinity }: Omit<CourseFacts, 'news'>, now: Instant): { course: Course; due: Due[] } {
  const { route } = course
  if (over) return { course: { ...course, pending: [] }, due: [] }
  const due: Due[] = []
  let waiting = heldOffUntil > now ? pending.map((each) => (each.asked ? each : { ...each, at: Math.max(each.at, heldOffUntil) })) : pending
  for (;;) {
    const next = waiting.reduce<Pending | undefined>((first, each) => (each.at <= now && (first === undefined || each.at < first.at || (each.at === first.at && each.step < first.step)) ? each : first), undefined)
    if (!next) break
    const step = route.then[next.step]!
    const isLeft = taken && step.unlessTaken && !next.asked
    // a round that is left out is not worth a line of its own
    if (!isLeft || next.round === 0) due.push({ step: next.step, round: next.round, at: next.at, ...(isLeft ? { left: 'taken' as const } : {}) })
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
  const next = firstPending(pending)
  return { ...course, pending: pending.map((each) => (each === next ? { ...each, at: Math.min(each.at, now) } : each)) }
}

/** Brings the next first-time step forward because somebody asked for it: it happens also when someone holds the incident. */
export function escalate(course: Course, now: Instant): Course {
  const next = firstPending(course.pending)
  return { ...course, pending: course.pending.map((each) => (each === next ? { ...each, at: Math.min(each.at, now), asked: true } : each)) }
}

/** A course of one step for people who are called in by hand. */
export function callIn(key: string, title: string, tell: string[], now: Instant): Course {
  const route: Route = { key, title, place: 0, when: {}, then: [{ tell, after: 0, unlessTaken: false }], goOn: false, urgent: true, recovery: true }
  return { route, pending: [{ step: 0, round: 0, at: now, asked: true }], reached: true }
}

const firstPending = (pending: Pending[]) => pending.reduce<Pending | undefined>((first, each) => (each.round === 0 && (first === undefined || each.step < first.step) ? each : first), undefined)

/** When a course has something to do next; undefined when it is through. */
export const nextDue = ({ pending }: Course): Instant | undefined => (pending.length === 0 ? undefined : Math.min(...pending.map((each) => each.at)))
