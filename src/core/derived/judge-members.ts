import type { Member } from '../inside/inside'
import type { CheckState } from '../states/check-state'

/** How many must be up: all, any, a number, or a share of the whole weight. */
export type Least = 'all' | 'any' | number | { share: number }

export interface MembersRule {
  least: Least
  /** Below this it warns; the same scale as `least`. */
  warn?: Least
  /** Weights by key; 1 for a check that has none. */
  weights: Readonly<Record<string, number>>
}

export interface MembersJudgement {
  /** `unknown`: those without a verdict could turn it either way. */
  verdict: 'pass' | 'warn' | 'fail' | 'unknown'
  sentence: string
  /** Weights of those that are up, down, and neither. */
  good: number
  bad: number
  open: number
}

/** A suspicion is not yet confirmed, and slow or warned is not down; what is paused, worked on or without data says nothing. */
const SAYS: Record<CheckState, 'good' | 'bad' | 'open'> = { up: 'good', warning: 'good', slow: 'good', suspect: 'good', down: 'bad', planned: 'open', paused: 'open', nodata: 'open' }

/** The weight that must be up. */
export function weightNeeded(least: Least, weights: readonly number[]): number {
  const all = weights.reduce((sum, weight) => sum + weight, 0)
  if (least === 'all') return all
  if (least === 'any') return Math.min(...weights)
  return typeof least === 'number' ? least : all * least.share
}

/** Judges checks together: k of n, all, any, or by weight. */
export function judgeMembers({ least, warn, weights }: MembersRule, members: readonly Member[]): MembersJudgement {
  const weightOf = (member: Member) => weights[member.key] ?? 1
  const sum = (says: 'good' | 'bad' | 'open') => members.filter((member) => SAYS[member.state] === says).reduce((total, member) => total + weightOf(member), 0)
  const [good, bad, open] = [sum('good'), sum('bad'), sum('open')]
  const all = members.map(weightOf)
  const isWeighted = members.some((member) => weightOf(member) !== 1)
  const down = members.filter((member) => SAYS[member.state] === 'bad').map((member) => member.name)
  const unsaid = members.filter((member) => SAYS[member.state] === 'open').map((member) => member.name)
  const needed = weightNeeded(least, all)
  const number = (weight: number) => String(Number(weight.toFixed(3)))
  const count = isWeighted ? `${number(good)} of ${number(good + bad + open)} by weight are up` : `${good} of ${members.length} are up`
  const sentence = [`${count}, ${number(needed)} must be`, ...(down.length > 0 ? [`down: ${down.join(', ')}`] : []), ...(unsaid.length > 0 ? [`nothing is known of ${unsaid.join(', ')}`] : [])].join('; ')
  const reaches = (weight: number, limit: number) => weight >= limit - 1e-9
  const softly = warn === undefined ? needed : weightNeeded(warn, all)
  const verdict = !reaches(good, needed) ? (reaches(good + open, needed) ? 'unknown' : 'fail') : reaches(good + open, softly) ? 'pass' : 'warn'
  return { verdict, sentence, good, bad, open }
}
