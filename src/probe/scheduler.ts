import { nextRun, type Beat } from '../core/schedule/next-run'
import type { Instant } from '../core/units'

/** Runs each item once in each of its periods, at its own phase. Times come from the clock, so nothing drifts. */
export class Scheduler {
  private readonly timers = new Map<string, { item: Beat; timer: NodeJS.Timeout }>()

  constructor(private readonly run: (item: Beat, due: Instant) => void) {}

  /** Makes these the items; those that stay as they were keep their timers. */
  set(items: Beat[]): void {
    const wanted = new Map(items.map((item) => [`${item.check}/${item.location}/${item.every}/${item.turn?.index}/${item.turn?.of}`, item]))
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

  private arm(key: string, item: Beat, after: Instant): void {
    const due = nextRun(item, after)
    const timer = setTimeout(() => {
      this.arm(key, item, Math.max(due, Date.now() - 1))
      this.run(item, due)
    }, Math.max(0, due - Date.now()))
    this.timers.set(key, { item, timer })
  }
}
