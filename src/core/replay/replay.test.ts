import fc from 'fast-check'
import { OCCASIONS, VERDICTS, type Observation } from '../observation'
import type { StateRule } from '../states/location-memory'
import { DAY, MINUTE, SECOND } from '../units'
import { onlyIn, outcomeOf } from './compare'
import { columnsOf, packTries, unpackTries, type Tries } from './pack'
import { betaTail, powerOf, tail } from './power'
import { Replay } from './replay'

const rule: StateRule = { down: { tries: 2, apart: 10_000, locations: 2 }, up: { tries: 2 } }
const observation = (at: number, more: Partial<Observation> = {}): Observation => ({ check: 1, location: 1, at, occasion: 'scheduled', verdict: 'pass', phases: { wait: 40 }, total: 100, version: 1, ...more })

/** One try a minute at a location; `bad` says which minutes fail, `slow` how long each takes. */
function minutes(count: number, offset: number, bad: (minute: number) => boolean, time: (minute: number) => number = () => 100): Tries {
  return columnsOf(Array.from({ length: count }, (_, minute) => observation(minute * MINUTE + offset, { verdict: bad(minute) ? 'fail' : 'pass', total: time(minute) })), 'total')
}
function play(by: StateRule, tries: Tries[], more: Partial<{ inTurn: boolean; limit: (location: number, at: number) => number | undefined }> = {}) {
  const replay = new Replay({ rule: by, inTurn: false, ...more }, tries.map((_, index) => index + 1))
  replay.feed(new Map(tries.map((each, index) => [index + 1, each])))
  return replay.done()
}
const never = () => false
const between = (from: number, to: number) => (minute: number) => minute >= from && minute < to

describe('packed tries', () => {
  const any = fc.record({ at: fc.integer({ min: 0, max: DAY - 1 }), verdict: fc.constantFrom(...VERDICTS), occasion: fc.constantFrom(...OCCASIONS), total: fc.float({ min: 0, max: 100_000, noNaN: true }), wait: fc.option(fc.float({ min: 0, max: 60_000, noNaN: true }), { nil: undefined }) })

  it('are read back: times to a hundredth of a millisecond, phases that did not happen as such', () => {
    fc.assert(fc.property(fc.uniqueArray(any, { selector: (each) => each.at, maxLength: 60 }), (given) => {
      const start = 1_700_006_400_000
      const observations = given.map(({ at, verdict, occasion, total, wait }) => observation(start + at, { verdict, occasion, total, phases: wait === undefined ? {} : { wait } }))
      const packed = packTries(observations, start)
      for (const phase of ['total', 'wait', 'tls'] as const) {
        const [read, wanted] = [unpackTries(packed, start, phase), columnsOf(observations, phase)]
        expect([...read.at]).toEqual([...wanted.at])
        expect([...read.verdict]).toEqual([...wanted.verdict])
        expect([...read.occasion]).toEqual([...wanted.occasion])
        read.time.forEach((time, index) => (Number.isNaN(wanted.time[index]!) ? expect(time).toBeNaN() : expect(Math.abs(time - wanted.time[index]!)).toBeLessThan(0.02)))
      }
    }))
  })

  it('take about sixteen bytes each, and say when they are cut off', () => {
    const many = Array.from({ length: 1440 }, (_, minute) => observation(minute * MINUTE, { total: 340.1, phases: { lookup: 3.2, connect: 31, tls: 60.4, wait: 230, receive: 15 } }))
    const packed = packTries(many, 0)
    expect(packed.length / many.length).toBeLessThanOrEqual(18)
    expect(() => unpackTries(packed.subarray(0, 100), 0, 'total')).toThrow('in the middle')
  })
})

