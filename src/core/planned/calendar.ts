import type { Instant } from '../units'
import { concerns, type Concerned, type Planned } from './planned'
import { occurrences, type Occurrence } from './recurrence'

/** Planned time with the ends that people gave single times of it. */
export interface Entry {
  planned: Planned
  ends: Record<string, Instant>
}

/** Looks no further than this for the next beginning or end. */
const AHEAD = 3_600_000

/** What planned time is on at a moment. It is asked every second, so it works out again only when something begins or ends. */
export class Calendar {
  private active: { entry: Entry; occurrence: Occurrence }[] = []
  private from = Infinity
  private until = -Infinity

  constructor(private readonly entries: Entry[]) {}

  /** The entries that are on, with the time of each. */
  at(now: Instant): { entry: Entry; occurrence: Occurrence }[] {
    if (now < this.from || now >= this.until) this.look(now)
    return this.active
  }

  /** The planned work that concerns a check at a moment. */
  workOn(check: Concerned, now: Instant): { entry: Entry; occurrence: Occurrence } | undefined {
    return this.at(now).find(({ entry: { planned } }) => planned.does === 'work' && concerns(planned.for, check))
  }

  /** The release window that the calendar opens for a check at a moment. */
  windowOf(check: Concerned, now: Instant): { entry: Entry; occurrence: Occurrence } | undefined {
    return this.at(now).find(({ entry: { planned } }) => planned.does === 'window' && concerns(planned.for, check))
  }

  private look(now: Instant): void {
    const near = this.entries.flatMap((entry) => occurrences(entry.planned, { from: now, to: now + AHEAD }, entry.ends).map((occurrence) => ({ entry, occurrence })))
    this.active = near.filter(({ occurrence }) => occurrence.from <= now && now < occurrence.to)
    const edges = near.flatMap(({ occurrence }) => [occurrence.from, occurrence.to]).filter((edge) => edge > now)
    this.from = now
    this.until = Math.min(now + AHEAD, ...edges)
  }
}
