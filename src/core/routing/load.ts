import { minuteOfDay } from '../time/zoned'
import type { Instant } from '../units'

/** One message that told of trouble. */
export interface ToldOnce {
  /** The person, or the channel when it belongs to nobody. */
  name: string
  /** The person's number; undefined for a channel. */
  person?: number
  incident: number
  at: Instant
  /** Who has held the incident. */
  holder?: number
  notReal: boolean
}

/** What somebody, or a channel, was told over a stretch. */
export interface Load {
  name: string
  isPerson: boolean
  /** Messages. */
  told: number
  /** Of these, how many between 22:00 and 07:00. */
  atNight: number
  /** Share of the incidents told of which the person took; for a channel, which anybody took. */
  actedOn: number
  /** Share of the incidents that were not real. */
  notReal: number
}

const NIGHT = { from: 22 * 60, to: 7 * 60 }

/** Adds up who was told how much, the most told first. A message by two means counts twice: the phone rang twice. */
export function loadOf(told: readonly ToldOnce[], zone: string): Load[] {
  const groups = new Map<string, ToldOnce[]>()
  for (const each of told) {
    const key = each.person === undefined ? `channel ${each.name}` : `person ${each.person}`
    groups.set(key, [...(groups.get(key) ?? []), each])
  }
  return [...groups.values()].map((own): Load => {
    const incidents = [...new Map(own.map((each) => [each.incident, each])).values()]
    const share = (holds: (each: ToldOnce) => boolean) => incidents.filter(holds).length / incidents.length
    return {
      name: own[0]!.name, isPerson: own[0]!.person !== undefined, told: own.length,
      atNight: own.filter(({ at }) => { const minute = minuteOfDay(at, zone); return minute >= NIGHT.from || minute < NIGHT.to }).length,
      actedOn: share((each) => (each.person === undefined ? each.holder !== undefined : each.holder === each.person)), notReal: share((each) => each.notReal)
    }
  }).sort((a, b) => b.told - a.told || a.name.localeCompare(b.name))
}