describe('a rule on the recorded past', () => {
  it('calls an outage that enough locations see, after the tries it asks for, and ends it after enough passes', () => {
    const { incidents } = play(rule, [0, 1, 2].map((place) => minutes(60, place * 20_000, between(20, 30))))
    expect(incidents).toHaveLength(1)
    const [incident] = incidents
    expect(incident).toMatchObject({ trouble: 'down', from: 20 * MINUTE })
    expect(incident!.called - incident!.from).toBeLessThanOrEqual(20 * SECOND)
    expect(incident!.to).toBeGreaterThanOrEqual(30 * MINUTE)
    expect(incident!.to).toBeLessThan(32 * MINUTE)
  })

  it('lets single failures and a single bad location pass, and counts the strays', () => {
    const quiet = play(rule, [minutes(200, 0, (minute) => minute === 50), minutes(200, 20_000, never), minutes(200, 40_000, never)])
    expect(quiet.incidents).toEqual([])
    expect(quiet.strayFailures).toBeGreaterThanOrEqual(1)
    expect(play(rule, [minutes(60, 0, between(10, 40)), minutes(60, 20_000, never)]).incidents).toEqual([])
  })

  it('finds more when it asks for less, and later when it asks for more', () => {
    const past = [minutes(300, 0, (minute) => between(20, 40)(minute) || between(100, 103)(minute)), minutes(300, 20_000, between(20, 40)), minutes(300, 40_000, between(22, 40))]
    const outcome = (down: StateRule['down']) => play({ down, up: { tries: 2 } }, past).incidents
    const [loose, present, strict] = [outcome({ tries: 1, apart: 1000, locations: 1 }), outcome(rule.down), outcome({ tries: 5, apart: 30_000, locations: 3 })]
    expect([loose.length, present.length, strict.length]).toEqual([2, 1, 1])
    expect(strict[0]!.called).toBeGreaterThan(present[0]!.called)
    expect(onlyIn(loose, present).map((each) => each.from)).toEqual([100 * MINUTE])
    expect(onlyIn(present, loose)).toEqual([])
  })

  it('calls slow what stays above a limit for long enough, and does not flutter at the limit', () => {
    const slow: StateRule = { ...rule, slow: { phase: 'total', above: 500, spreads: 6, margin: 0.2, for: 5 * MINUTE, locations: 1 } }
    const time = (minute: number) => (between(20, 30)(minute) ? 700 : between(30, 40)(minute) ? (minute % 2 === 0 ? 510 : 450) : 100)
    const { incidents } = play(slow, [minutes(60, 0, never, time)])
    expect(incidents).toHaveLength(1)
    expect(incidents[0]).toMatchObject({ trouble: 'slow', from: 20 * MINUTE })
    expect(incidents[0]!.to).toBeGreaterThanOrEqual(40 * MINUTE)
    const fluttering = play({ ...slow, slow: { ...slow.slow!, margin: 0 }, up: { tries: 1 } }, [minutes(60, 0, never, time)])
    expect(fluttering.incidents[0]!.to).toBeLessThan(32 * MINUTE)
  })

  it('is silent against what is usual until that is known', () => {
    const usual: StateRule = { ...rule, slow: { phase: 'total', above: 'usual', spreads: 6, margin: 0, for: 0, locations: 1 } }
    const past = [minutes(60, 0, never, (minute) => (minute > 30 ? 900 : 100))]
    expect(play(usual, past, { limit: () => undefined }).incidents).toEqual([])
    expect(play(usual, past, { limit: () => 400 }).incidents).toMatchObject([{ from: 31 * MINUTE }])
  })

  it('leaves out what a location saw without its line', () => {
    const cut = columnsOf(Array.from({ length: 60 }, (_, minute) => observation(minute * MINUTE, between(10, 40)(minute) ? { verdict: 'fail', occasion: 'cut-off' } : {})), 'total')
    expect(play({ down: { tries: 1, apart: 1000, locations: 1 }, up: { tries: 1 } }, [cut]).incidents).toEqual([])
  })

  it('still lasts at the end of the past when nothing ended it', () => {
    const [incident] = play(rule, [minutes(60, 0, between(50, 99)), minutes(60, 20_000, between(50, 99))]).incidents
    expect(incident).toBeDefined()
    expect(incident).not.toHaveProperty('to')
  })

  it('sees an outage that reaches over the end of a piece as one', () => {
    const all = [0, 1].map((place) => minutes(80, place * 30_000, between(35, 45)))
    const slice = (tries: Tries, from: number, to: number): Tries => ({ at: tries.at.slice(from, to), verdict: tries.verdict.slice(from, to), occasion: tries.occasion.slice(from, to), time: tries.time.slice(from, to) })
    for (const cut of [10, 36, 40, 44, 60]) {
      const replay = new Replay({ rule, inTurn: false }, [1, 2])
      for (const [from, to] of [[0, cut], [cut, 80]] as const) replay.feed(new Map(all.map((tries, index) => [index + 1, slice(tries, from, to)])))
      expect([cut, replay.done().incidents.map((each) => each.from)]).toEqual([cut, [35 * MINUTE]])
    }
  })

  it('plays 600 000 tries from twelve locations in well under a second', () => {
    const days = 35
    const replay = new Replay({ rule, inTurn: false }, Array.from({ length: 12 }, (_, index) => index + 1))
    const piece = new Map(Array.from({ length: 12 }, (_, index) => [index + 1, minutes(1440, index * 5000, between(600, 620))]))
    const begun = performance.now()
    for (let day = 0; day < days; day += 1) {
      for (const tries of piece.values()) for (let index = 0; index < tries.at.length; index += 1) tries.at[index]! += day === 0 ? 0 : DAY
      replay.feed(piece)
    }
    const took = performance.now() - begun
    expect(replay.done().incidents).toHaveLength(days)
    expect(took).toBeLessThan(3000)
  })
})

