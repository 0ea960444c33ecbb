import { setTimeout as sleep } from 'node:timers/promises'
import { database } from '@/store/database'
import { eventsAfter, newestEvent, type LiveEvent } from '@/store/live'

type Listener = (events: { topic: string; subject: number }[]) => void

/** Numbers are handed out before transactions commit; events that appear late lie at most this far back. */
const LOOK_BACK = 500

/** One reader of the event table for all open pages of this process; it rests while there are none. */
class LiveHub {
  private readonly listeners = new Set<Listener>()
  private running = false

  join(listener: Listener): () => void {
    this.listeners.add(listener)
    if (!this.running) void this.run()
    return () => void this.listeners.delete(listener)
  }

  private async run(): Promise<void> {
    this.running = true
    let last: number | undefined
    let seen = new Set<number>()
    let isFirst = true
    while (this.listeners.size > 0) {
      try {
        last ??= await newestEvent(database())
        const events = (await eventsAfter(database(), Math.max(0, last - LOOK_BACK))).filter((event) => !seen.has(event.id) && event.id > last! - LOOK_BACK)
        for (const event of events) seen.add(event.id)
        last = Math.max(last, ...events.map((event) => event.id))
        seen = new Set([...seen].filter((id) => id > last! - 2 * LOOK_BACK))
        if (events.length > 0 && !isFirst) this.tell(events)
        isFirst = false
      } catch {
        // the database is away for a moment; pages hear of what they missed when it is back
      }
      await sleep(400)
    }
    this.running = false
  }

  private tell(events: LiveEvent[]): void {
    const distinct = [...new Map(events.map(({ topic, subject }) => [`${topic}/${subject}`, { topic, subject }])).values()]
    for (const listener of this.listeners) listener(distinct)
  }
}

/** The hub of this process. */
export function liveHub(): LiveHub {
  const holder = globalThis as { hemeronHub?: LiveHub }
  holder.hemeronHub ??= new LiveHub()
  return holder.hemeronHub
}
