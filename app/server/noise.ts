import { speakDuration } from '@/core/definitions/duration'
import { groupBy } from '@/core/group-by'
import { calmerRules, calmest, type Calmed } from '@/core/replay/calmer'
import { locationsOf } from '@/core/places/places'
import { DAY } from '@/core/units'
import { listChecks } from '@/store/checks'
import { database } from '@/store/database'
import { listTold } from '@/store/deliveries'
import { listIncidents } from '@/store/incidents'
import { listLocations } from '@/store/locations'
import { playRules } from './replay'

/** A check that tells more than anybody acts on, with the change of its rule that would have quieted it. */
export interface Noisy {
  key: string
  name: string
  incidents: number
  untouched: number
  messages: number
  version: number
  calmed?: { words: string; before: number; after: number; later: string; written: Calmed['calmer']['written'] }
}

const RANKED = { days: 14, most: 4, atLeast: 3 }
const PLAYED = 35

/** The noisiest checks of two weeks, most messages that nobody acted on first; what would quiet them comes from playing rules on 35 days. */
export async function noisyChecks(now: number): Promise<Noisy[]> {
  const [checks, incidents, told, locations] = [await listChecks(database()), await listIncidents(database(), { real: true, from: now - RANKED.days * DAY, limit: 2000 }), await listTold(database(), now - RANKED.days * DAY), await listLocations(database())]
  const messages = groupBy(told, (each) => each.incident)
  const ranked = [...groupBy(incidents, (each) => each.check)].flatMap(([check, own]) => {
    const stored = checks.find((each) => each.id === check)
    const untouched = own.filter((each) => each.holder === null || each.notReal)
    return stored && untouched.length >= RANKED.atLeast ? [{ stored, incidents: own.length, untouched: untouched.length, messages: untouched.reduce((sum, each) => sum + (messages.get(each.id)?.length ?? 0), 0) }] : []
  }).sort((a, b) => b.messages - a.messages || b.untouched - a.untouched).slice(0, RANKED.most)
  const noisy: Noisy[] = []
  for (const { stored, ...counted } of ranked) {
    const rules = calmerRules(stored.check, locationsOf(stored.check.from, locations).length)
    const [present, ...played] = await playRules(stored, [stored.check, ...rules.map((each) => each.rule)], PLAYED, now)
    const calmed = calmest(present!, played.map((replayed, index) => ({ calmer: rules[index]!, replayed })))
    noisy.push({ key: stored.check.key, name: stored.check.name, version: stored.version, ...counted, ...(calmed ? { calmed: { words: calmed.calmer.words, before: calmed.before, after: calmed.after, later: speakDuration(Math.round(calmed.later / 1000) * 1000), written: calmed.calmer.written } } : {}) })
  }
  return noisy
}
