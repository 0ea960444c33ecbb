import { setImmediate as breathe } from 'node:timers/promises'
import type { Check, CheckDocument } from '@/core/definitions/check'
import { onlyIn, outcomeOf, type RuleReplay } from '@/core/replay/compare'
import { powerOf } from '@/core/replay/power'
import { Replay, type Replayed } from '@/core/replay/replay'
import { locationsOf } from '@/core/places/places'
import { spread } from '@/core/schedule/spread'
import { usualLimit } from '@/core/usual/judge-usual'
import { DAY } from '@/core/units'
import type { StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { settleForTry } from '@/store/define-one'
import { reachableChannels } from '@/store/deliveries'
import { listLocations } from '@/store/locations'
import { listPeople } from '@/store/people'
import { triesByDay } from '@/store/tries'
import { readUsual } from '@/store/usual'
import { settings } from './session'

/** Plays a check's rule, as it stands and as it would be, over its recorded past. Undefined when there is no record yet. */
export async function replayRules(stored: StoredCheck, document: CheckDocument, days: number, now: number): Promise<RuleReplay | undefined> {
  const begun = performance.now()
  const { zone } = await settings()
  const { settled } = await settleForTry(database(), document, stored.id)
  const wished = await play(stored, settled.check, days, zone, now)
  if (wished.tries === 0) return undefined
  const present = await play(stored, stored.check, days, zone, now)
  const people = await told()
  const chance = Math.min(0.5, present.strayFailures / Math.max(1, present.tries))
  const places = locationsOf(stored.check.from, await listLocations(database())).length
  const facts = (replayed: Replayed, check: Check) => ({ ...outcomeOf(replayed, people, zone), power: powerOf(check, places, chance) })
  return {
    days, tries: wished.tries, wished: facts(wished, settled.check), present: facts(present, stored.check),
    missed: onlyIn(present.incidents, wished.incidents), added: onlyIn(wished.incidents, present.incidents), chance, took: performance.now() - begun
  }
}

async function play(stored: StoredCheck, check: Check, days: number, zone: string, now: number): Promise<Replayed> {
  const locations = spread(locationsOf(check.from, await listLocations(database())), stored.id).map((location) => location.id)
  const phase = check.slow?.phase ?? 'total'
  const { slow } = check
  const usual = slow?.above === 'usual' ? (await readUsual(database(), stored.id, phase)).byLocation : undefined
  const replay = new Replay({
    rule: check, inTurn: check.turns === 'in-turn', ...(usual ? { limit: (location: number, at: number) => usualLimit(usual.get(location), at, zone, slow!.spreads) } : {})
  }, locations)
  for await (const day of triesByDay(database(), stored.id, phase, { from: now - days * DAY, to: now })) {
    replay.feed(day)
    // other requests go on between two days
    await breathe()
  }
  return replay.done()
}

/** Everyone who would hear of it, with how many channels each has. */
async function told(): Promise<{ name: string; channels: number }[]> {
  const [people, channels] = [await listPeople(database()), await reachableChannels(database())]
  const own = people.map((person) => ({ name: person.name, channels: channels.filter((channel) => channel.person === person.id).length })).filter((person) => person.channels > 0)
  const shared = channels.filter((channel) => channel.person === null || channel.person === undefined).length
  return [...own, ...(shared > 0 ? [{ name: 'shared channels', channels: shared }] : [])]
}
