import type { Means } from './means'

/** How long to wait before the next try of a delivery: 2 s, 4 s, 8 s … at most 10 min; undefined when it is given up. */
export function backOff(triesMade: number): number | undefined {
  return triesMade >= 12 ? undefined : Math.min(600_000, 1000 * 2 ** triesMade)
}

/** After how many failed tries another channel stands in: within a quarter of a minute for what is urgent, else within two. */
export const triesBeforeStandIn = (urgent: boolean): number => (urgent ? 3 : 6)

const ORDER: Means[] = ['push', 'sms', 'mail', 'voice', 'chat', 'webhook']

/** Which of a person's other channels stands in for one: the same means first, then the one that is noticed soonest. */
export function standIn<Channel extends { kind: Means }>(kind: Means, others: readonly Channel[]): Channel | undefined {
  const rank = (each: Channel) => (each.kind === kind ? -1 : ORDER.indexOf(each.kind))
  return [...others].sort((a, b) => rank(a) - rank(b))[0]
}
