import type { Check } from '../definitions/check'
import type { Observation } from '../observation'
import { shortReason } from '../reasons/reasons'
import { STATE_NAMES, type CheckState } from './check-state'

/**
 * The state a check would start in, judged from one try at each location: a failure anywhere makes it Suspect, or
 * Down at once when one try is enough and enough locations agree.
 */
export function startState(check: Pick<Check, 'down' | 'slow'>, observations: Observation[], place: (location: number) => string): { state: CheckState; name: string; why: string } {
  const failed = observations.filter((each) => each.verdict === 'fail')
  const slow = observations.filter((each) => each.verdict === 'slow')
  const warned = observations.filter((each) => each.verdict === 'warn')
  const needed = Math.min(check.down.locations, observations.length)
  const state: CheckState = failed.length >= needed && check.down.tries === 1 && failed.length > 0 ? 'down' : failed.length > 0 ? 'suspect' : warned.length >= needed && warned.length > 0 ? 'warning' : 'up'
  const parts: string[] = []
  const where = (group: Observation[]) => (group.length === observations.length && group.length > 1 ? 'every location' : group.slice(0, 3).map((each) => place(each.location)).join(', ') + (group.length > 3 ? ` and ${group.length - 3} more` : ''))
  if (failed.length > 0) parts.push(`${where(failed)}: ${failed[0]!.sentence ?? shortReason(failed[0]!.reason)}`)
  if (slow.length > 0) parts.push(`${where(slow)} already above the limit for slow`)
  if (state === 'warning') parts.push(warned[0]!.sentence ?? 'a softer limit is passed')
  return { state, name: STATE_NAMES[state], why: parts.length > 0 ? `${parts.join('; ')}.` : '' }
}
