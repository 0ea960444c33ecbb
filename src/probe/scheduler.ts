import { nextRun } from '../core/schedule/next-run'
import type { Instant, Milliseconds } from '../core/units'

export interface Scheduled {
  check: number
  location: number
  every: Milliseconds
}

/** Runs each item once in each of its periods, at its own phase. Times come from the clock, so nothing drifts. */
export class Scheduler {
  private readonly timers = new Map<string, { item: Scheduled; timer: NodeJS.Timeout }>()

  constructor(private readonly run: (item: Scheduled, due: Instant) => void) {}

  /** Makes these the items; those that stay as they were keep their timers. */
  set(items: Scheduled[]): void {
    const wanted = new Map(items.map((item) => [`${item.check}/${item.location}/${item.every}`, item]))
    for (const [key, { timer }] of this.timers) {
      if (wanted.has(key)) continue
      clearTimeout(timer)
      this.timers.delete(key)
    }
    for (const [key, item] of wanted) if (!this.timers.has(key)) this.arm(key, item, Date.now())
  }

  stop(): void {
    this.set([])
  }

  private arm(key: string, item: Scheduled, after: Instant): void {
    const due = nextRun(item.check, item.location, item.every, after)
    const timer = setTimeout(() => {
      this.arm(key, item, Math.max(due, Date.now() - 1))
      this.run(item, due)
    }, Math.max(0, due - Date.now()))
    this.timers.set(key, { item, timer })
  }
}
