import { parseDuration } from '../definitions/duration'
import { fromLocal, readLocal } from '../time/zoned'
import type { Instant, Milliseconds } from '../units'

/** Time announced in advance: work in which failures count against nobody, or a release window that is open. */
export interface Planned {
  key: string
  title: string
  /** What the public is told. */
  public?: string
  does: 'work' | 'window'
  /** The first beginning, on the clock of the zone: `2026-11-24T02:00`. */
  from: string
  zone: string
  lasts: Milliseconds
  /** RRULE (RFC 5545, section 3.3.10), without the name before it. */
  repeats?: string
  /** Beginnings that are left out, on the clock of the zone. */
  except: string[]
  /** What it concerns; everything when it names nothing. */
  for: { services?: string[]; tags?: string[]; checks?: string[] }
}

export type PlannedDocument = { planned: string; title: string } & Record<string, unknown>

/** Reads a document that was validated before it was stored. */
export function acceptedPlanned(document: PlannedDocument): Planned {
  const written = document as PlannedDocument & { public?: string; does?: 'work' | 'window'; from: string; zone: string; lasts: string; repeats?: string; except?: string[]; for?: Planned['for'] }
  return {
    key: written.planned, title: written.title, ...(written.public === undefined ? {} : { public: written.public }), does: written.does ?? 'work', from: written.from, zone: written.zone,
    lasts: parseDuration(written.lasts)!, ...(written.repeats === undefined ? {} : { repeats: written.repeats }), except: written.except ?? [], for: written.for ?? {}
  }
}

/** What planned time looks at to know whether it concerns a check. */
export interface Concerned {
  key: string
  service?: string
  tags: string[]
}

/** Whether planned time concerns a check: named itself, or by its service or one of its tags. Naming nothing concerns all. */
export function concerns({ services, tags, checks }: Planned['for'], check: Concerned): boolean {
  if (services === undefined && tags === undefined && checks === undefined) return true
  return (checks?.includes(check.key) ?? false) || (check.service !== undefined && (services?.includes(check.service) ?? false)) || (tags?.some((tag) => check.tags.includes(tag)) ?? false)
}

/** The moment a local time of planned work stands for. */
export const beginsAt = (planned: Pick<Planned, 'zone'>, local: string): Instant => fromLocal(readLocal(local)!, planned.zone)
