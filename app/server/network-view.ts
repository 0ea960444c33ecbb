import { meanLoss } from '@/core/findout/answer'
import { placesOf } from '@/core/findout/tries'
import { partyOfNetwork } from '@/core/parties/parties'
import { through } from '@/core/places/through'
import { blocksOf } from '@/core/ribbons/ribbon'
import { dayStart, dayStartFrom, speakDay } from '@/core/time/zoned'
import { DAY, HOUR, MINUTE } from '@/core/units'
import { HemeronError } from '@/core/problems'
import { database } from '@/store/database'
import { listStretches } from '@/store/states'
import { DEFAULT_QUESTION } from '@/core/findout/question'
import { askedWorld, triesOf } from './asked-world'

const DAYS = 10

/** Everything the page of a network shows: what goes through it beside what goes through the others. Throws not-found. */
export async function networkView(name: string, now: number) {
  const world = await askedWorld()
  const locations = world.locations.filter((each) => each.network === name)
  if (locations.length === 0) throw new HemeronError('not-found', 'No location sits on such a network.')
  const own = new Set(locations.map((each) => each.id))
  // whole minutes: whoever looks within one of them is given the same tries
  const minute = Math.ceil(now / MINUTE) * MINUTE
  const { tries } = await triesOf({ ...DEFAULT_QUESTION, by: 'check' }, world, { from: minute - DAY, to: minute }, 'answer')
  const checks = new Map(world.checks.map((each) => [each.id, each.check]))
  const since = now - HOUR
  const loss = (fits: (index: number) => boolean) => meanLoss(tries, placesOf(tries, fits))
  const days = { from: dayStartFrom(now, -(DAYS - 1), world.zone), to: dayStartFrom(dayStart(now, world.zone), 1, world.zone) }
  const stretches = (await listStretches(database(), world.checks.map((each) => each.id), days)).filter((each) => own.has(each.location) && each.kind !== 'planned' && each.kind !== 'silent')
  const pairs = world.checks.length * locations.length
  return {
    zone: world.zone, locations, party: partyOfNetwork(world.parties, name), rows: through(tries, (location) => own.has(location), since).flatMap((row) => { const check = checks.get(row.check); return check ? [{ ...row, key: check.key, name: check.name }] : [] }),
    loss: { now: loss((index) => own.has(tries.location[index]!) && tries.at[index]! >= since), before: loss((index) => own.has(tries.location[index]!) && tries.at[index]! < since), others: loss((index) => !own.has(tries.location[index]!) && tries.at[index]! >= since) },
    days: Array.from({ length: DAYS }, (_, index) => {
      const from = dayStartFrom(dayStart(now, world.zone), -index, world.zone)
      const range = { from, to: dayStartFrom(from, 1, world.zone) }
      // one ribbon for all checks: the height of a block is the share of checks and locations of the network in trouble
      return { name: speakDay(from, world.zone), range, blocks: blocksOf(stretches.map((each) => ({ ...each, check: 0, to: each.to ?? now })), range, 4 * MINUTE, () => pairs) }
    })
  }
}
