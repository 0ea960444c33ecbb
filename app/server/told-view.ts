import { runsOf, runsTable } from '@/core/calls/runs'
import { speakReading } from '@/core/conditions/unit'
import type { Unit } from '@/core/conditions/subject'
import type { KindDefinition } from '@/core/definitions/kind'
import { fitsSelector, nameOf } from '@/core/numbers/sample'
import { atEvenTimes, numbersOf } from '@/core/numbers/series'
import { HOUR } from '@/core/units'
import { kinds } from '@/kinds/definitions'
import type { StoredCheck } from '@/store/checks'
import { database } from '@/store/database'
import { latestCalls, latestPush, membersOf, pushesSince } from '@/store/inbox'
import type { NumberLine, Told } from '@/ui/told/told-table'
import { inletAddress, takes } from './inlet'

/** How many numbers are shown, how far back, and in how many steps. */
const NUMBERS = { most: 200, past: 3 * HOUR, steps: 60 }

export interface ToldView {
  what?: 'calls' | 'numbers'
  /** The check's own address; only for those who may change it. */
  address?: string
  told: Told
  /** Nothing has been told yet. */
  awaited: boolean
}

/** What a check that Hemeron judges itself was told, as its page shows it; undefined for all others. */
export async function toldView(stored: StoredCheck, mayEdit: boolean, now: number): Promise<ToldView | undefined> {
  if (!stored.check.isInside) return undefined
  const what = takes(stored)
  const address = mayEdit ? await inletAddress(stored) : undefined
  const told: Told = what === 'calls' ? { runs: runsTable(runsOf(await latestCalls(database(), stored.id))) } : what === 'numbers' ? await numbersTold(stored, now) : { members: await membersTold(stored) }
  const awaited = 'runs' in told ? told.runs.rows.length === 0 : 'numbers' in told ? told.numbers.length === 0 : false
  return { ...(what ? { what } : {}), ...(address ? { address } : {}), told, awaited }
}

/** The numbers that last came, those that conditions look at first, with what they have been. */
async function numbersTold(stored: StoredCheck, now: number): Promise<{ numbers: NumberLine[]; count: number; over: string }> {
  const judged = stored.check.pass.flatMap(({ test }) => (test.on === 'metric' ? [{ fits: fitsSelector(test.name), unit: test.unit }] : []))
  const latest = (await latestPush(database(), stored.id))?.samples ?? []
  const unitOf = (key: string): Unit | undefined => judged.find(({ fits }) => fits(key))?.unit
  const shown = [...latest].sort((a, b) => Number(unitOf(b[0]) !== undefined) - Number(unitOf(a[0]) !== undefined)).slice(0, NUMBERS.most)
  const { series } = numbersOf(await pushesSince(database(), stored.id, now - NUMBERS.past, [...new Set(shown.map(([key]) => nameOf(key)))]))
  const numbers = shown.map(([name, value]) => {
    const unit = unitOf(name)
    return { name, value: speakReading(unit ?? (/bytes/.test(name) ? 'size' : 'number'), value), past: atEvenTimes(series[name] ?? [], now - NUMBERS.past, now, NUMBERS.steps), isJudged: unit !== undefined }
  })
  return { numbers, count: latest.length, over: '3 hours' }
}

function membersTold(stored: StoredCheck) {
  const kind = kinds[stored.check.kind] as unknown as KindDefinition
  return membersOf(database(), kind.members?.(stored.settled.resolved[stored.check.kind] as Record<string, unknown>) ?? [])
}
