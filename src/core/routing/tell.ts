import type { Instant } from '../units'
import { advance, hasten, type Course, type CourseFacts, type Due } from './course'
import { EVERYONE } from './route'
import { reach, type Listening, type PassedOver, type Receiver } from './reach'

/** A step as it happens: who is told, who is passed over and why. */
export interface Told extends Due {
  route: string
  receivers: Receiver[]
  passedOver: PassedOver[]
  /** Everyone it reaches was told at this moment already, by a route above. */
  isKnown: boolean
}

/**
 * Brings the courses of one incident up to now and says who is told. A step that reaches nobody brings the next one
 * forward; a route that has reached nobody at its last step tells everyone. A channel that several routes name at the
 * same time is told once, for the first of them.
 * The engine sends what this gives, and a rehearsal shows what this gives.
 * @param known channels that were told of the same incident a moment ago
 */
export function tellDue(courses: readonly Course[], facts: CourseFacts, listening: Listening, now: Instant, known: Iterable<number> = []): { courses: Course[]; told: Told[] } {
  const told: Told[] = []
  const spoken = new Set<number>(known)
  const step = (course: Course, each: Due): Told & { reaches: boolean } => {
    const isLast = each.step === course.route.then.length - 1
    const found = each.left ? { receivers: [], passedOver: [] } : reach(listening, course.route.then[each.step]!, now, { news: facts.news, urgent: course.route.urgent })
    const lost = !each.left && isLast && !course.reached && found.receivers.length === 0
    const receivers = lost ? reach(listening, EVERYONE.then[0]!, now, { news: facts.news, urgent: true }).receivers : found.receivers
    const fresh = receivers.filter(({ channel }) => !spoken.has(channel))
    for (const { channel } of receivers) spoken.add(channel)
    return { ...each, route: course.route.key, receivers: fresh, passedOver: found.passedOver, isKnown: receivers.length > 0 && fresh.length === 0, reaches: receivers.length > 0 }
  }
  const after = courses.map((course) => {
    let current = course
    for (;;) {
      const { course: next, due } = advance(current, facts, now)
      current = next
      if (due.length === 0) return current
      let isIdle = false
      for (const each of due) {
        const { reaches, ...happened } = step(current, each)
        told.push(happened)
        if (reaches) current = { ...current, reached: true }
        isIdle ||= !each.left && each.round === 0 && !reaches
      }
      if (!isIdle) return current
      current = hasten(current, now)
    }
  })
  return { courses: after, told }
}
