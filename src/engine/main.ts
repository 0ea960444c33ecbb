import { randomUUID } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import { resumeDue } from '../store/checks'
import { isDatabaseGone, openPool } from '../store/database'
import { JOBS, leaseShares, releaseShares, sharesWithArrivals } from '../store/engine-work'
import { gatherHeld } from '../store/delivering'
import { readSettings } from '../store/settings'
import { followBurns } from './burn-step'
import { refresh, type Definitions } from './definitions'
import { deliverDue } from './deliver'
import { evaluateShare, type ShareMemory } from './evaluate-share'
import { tellAsked, tellUnexplained } from './incident-step'
import { summarise } from './summarise'
import { endOthers, tellSteadily } from './tell-step'
import { followWindows, makeSheets, rollUpDue, tidy, turnSilentAndPaused } from './upkeep'
import { SHARES } from '../store/probes'
import { UsualTimes } from './usual-times'

const LEASE = 5000
const BEAT = 1000

const say = (text: string) => process.stdout.write(`${new Date().toISOString()} engine ${text}\n`)

/** The engine's loops. Each goes on after a fault; a database that is away is waited for. */
async function main(): Promise<void> {
  const pool = openPool(process.env.HEMERON_DATABASE!, 8)
  const engine = randomUUID()
  let definitions: Definitions | undefined
  let held: number[] = []
  const memories = new Map<number, ShareMemory>()
  let windows = ''
  const usual = new UsualTimes()
  let stopping = false

  const loop = async (name: string, pause: number, work: () => Promise<number | void>) => {
    while (!stopping) {
      try {
        const did = await work()
        if (!did) await sleep(pause)
      } catch (error) {
        memories.clear()
        if (!isDatabaseGone(error)) say(`${name}: ${error instanceof Error ? error.stack : String(error)}`)
        await sleep(isDatabaseGone(error) ? 300 : 1000)
      }
    }
  }

  const loops = [
    loop('lease', BEAT, async () => {
      const now = await leaseShares(pool, engine, Date.now(), LEASE)
      for (const share of held) if (!now.includes(share)) memories.delete(share)
      held = now
    }),
    loop('definitions', 200, async () => {
      const next = await refresh(pool, definitions, Date.now())
      if (next !== definitions && definitions) next.settings = await readSettings(pool)
      definitions = next
    }),
    loop('evaluate', 60, async () => {
      if (!definitions || held.length === 0) return 0
      let taken = 0
      for (const share of (await sharesWithArrivals(pool)).filter((each) => held.includes(each))) {
        definitions = await refresh(pool, definitions, Date.now())
        const memory = memories.get(share) ?? new Map()
        memories.set(share, memory)
        taken += (await evaluateShare(pool, share, engine, definitions, usual, memory, Date.now)) ?? 0
      }
      return taken
    }),
    loop('states', 1000, async () => {
      if (!definitions || held.length === 0) return
      if (held.includes(JOBS.upkeep)) {
        await resumeDue(pool, Date.now())
        windows = await followWindows(pool, definitions, windows, Date.now())
      }
      const turned = await turnSilentAndPaused(pool, definitions, (check) => held.includes(check % SHARES), Date.now())
      await tellUnexplained(pool, definitions, (check) => held.includes(check % SHARES), Date.now())
      for (const check of turned) memories.get(check % SHARES)?.delete(check)
    }),
    loop('tell', 250, async () => {
      if (!held.includes(JOBS.deliveries) || !definitions) return
      await tellAsked(pool, definitions, Date.now())
      await endOthers(pool, definitions, Date.now())
      await tellSteadily(pool, definitions, Date.now())
    }),
    loop('budgets', 10_000, async () => { if (definitions && held.includes(JOBS.upkeep)) await followBurns(pool, definitions, Date.now()) }),
    loop('gather', 1000, async () => {
      if (!held.includes(JOBS.deliveries) || !definitions) return
      await gatherHeld(pool, definitions.settings.zone, definitions.settings.address || undefined, Date.now())
    }),
    loop('deliver', 100, async () => (held.includes(JOBS.deliveries) && definitions ? deliverDue(pool, await readSettings(pool), Date.now) : 0)),
    loop('roll up', 2000, async () => (held.includes(JOBS.upkeep) ? rollUpDue(pool, Date.now()) : 0)),
    loop('sheets', 2000, async () => (held.includes(JOBS.upkeep) ? makeSheets(pool, Date.now()) : 0)),
    loop('usual', 10_000, async () => { if (definitions) await usual.follow(pool, definitions, (check) => held.includes(check % SHARES), Date.now()) }),
    loop('tidy', 60_000, async () => { if (definitions) await tidy(pool, definitions, Date.now()) }),
    loop('summarise', 45_000, async () => {
      while (!definitions && !stopping) await sleep(100)
      if (definitions && !stopping) await summarise(pool, definitions, Date.now())
    })
  ]
  const stop = async () => {
    stopping = true
    await releaseShares(pool, engine).catch(() => undefined)
    process.exit(0)
  }
  process.once('SIGTERM', stop)
  process.once('SIGINT', stop)
  say('started')
  await Promise.all(loops)
}

void main()
