import type { Observation } from '../../src/core/observation'
import { Replay } from '../../src/core/replay/replay'
import { DAY, MINUTE } from '../../src/core/units'
import { listChecks } from '../../src/store/checks'
import { openPool, type Pool } from '../../src/store/database'
import { previewDefinitions } from '../../src/store/define'
import { storeDays, triesByDay } from '../../src/store/tries'
import type { Measured } from './measured'

const [DAYS, LOCATIONS] = [35, 12]

/** Plays one rule over 35 days of tries every minute from twelve locations, read from the store. */
async function benchReplay(pool: Pool, check: number): Promise<Measured> {
  const today = Math.floor(Date.now() / DAY)
  for (let day = today - DAYS; day < today; day += 1) {
    await storeDays(pool, Array.from({ length: LOCATIONS }, (_, location) => ({ check, day, location: location + 1, observations: dayOf(check, day, location + 1) })))
  }
  const took: number[] = []
  let incidents = 0
  for (let round = 0; round < 5; round += 1) {
    const begun = performance.now()
    const replay = new Replay({ rule: { down: { tries: 2, apart: 10_000, locations: 2 }, up: { tries: 2 } }, inTurn: false }, Array.from({ length: LOCATIONS }, (_, index) => index + 1))
    for await (const tries of triesByDay(pool, check, 'total', { from: (today - DAYS) * DAY, to: today * DAY })) replay.feed(tries)
    incidents = replay.done().incidents.length
    took.push(performance.now() - begun)
  }
  const middle = [...took].sort((a, b) => a - b)[2]!
  return { what: `replay of one rule, 35 days, 12 locations, a try a minute, ${incidents} incidents`, budget: 'at most 1000 ms', measured: `${Math.round(middle)} ms`, met: middle <= 1000 }
}

/** What a change of all 500 checks would come to: every one of them judged in the world as it would be. */
async function benchPreview(pool: Pool): Promise<Measured> {
  const checks = await listChecks(pool)
  const wanted = checks.map((stored) => ({ kind: 'check' as const, key: stored.check.key, document: { ...stored.document, every: '10m', tags: ['bench'] } }))
  const took: number[] = []
  for (let round = 0; round < 7; round += 1) {
    const begun = performance.now()
    const { drafts, problems } = await previewDefinitions(pool, wanted)
    took.push(performance.now() - begun)
    if (drafts.length !== wanted.length || problems.length > 0) throw new Error('the preview is not what it should be')
  }
  const middle = [...took].sort((a, b) => a - b)[3]!
  return { what: `bulk preview of ${wanted.length} checks`, budget: 'at most 500 ms', measured: `${Math.round(middle)} ms`, met: middle <= 500 }
}

/** The workshop's rows: a rule replayed, and a change of everything previewed. */
export async function benchWorkshop(url: string): Promise<Measured[]> {
  const pool = openPool(url)
  try {
    const [first] = await listChecks(pool)
    return [await benchReplay(pool, first!.id), await benchPreview(pool)]
  } finally {
    await pool.end()
  }
}

/** A day with an outage of twenty minutes that ten locations see. */
function dayOf(check: number, day: number, location: number): Observation[] {
  return Array.from({ length: 1440 }, (_, minute) => {
    const isBad = location <= 10 && minute >= 600 && minute < 620
    const wait = 180 + ((minute * 7919 + location * 104_729) % 60)
    return { check, location, at: day * DAY + minute * MINUTE + location * 4000, occasion: 'scheduled', verdict: isBad ? 'fail' : 'pass', phases: { lookup: 4.2, connect: 31, tls: 62, wait, receive: 12 }, total: 110 + wait, version: 1 }
  })
}
