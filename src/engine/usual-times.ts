import { speakMilliseconds } from '../core/definitions/duration'
import type { Observation } from '../core/observation'
import { usualLimit, usualTimes } from '../core/usual/judge-usual'
import { DAY, HOUR, type Instant } from '../core/units'
import type { StoredCheck } from '../store/checks'
import type { Pool } from '../store/database'
import { readSketches, type Metric } from '../store/rollups'
import { readUsual, storeUsual, type UsualByLocation } from '../store/usual'
import type { Definitions } from './definitions'

const WEEKS = 5 * 7 * DAY
/** An hour with this share of failed or slow observations says nothing about what is usual. */
const TROUBLED = 0.05

/** What is usual for the checks that are judged by it, kept up to date and asked for every observation. */
export class UsualTimes {
  private readonly known = new Map<string, { at: Instant; byLocation: UsualByLocation }>()

  /** Works out once an hour what is usual, for checks whose rule for slow says so, and reads what was worked out. */
  async follow(pool: Pool, definitions: Definitions, mine: (check: number) => boolean, now: Instant): Promise<void> {
    for (const stored of definitions.checks.values()) {
      const { slow } = stored.check
      if (slow?.above !== 'usual' || !mine(stored.id)) continue
      const key = `${stored.id}/${slow.phase}`
      const known = this.known.get(key) ?? await readUsual(pool, stored.id, slow.phase)
      this.known.set(key, known)
      if (now - known.at < HOUR) continue
      for (const location of definitions.places.get(stored.id) ?? []) {
        const windows = (await readSketches(pool, [stored.id], '1h', slow.phase as Metric, { from: now - WEEKS, to: now - HOUR }, location)).filter((window) => window.fails + window.slows <= TROUBLED * window.all)
        const usual = usualTimes(windows, definitions.settings.zone)
        await storeUsual(pool, stored.id, location, slow.phase, usual, now)
        known.byLocation.set(location, usual)
      }
      known.at = now
    }
  }

  /** The limit for one observation; undefined while what is usual is not known. */
  limit(stored: StoredCheck, seen: Observation, zone: string): number | undefined {
    const { slow } = stored.check
    if (slow?.above !== 'usual') return undefined
    return usualLimit(this.known.get(`${stored.id}/${slow.phase}`)?.byLocation.get(seen.location), seen.at, zone, slow.spreads)
  }

  /** The observation as what is usual judges it: one that passed and took far longer than usual is slow. */
  judged(stored: StoredCheck | undefined, seen: Observation, zone: string): Observation {
    if (!stored || seen.verdict === 'fail' || seen.verdict === 'slow') return seen
    const limit = this.limit(stored, seen, zone)
    const time = timeOf(stored, seen)
    if (limit === undefined || time === undefined || time <= limit) return seen
    return { ...seen, verdict: 'slow', reason: 'slow', sentence: `${stored.check.slow!.phase} took ${speakMilliseconds(time)}; up to ${speakMilliseconds(limit)} is usual here at this hour` }
  }

  /** Whether a time lies below its limit by the margin of recovery. */
  quick(stored: StoredCheck, zone: string): ((seen: Observation) => boolean | undefined) | undefined {
    const { slow } = stored.check
    if (slow?.above !== 'usual') return undefined
    return (seen) => {
      const limit = this.limit(stored, seen, zone)
      const time = timeOf(stored, seen)
      return limit === undefined || time === undefined ? undefined : time <= limit * (1 - slow.margin)
    }
  }
}

function timeOf(stored: StoredCheck, seen: Observation): number | undefined {
  const phase = stored.check.slow?.phase ?? 'total'
  return phase === 'total' ? seen.total : seen.phases[phase]
}
