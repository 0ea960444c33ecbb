import { speakTime } from '../time/zoned'
import type { Instant } from '../units'
import type { Message } from './message'

/** A message that waited for the end of quiet hours. */
export interface Held {
  at: Instant
  message: Message
}

/** One message for everything that came in quiet hours: per incident, in the order of time, what was told and how it went on. */
export function digestMessage(held: readonly Held[], zone: string, address?: string): Message {
  const threads = new Map<string, Held[]>()
  for (const each of [...held].sort((a, b) => a.at - b.at)) threads.set(each.message.thread, [...(threads.get(each.message.thread) ?? []), each])
  const lasting = [...threads.values()].filter((own) => own.at(-1)!.message.news !== 'over').length
  const count = `${threads.size} ${threads.size === 1 ? 'incident' : 'incidents'} in your quiet hours`
  return {
    news: 'digest', subject: `${count}${lasting === 0 ? ', all over' : lasting === threads.size ? '' : `, ${lasting} not over`}`,
    lines: [
      `${count}. ${lasting === 0 ? 'All are over.' : lasting === 1 ? 'One is not over.' : `${lasting} are not over.`}`,
      ...[...threads.values()].map((own) => own.map(({ at, message }) => `${speakTime(at, zone)} ${message.subject}`).join('; ') + (own[0]!.message.link ? ` (${own[0]!.message.link})` : ''))
    ],
    ...(address ? { link: `${address}/incidents` } : {}), urgent: false, thread: 'digest', facts: { incidents: threads.size, lasting }
  }
}
