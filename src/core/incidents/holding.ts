import { median } from '../usual/usual'
import type { Instant, Milliseconds } from '../units'

/** What of an incident says how it was dealt with. */
export interface Dealt {
  openedAt: Instant
  takenAt: Instant | null
  closedAt: Instant | null
  holder: string | null
  notReal: boolean
}

/** How incidents were dealt with, for whoever leads the people who hold them. */
export interface Holding {
  open: number
  /** Open and held by nobody, with how long the oldest of them has waited. */
  waiting: number
  longestWait?: Milliseconds
  held: number
  done: number
  /** Over without anybody taking them. */
  untaken: number
  notReal: number
  /** From the call to the first take, and from the call to the close, in the middle. */
  toTake?: Milliseconds
  toClose?: Milliseconds
  people: { name: string; holds: number; took: number; toTake: Milliseconds }[]
}

const middle = (times: number[]) => (times.length === 0 ? undefined : median(times))

/** Adds up how incidents were dealt with; people who took most come first. */
export function holdingOf(incidents: readonly Dealt[], now: Instant): Holding {
  const open = incidents.filter((each) => each.closedAt === null)
  const waiting = open.filter((each) => each.holder === null)
  const done = incidents.filter((each) => each.closedAt !== null)
  const taken = incidents.filter((each) => each.takenAt !== null)
  const [toTake, toClose] = [middle(taken.map((each) => each.takenAt! - each.openedAt)), middle(done.map((each) => each.closedAt! - each.openedAt))]
  const names = [...new Set(incidents.flatMap((each) => each.holder ?? []))]
  return {
    open: open.length, waiting: waiting.length, held: open.length - waiting.length, done: done.length, untaken: done.filter((each) => each.takenAt === null).length, notReal: incidents.filter((each) => each.notReal).length,
    ...(waiting.length === 0 ? {} : { longestWait: now - Math.min(...waiting.map((each) => each.openedAt)) }), ...(toTake === undefined ? {} : { toTake }), ...(toClose === undefined ? {} : { toClose }),
    people: names.map((name) => {
      const own = taken.filter((each) => each.holder === name)
      return { name, holds: open.filter((each) => each.holder === name).length, took: own.length, toTake: middle(own.map((each) => each.takenAt! - each.openedAt)) ?? 0 }
    }).sort((a, b) => b.took - a.took || a.name.localeCompare(b.name))
  }
}
