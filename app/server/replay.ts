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
  const [wished, present] = await playBoth(stored, [settled.check, stored.check], days, zone, now) as [Replayed, Replayed]
  if (wished.tries === 0) return undefined
  const people = await told()
  const chance = Math.min(0.5, present.strayFailures / Math.max(1, present.tries))
  const places = locationsOf(stored.check.from, await listLocations(database())).length
  const facts = (replayed: Replayed, check: Check) => ({ ...outcomeOf(replayed, people, zone), power: powerOf(check, places, chance) })
  return {
    days, tries: wished.tries, wished: facts(wished, settled.check), present: facts(present, stored.check),
    missed: onlyIn(present.incidents, wished.incidents), added: onlyIn(wished.incidents, present.incidents), chance, took: performance.now() - begun
  }
}

/** Plays several rules of one check over its recorded past. */
export async function playRules(stored: StoredCheck, rules: Pick<Check, 'down' | 'slow'>[], days: number, now: number): Promise<Replayed[]> {
  return playBoth(stored, rules.map((rule) => ({ ...stored.check, ...rule })), days, (await settings()).zone, now)
}

/** Plays several rules of one check on the same past, which is read once for each phase they look at. Equal rules are played once. */
async function playBoth(stored: StoredCheck, checks: Check[], days: number, zone: string, now: number): Promise<Replayed[]> {
  const ruleOf = ({ down, up, slow, turns, from }: Check) => JSON.stringify([down, up, slow, turns, from])
  const distinct = [...new Map(checks.map((check) => [ruleOf(check), check])).values()]
  const all = await listLocations(database())
  const replays = await Promise.all(distinct.map(async (check) => {
    const { slow } = check
    const phase = slow?.phase ?? 'total'
    const usual = slow?.above === 'usual' ? (await readUsual(database(), stored.id, phase)).byLocation : undefined
    const locations = spread(locationsOf(check.from, all), stored.id).map((location) => location.id)
    const limit = usual && ((location: number, at: number) => usualLimit(usual.get(location), at, zone, slow!.spreads))
    return { check, phase, replay: new Replay({ rule: check, inTurn: check.turns === 'in-turn', ...(limit ? { limit } : {}) }, locations) }
  }))
  for (const phase of new Set(replays.map((each) => each.phase))) {
    const own = replays.filter((each) => each.phase === phase)
    for await (const day of triesByDay(database(), stored.id, phase, { from: now - days * DAY, to: now })) {
      for (const { replay } of own) replay.feed(day)
      // other requests go on between two days
      await breathe()
    }
  }
  const done = new Map(replays.map(({ check, replay }) => [ruleOf(check), replay.done()]))
  return checks.map((check) => done.get(ruleOf(check))!)
}

/** Everyone who would hear of it, with how many channels each has. */
async function told(): Promise<{ name: string; channels: number }[]> {
  const [people, channels] = [await listPeople(database()), await reachableChannels(database())]
  const own = people.map((person) => ({ name: person.name, channels: channels.filter((channel) => channel.person === person.key).length })).filter((person) => person.channels > 0)
  const shared = channels.filter((channel) => channel.person === undefined).length
  return [...own, ...(shared > 0 ? [{ name: 'shared channels', channels: shared }] : [])]
}