describe('who would have heard of it', () => {
  it('is counted by person, with the nights apart', () => {
    const at = (hour: number) => Date.parse('2026-11-23T00:00:00Z') + hour * 3_600_000
    const outcome = outcomeOf({ incidents: [{ trouble: 'down', from: at(1), called: at(1) + 20_000, to: at(2), failing: 3 }, { trouble: 'slow', from: at(12), called: at(12) + 60_000, failing: 1 }] }, [{ name: 'Ines Falk', channels: 2 }, { name: 'Jonas Wiik', channels: 1 }], 'UTC')
    expect(outcome).toMatchObject({ incidents: 2, down: 1, slow: 1, detection: 40_000, messages: 9, atNight: 6, people: [{ name: 'Ines Falk', messages: 6, atNight: 4 }, { name: 'Jonas Wiik', messages: 3, atNight: 2 }] })
    expect(outcomeOf({ incidents: [] }, [], 'UTC')).not.toHaveProperty('detection')
  })
})

describe('what to expect of a rule', () => {
  it('follows the tail of the binomial distribution', () => {
    expect(tail(3, 2, 0.5)).toBeCloseTo(0.5, 12)
    expect(tail(12, 1, 0.01)).toBeCloseTo(1 - 0.99 ** 12, 12)
    expect([tail(5, 0, 0.3), tail(5, 6, 0.3), tail(5, 2, 0), tail(4, 4, 1)]).toEqual([1, 0, 0, 1])
    fc.assert(fc.property(fc.integer({ min: 1, max: 30 }), fc.integer({ min: 1, max: 30 }), fc.double({ min: 0.001, max: 0.999, noNaN: true }), (n, k, p) => {
      fc.pre(k <= n)
      expect(tail(n, k, p)).toBeGreaterThanOrEqual(tail(n, k + 1, p) - 1e-12)
      expect(betaTail(n, k, p, 1e-9)).toBeCloseTo(tail(n, k, p), 4)
      expect(betaTail(n, k, p, 1)).toBe(p)
    }))
  })

  it('raises more false alarms where locations fail together', () => {
    expect(betaTail(12, 2, 0.001, 0.2)).toBeGreaterThan(tail(12, 2, 0.001))
  })

  it('trades speed against noise', () => {
    const of = (tries: number, locations: number, turns: 'together' | 'in-turn' = 'together') => powerOf({ every: 60_000, down: { tries, apart: 10_000, locations }, turns }, 12, 0.002)
    expect(of(1, 1).falseAlarms).toBeCloseTo(43_200 * (1 - 0.998 ** 12), 6)
    expect(of(2, 2).falseAlarms).toBeLessThan(0.0001)
    expect(of(2, 2).detection).toBeCloseTo(60_000 / 13 + 10_000)
    expect(of(3, 2).detection).toBeGreaterThan(of(2, 2).detection)
    expect(of(2, 2, 'in-turn').detection).toBe(40_000)
    expect(powerOf({ every: 60_000, down: { tries: 2, of: 5, apart: 10_000, locations: 1 }, turns: 'together' }, 1, 0.01).falseAlarms).toBeCloseTo(43_200 * tail(5, 2, 0.01))
  })
})
