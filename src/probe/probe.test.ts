import { mkdtempSync, readdirSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import type { Observation } from '../core/observation'
import { Outbox } from './outbox'
import { Scheduler } from './scheduler'
import { Spool } from './spool'
import { WireError } from './wire'

const folder = () => mkdtempSync(join(tmpdir(), 'hemeron-spool-'))
const observation = (at: number): Observation => ({ check: 1, location: 1, at, occasion: 'scheduled', verdict: 'pass', phases: {}, total: 1, version: 1 })

describe('the spool', () => {
  it('gives batches back oldest first, also to a probe that was started again', () => {
    const place = folder()
    const spool = new Spool(place)
    spool.put([observation(1)])
    spool.put([observation(2), observation(3)])
    const again = new Spool(place)
    const first = again.oldest()!
    expect(first.observations.map((each) => each.at)).toEqual([1])
    first.forget()
    expect(again.oldest()!.observations.map((each) => each.at)).toEqual([2, 3])
  })

  it('throws half-written files away and sets unreadable ones aside', () => {
    const place = folder()
    writeFileSync(join(place, '1.json.gz.part'), 'half')
    writeFileSync(join(place, '0001.json.gz'), 'not gzip')
    const spool = new Spool(place)
    spool.put([observation(5)])
    expect(spool.oldest()!.observations[0]!.at).toBe(5)
    expect(readdirSync(place).some((name) => name.endsWith('.part'))).toBe(false)
    expect(readdirSync(place).some((name) => name.endsWith('.unreadable'))).toBe(true)
  })
})

describe('the outbox', () => {
  it('keeps everything while the server is away and sends it in order when it is back', async () => {
    let away = true
    const taken: number[] = []
    const wire = { observations: async (batch: Observation[]) => {
      if (away) throw new Error('refused')
      taken.push(...batch.map((each) => each.at))
    } }
    const outbox = new Outbox(wire, new Spool(folder()), () => undefined)
    outbox.put(observation(1))
    await sleep(300)
    outbox.put(observation(2))
    await sleep(700)
    expect(taken).toEqual([])
    away = false
    for (let waited = 0; taken.length < 2 && waited < 3000; waited += 50) await sleep(50)
    expect(taken).toEqual([1, 2])
    await outbox.stop()
  })

  it('puts what is left on disk when it stops', async () => {
    const place = folder()
    const outbox = new Outbox({ observations: () => Promise.reject(new Error('away')) }, new Spool(place), () => undefined)
    outbox.put(observation(9))
    await outbox.stop()
    expect(new Spool(place).oldest()!.observations[0]!.at).toBe(9)
  })

  it('drops a batch the server refuses for good, says so, and goes on', async () => {
    const said: string[] = []
    const taken: number[] = []
    const outbox = new Outbox({ observations: async (batch) => {
      if (batch.some((each) => each.at === 1)) throw new WireError(422, 'bad document')
      taken.push(...batch.map((each) => each.at))
    } }, new Spool(folder()), (text) => said.push(text))
    outbox.put(observation(1))
    await sleep(300)
    outbox.put(observation(2))
    await sleep(400)
    expect(said[0]).toContain('refused')
    expect(taken).toEqual([2])
    await outbox.stop()
  })
})

describe('the schedule', () => {
  beforeEach(() => jest.useFakeTimers({ now: 1_700_000_000_000 }))
  afterEach(() => jest.useRealTimers())

  it('runs every item once in each period, and no item that was taken away', () => {
    const runs: string[] = []
    const scheduler = new Scheduler(({ check, location }) => runs.push(`${check}/${location}`))
    scheduler.set([{ check: 1, location: 1, every: 10_000 }, { check: 1, location: 2, every: 10_000 }, { check: 2, location: 1, every: 60_000 }])
    jest.advanceTimersByTime(60_000)
    expect(runs.filter((each) => each === '1/1')).toHaveLength(6)
    expect(runs.filter((each) => each === '1/2')).toHaveLength(6)
    expect(runs.filter((each) => each === '2/1')).toHaveLength(1)
    scheduler.set([{ check: 1, location: 1, every: 10_000 }])
    runs.length = 0
    jest.advanceTimersByTime(30_000)
    expect(runs).toEqual(['1/1', '1/1', '1/1'])
    scheduler.stop()
    jest.advanceTimersByTime(60_000)
    expect(runs).toHaveLength(3)
  })
})
