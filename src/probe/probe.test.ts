import { mkdtempSync, readdirSync, writeFileSync } from 'node:fs'
import http from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import type { Observation } from '../core/observation'
import { Outbox } from './outbox'
import { realLink } from './links/real-link'
import { Probe } from './probe'
import { Scheduler } from './scheduler'
import { ServerClock } from './server-clock'
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

describe('a probe that is asked for much at once', () => {
  let open = 0
  let most = 0
  const server = http.createServer((_request, response) => {
    open += 1
    most = Math.max(most, open)
    setTimeout(() => {
      open -= 1
      response.end('slow')
    }, 150)
  })
  const quick = http.createServer((_request, response) => response.end('quick'))
  const listen = (each: http.Server) => new Promise<string>((resolve) => each.listen(0, '127.0.0.1', () => resolve(`http://127.0.0.1:${(each.address() as AddressInfo).port}/`)))
  const place = { id: 1, key: 'here', allowsInternal: true, ranges: [], proxy: null, references: [] }
  const runnable = (check: string, url: string) => ({ document: { check, name: check, every: '1h', http: { url } }, used: [], secrets: [] })
  let urls: [string, string]
  beforeAll(async () => { urls = [await listen(server), await listen(quick)] })
  afterAll(() => {
    server.close()
    quick.close()
  })

  /** A probe with a quick check 7 and a slow check 8, which gets some orders, one after the other. */
  function busy(orders: { runs: unknown[]; tries: unknown[] }[], serverTime = Date.now) {
    const [answered, seen]: [string[], Observation[]] = [[], []]
    let [isFirst, stopped] = [true, false]
    most = 0
    const later = async <Value>(value: Value): Promise<Value> => { await sleep(stopped ? 1 : 50); return value }
    const wire = {
      assignments: () => (isFirst ? (isFirst = false, Promise.resolve({ etag: '"1"', zone: 'UTC', locations: [place], checks: [{ ...runnable('watched', urls[1]), id: 7, version: 1, locations: [{ id: 1 }] }, { ...runnable('slow', urls[0]), id: 8, version: 1, locations: [{ id: 1 }] }] })) : later(undefined)),
      orders: () => { const next = orders.shift(); return next ? Promise.resolve(next) : later({ runs: [], tries: [] }) },
      health: () => later({ now: serverTime() }), observations: async (batch: Observation[]) => { seen.push(...batch) }, tries: async ([one]: { id: string }[]) => { answered.push(one!.id) }
    }
    const probe = new Probe(wire as never, new Spool(folder()), (location) => realLink(location), () => undefined)
    void probe.run()
    return { answered, seen, stop: () => { stopped = true; return probe.stop() } }
  }
  const until = async (holds: () => boolean) => { for (let waited = 0; !holds() && waited < 8000; waited += 20) await sleep(20) }

  it('answers thousands of tries, few at a time, and runs what is watched meanwhile', async () => {
    const { answered, seen, stop } = busy([{ tries: Array.from({ length: 200 }, (_, index) => ({ ...runnable('tried', urls[0]), id: `try-${index}`, location: 1 })), runs: [{ id: 1, check: 7, location: 1, at: Date.now() + 400, occasion: 'asked' }] }])
    await until(() => seen.length > 0)
    // the watched check was run and its observation handed over while most tries still waited their turn
    expect(seen[0]).toMatchObject({ check: 7, verdict: 'pass' })
    expect(answered.length).toBeLessThan(200)
    await until(() => answered.length >= 200)
    expect(new Set(answered).size).toBe(200)
    expect(most).toBeLessThanOrEqual(40)
    await stop()
  }, 20_000)

  it('runs what people asked for a few at a time, once however often it is handed out, and tries again after a failure at once', async () => {
    const begun = Date.now()
    const asked = Array.from({ length: 120 }, (_, index) => ({ id: index, check: 8, location: 1, at: begun + index / 1000, occasion: 'asked' }))
    const { seen, stop } = busy([{ runs: asked, tries: [] }, { runs: [...asked.slice(60), { id: 500, check: 7, location: 1, at: begun, occasion: 'again' }], tries: [] }])
    await until(() => seen.some((each) => each.check === 7))
    expect(seen.filter((each) => each.check === 8).length).toBeLessThan(60)
    await until(() => seen.filter((each) => each.check === 8).length >= 120)
    await sleep(400)
    expect(seen.filter((each) => each.check === 8)).toHaveLength(120)
    expect(most).toBeLessThanOrEqual(24)
    await stop()
  }, 20_000)

  it('stamps what it sees by the clock of the server', async () => {
    const behind = 90_000
    const { seen, stop } = busy([{ runs: [{ id: 1, check: 7, location: 1, at: Date.now() + 500, occasion: 'asked' }], tries: [] }], () => Date.now() - behind)
    await until(() => seen.length > 0)
    expect(Math.abs(Date.now() - behind - seen[0]!.at)).toBeLessThan(2000)
    await stop()
  }, 20_000)
})

describe('the clock of the server', () => {
  const ahead = (clock: ServerClock) => Math.round((Date.now() - clock.now()) / 50) * 50
  it('is the own one until it is known to be off, and again when it is mended', () => {
    const clock = new ServerClock()
    expect(ahead(clock)).toBe(0)
    clock.heard(41_000, 80)
    expect(ahead(clock)).toBe(41_000)
    clock.heard(-3_600_000, 80)
    expect(ahead(clock)).toBe(-3_600_000)
    clock.heard(12, 80)
    expect(ahead(clock)).toBe(0)
  })
  it('does not follow what a slow answer leaves open, nor small changes', () => {
    const clock = new ServerClock()
    clock.heard(4000, 9000)
    expect(ahead(clock)).toBe(0)
    clock.heard(600, 20)
    expect(ahead(clock)).toBe(0)
    clock.heard(41_000, 80)
    clock.heard(41_700, 80)
    expect(ahead(clock)).toBe(41_000)
  })
})
