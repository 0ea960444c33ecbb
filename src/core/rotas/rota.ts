import type { Hours } from '../hours/hours'
import { isWithinHours, parseHours } from '../hours/hours'
import { firings } from '../planned/recurrence'
import { fromLocal, readLocal, toLocal } from '../time/zoned'
import { DAY, MINUTE, type Instant } from '../units'

/** People who take turns. The first to have the turn has it from `from` on. */
export interface Layer {
  /** Keys of people, in the order of their turns. */
  people: string[]
  /** The first hand-over, on the clock of the rota's zone: `2026-11-02T08:00`. */
  from: string
  /** A day, a week, or a rule of its own (RRULE, RFC 5545) that says when it hands over. */
  every: 'day' | 'week' | string
  /** The hours in which the layer is on call; always when there are none. */
  hours?: Hours
}

/** Someone stands in for whoever would be on call, for a while. */
export interface Cover {
  from: string
  to: string
  person: string
}

/** Who is on call when. Layers are asked from the top; the first that has someone decides; cover goes before all. */
export interface Rota {
  key: string
  name: string
  zone: string
  layers: Layer[]
  cover: Cover[]
}

export type RotaDocument = { rota: string; name: string } & Record<string, unknown>

/** Reads a document that was validated before it was stored. */
export function acceptedRota(document: RotaDocument): Rota {
  const written = document as RotaDocument & { zone: string; layers: { people: string[]; from: string; every: string; hours?: string | string[] }[]; cover?: Cover[] }
  return {
    key: written.rota, name: written.name, zone: written.zone, cover: written.cover ?? [],
    layers: written.layers.map(({ hours, ...layer }) => ({ ...layer, ...(hours === undefined ? {} : { hours: { at: [hours].flat().map((each) => parseHours(each)!) } }) }))
  }
}

/** Who is on call, and by which part of the rota. */
export interface OnCall {
  person: string
  /** Place of the layer, from 0; undefined for cover. */
  layer?: number
}

/**
 * Who is on call at a moment. Hand-overs happen on the clock of the rota's zone, so that a hand-over at 08:00 stays at
 * 08:00 when the clocks change: that turn lasts 23 or 25 hours.
 * @returns undefined in a hole of the rota
 */
export function onCall(rota: Rota, at: Instant): OnCall | undefined {
  const cover = rota.cover.findLast(({ from, to }) => at >= instant(rota, from) && at < instant(rota, to))
  if (cover) return { person: cover.person }
  for (const [index, layer] of rota.layers.entries()) {
    const turn = turnAt(rota, layer, at)
    if (turn !== undefined && isWithinHours(layer.hours, at, rota.zone)) return { person: layer.people[turn % layer.people.length]!, layer: index }
  }
  return undefined
}

const instant = ({ zone }: Pick<Rota, 'zone'>, local: string): Instant => fromLocal(readLocal(local)!, zone)
const lengthOf = (layer: Layer) => (layer.every === 'day' ? DAY : 7 * DAY)

/** Whether a layer hands over by a rule of its own. */
export const hasRule = ({ every }: Pick<Layer, 'every'>): boolean => every !== 'day' && every !== 'week'

/** Hand-overs of one rule are worked out once, as far as they were asked for, and in steps of a year. */
const known = new Map<string, { until: number; handOvers: number[] }>()
const RULES_KNOWN = 500
const MOST_HAND_OVERS = 20_000

function handOvers(layer: Layer, until: number): number[] {
  const key = `${layer.from} ${layer.every}`
  const found = known.get(key)
  if (found && found.until >= until) return found.handOvers
  if (known.size >= RULES_KNOWN) known.clear()
  const far = until + 366 * DAY
  const fresh = firings(layer.every, readLocal(layer.from)!, far, MOST_HAND_OVERS)
  known.set(key, { until: far, handOvers: fresh })
  return fresh
}

/** The place of the last number that is not above a value, in numbers in order; -1 when all are above. */
function lastNotAbove(sorted: readonly number[], value: number): number {
  let [low, high] = [0, sorted.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (sorted[middle]! <= value) low = middle + 1
    else high = middle
  }
  return low - 1
}

/** Counts the hand-overs since the first; undefined before it. */
function turnAt(rota: Rota, layer: Layer, at: Instant): number | undefined {
  const first = readLocal(layer.from)!
  if (hasRule(layer)) {
    const all = handOvers(layer, toLocal(at, rota.zone) + DAY)
    const guess = lastNotAbove(all, toLocal(at, rota.zone))
    const turn = [guess + 1, guess, guess - 1].find((each) => all[each] !== undefined && fromLocal(all[each], rota.zone) <= at)
    return turn
  }
  const guess = Math.floor((toLocal(at, rota.zone) - first) / lengthOf(layer))
  // a clock that was set forward or back puts the guess one turn beside the truth, near a hand-over
  const turn = [guess + 1, guess, guess - 1].find((each) => fromLocal(first + each * lengthOf(layer), rota.zone) <= at)!
  return turn < 0 ? undefined : turn
}

/** A stretch in which the same person, or nobody, is on call. */
export interface Shift {
  from: Instant
  to: Instant
  person?: string
  isCover: boolean
}

/** How finely hours are looked at: they are written to the minute, and change at full five minutes or at their own ends. */
function turnsOf(rota: Rota, range: { from: Instant; to: Instant }): Instant[] {
  const turns = new Set<Instant>([range.from, range.to])
  const add = (at: Instant) => { if (at > range.from && at < range.to) turns.add(at) }
  for (const { from, to } of rota.cover) {
    add(instant(rota, from))
    add(instant(rota, to))
  }
  const day = Math.floor(toLocal(range.from, rota.zone) / DAY) * DAY - DAY
  for (const layer of rota.layers) {
    const first = readLocal(layer.from)!
    if (hasRule(layer)) for (const local of handOvers(layer, toLocal(range.to, rota.zone) + DAY)) add(fromLocal(local, rota.zone))
    else {
      const begin = Math.max(0, Math.floor((toLocal(range.from, rota.zone) - first) / lengthOf(layer)) - 1)
      for (let turn = begin, at = 0; (at = fromLocal(first + turn * lengthOf(layer), rota.zone)) < range.to; turn += 1) add(at)
    }
    if (!layer.hours) continue
    for (let local = day; local < toLocal(range.to, rota.zone) + DAY; local += DAY) {
      for (const { from, to } of layer.hours.at) for (const minutes of [from, to, 1440]) add(fromLocal(local + minutes * MINUTE, rota.zone))
    }
  }
  return [...turns].sort((a, b) => a - b)
}

/** Who is on call over a range, oldest first, without a break: holes are shifts without a person. */
export function shifts(rota: Rota, range: { from: Instant; to: Instant }): Shift[] {
  const turns = turnsOf(rota, range)
  const found: Shift[] = []
  for (let index = 0; index + 1 < turns.length; index += 1) {
    const [from, to] = [turns[index]!, turns[index + 1]!]
    const now = onCall(rota, from)
    const isCover = now !== undefined && now.layer === undefined
    const last = found.at(-1)
    if (last && last.person === now?.person && last.isCover === isCover) last.to = to
    else found.push({ from, to, ...(now ? { person: now.person } : {}), isCover })
  }
  return found
}
