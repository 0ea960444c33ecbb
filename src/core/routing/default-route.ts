import type { News } from '../messages/message'

export interface Reachable {
  channel: number
  /** The person the channel belongs to; a channel of the whole workspace has none. */
  person?: number
  working: boolean
}

/** One message that has to go out. The key is unique: the same step is never sent twice. */
export interface Step {
  key: string
  channel: number
  person?: number
}

/**
 * The one route there is for now: everyone hears everything, at once, on every channel they have.
 * Those who were told that it began hear that it is over, and nobody else does.
 * @param told channels that were told of this incident before
 */
export function defaultRoute(incident: number, news: Exclude<News, 'test'>, reachable: Reachable[], told: ReadonlySet<number>): Step[] {
  return reachable
    .filter((each) => each.working && (news !== 'over' || told.has(each.channel)))
    .map((each) => ({
      key: `incident/${incident}/${news}/${each.channel}`,
      channel: each.channel,
      ...(each.person === undefined ? {} : { person: each.person })
    }))
}

/** How long to wait before the next try of a delivery: 2 s, 4 s, 8 s … at most 10 min; undefined when it is given up. */
export function backOff(triesMade: number): number | undefined {
  return triesMade >= 12 ? undefined : Math.min(600_000, 1000 * 2 ** triesMade)
}
