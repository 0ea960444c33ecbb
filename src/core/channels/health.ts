import type { Milliseconds } from '../units'

/** How one message went: sent after a time, or not. */
export interface Carried {
  channel: number
  /** From being written down to being handed over; undefined when it never was. */
  took?: Milliseconds
  tries: number
}

export interface ChannelHealth {
  messages: number
  median?: Milliseconds
  slowest?: Milliseconds
  /** Share of messages that needed more than one try, or were never handed over. */
  failing: number
  /** How many of the last messages in a row were not handed over. */
  lostInARow: number
}

/** How reliable each channel has been, from its messages in the order of time. */
export function healthOf(carried: readonly Carried[]): Map<number, ChannelHealth> {
  const groups = new Map<number, Carried[]>()
  for (const each of carried) groups.set(each.channel, [...(groups.get(each.channel) ?? []), each])
  return new Map([...groups].map(([channel, own]) => {
    const times = own.flatMap((each) => each.took ?? []).sort((a, b) => a - b)
    const lastSent = own.map((each) => each.took !== undefined).lastIndexOf(true)
    return [channel, {
      messages: own.length, failing: own.filter((each) => each.took === undefined || each.tries > 1).length / own.length, lostInARow: own.length - 1 - lastSent,
      ...(times.length === 0 ? {} : { median: times[Math.floor((times.length - 1) / 2)]!, slowest: times.at(-1)! })
    }]
  }))
}
