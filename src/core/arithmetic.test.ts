import fc from 'fast-check'
import { addAvailability, availability, budgetLeft, outageLength, speakAvailability } from './availability/availability'
import { actProblem, incidentLength, speakPlaces } from './incidents/incident'
import { speakCounts, todayConclusion } from './incidents/conclusion'
import { contrastServers, speakServers } from './incidents/contrast-servers'
import { incidentMessage } from './messages/message'
import { signRequest } from './messages/signature'
import { dailyPattern, speakPattern } from './patterns/daily-pattern'
import { blocksOf, drawBlocks, SMALLEST, type Stretch } from './ribbons/ribbon'
import { backOff } from './routing/back-off'
import { nextRun, nextRunAnywhere, phaseOf, requestsAnHour } from './schedule/next-run'
import { addValue, emptySketch, encodeSketch, encodeValues, mergeEncoded, mergeInto, percentile, SKETCH_ERROR } from './sketches/sketch'
import { dayStart, dayStartFrom, hourOfWeek, isZone, speakExactly } from './time/zoned'
import { usualByHour } from './usual/usual'
import { DAY, HOUR, MINUTE } from './units'
import type { Observation } from './observation'

const times = fc.array(fc.integer({ min: 0, max: 60_000_000 }), { minLength: 1, maxLength: 300 })
const sketchOf = (values: number[]) => {
  const sketch = emptySketch()
  values.forEach((value) => addValue(sketch, value))
  return sketch
}

describe('sketches', () => {
  it('give any percentile within their stated error of the exact one', () => {
    fc.assert(fc.property(times, fc.double({ min: 0.01, max: 1, noNaN: true }), (values, share) => {
      const exact = [...values].sort((a, b) => a - b)[Math.max(1, Math.ceil(share * values.length)) - 1]!
      expect(Math.abs(percentile(sketchOf(values), share)! - exact)).toBeLessThanOrEqual(exact * SKETCH_ERROR + 0.5)
    }))
  })

  it('are the same merged as made at once, also when encoded in between', () => {
    fc.assert(fc.property(times, times, (a, b) => {
      const merged = sketchOf(a)
      mergeInto(merged, sketchOf(b))
      expect(encodeSketch(merged)).toEqual(encodeSketch(sketchOf([...a, ...b])))
      const decoded = emptySketch()
      mergeEncoded(decoded, encodeSketch(sketchOf(a)))
      mergeEncoded(decoded, encodeValues(b))
      expect(encodeSketch(decoded)).toEqual(encodeSketch(merged))
    }))
  })
})

describe('availability', () => {
  const range = { from: 0, to: 100 * MINUTE }

  it('leaves planned work, pauses and time without data out, and gives bounds for the unknown', () => {
    const seen = availability([
      { state: 'up', from: 0, to: 40 * MINUTE }, { state: 'down', from: 40 * MINUTE, to: 50 * MINUTE }, { state: 'nodata', from: 50 * MINUTE, to: 70 * MINUTE },
      { state: 'paused', from: 70 * MINUTE, to: 80 * MINUTE }, { state: 'slow', from: 80 * MINUTE }
    ], range)
    expect(seen.share).toBeCloseTo(60 / 70)
    expect(seen.lowest).toBeCloseTo(60 / 90)
    expect(seen.highest).toBeCloseTo(80 / 90)
    expect(seen.outages).toBe(1)
  })

  it('adds up to the whole range, whatever the spans, and its bounds hold the truth', () => {
    const states = fc.constantFrom('up' as const, 'down' as const, 'nodata' as const, 'paused' as const, 'slow' as const)
    fc.assert(fc.property(fc.array(fc.tuple(states, fc.integer({ min: 1, max: 50 })), { minLength: 1, maxLength: 20 }), (list) => {
      let at = 0
      const spans = list.map(([state, length]) => ({ state, from: at, to: (at += length) }))
      const seen = availability(spans, { from: 0, to: at })
      expect(seen.up + seen.down + seen.unknown + seen.excluded).toBe(at)
      if (seen.share !== undefined) expect(seen.lowest! <= seen.share + 1e-9 && seen.share <= seen.highest! + 1e-9).toBe(true)
    }))
  })

  it('never says 100 for less, and measures the error budget', () => {
    expect(speakAvailability(0.999999)).toBe('99.99')
    expect(speakAvailability(1)).toBe('100.00')
    const seen = addAvailability([availability([{ state: 'down', from: 0, to: MINUTE / 2 }, { state: 'up', from: MINUTE / 2 }], { from: 0, to: 1000 * MINUTE })])
    expect(budgetLeft(seen, 0.999)).toBeCloseTo(0.5)
  })

  it('gives the length of an outage as a range', () => {
    expect(outageLength({ lastPass: 100, firstFail: 160 }, { lastFail: 400, firstPass: 460 })).toEqual({ least: 240, most: 360 })
  })
})

describe('ribbons', () => {
  const stretch = (location: number, from: number, to: number): Stretch => ({ check: 1, location, kind: 'fail', from, to })
  const range = { from: 0, to: DAY }

  it('rise to the largest share of locations in trouble at once', () => {
    const [block] = blocksOf([stretch(1, 0, HOUR), stretch(2, HOUR / 2, HOUR), stretch(3, 2 * HOUR, 3 * HOUR)], range, 0, () => 4)
    expect(block).toMatchObject({ from: 0, to: HOUR, share: 0.5 })
  })

  it('join consecutive failures, keep the smallest block visible and stay inside', () => {
    const blocks = blocksOf([stretch(1, 0, MINUTE), stretch(1, 2 * MINUTE, 3 * MINUTE), stretch(1, DAY - 1000, DAY)], range, 4 * MINUTE, () => 12)
    expect(blocks).toHaveLength(2)
    for (const drawn of drawBlocks(blocks, range, 350, 20)) {
      expect(drawn.width).toBeGreaterThanOrEqual(SMALLEST.width)
      expect(drawn.height).toBeGreaterThanOrEqual(SMALLEST.height)
      expect(drawn.x + drawn.width).toBeLessThanOrEqual(350)
    }
  })
})

describe('time', () => {
  it('has days of 23 and 25 hours where the clock is changed', () => {
    const spring = Date.parse('2026-03-29T12:00:00Z')
    expect(dayStartFrom(spring, 1, 'Europe/Oslo') - dayStart(spring, 'Europe/Oslo')).toBe(23 * HOUR)
    const autumn = Date.parse('2026-10-25T12:00:00Z')
    expect(dayStartFrom(autumn, 1, 'Europe/Oslo') - dayStart(autumn, 'Europe/Oslo')).toBe(25 * HOUR)
    expect(hourOfWeek(Date.parse('2026-11-23T13:30:00Z'), 'Europe/Oslo')).toBe(24 + 14)
    expect(speakExactly(Date.parse('2026-11-23T13:32:05Z'), 'Europe/Oslo')).toBe('2026-11-23 14:32:05 Europe/Oslo')
    expect([isZone('Europe/Oslo'), isZone('Nowhere/Land')]).toEqual([true, false])
  })

  it('runs each check once in every period, at its own phase', () => {
    fc.assert(fc.property(fc.integer({ min: 1, max: 5000 }), fc.integer({ min: 1, max: 200 }), fc.constantFrom(10_000, 60_000, 300_000), fc.integer({ min: 0, max: 1e12 }), (check, location, every, after) => {
      const next = nextRun({ check, location, every }, after)
      expect(next).toBeGreaterThan(after)
      expect(next - after).toBeLessThanOrEqual(every)
      expect(next % every).toBe(phaseOf({ check, location, every }))
    }))
    expect(nextRunAnywhere([], 0)).toBeUndefined()
    expect(requestsAnHour(60_000, 12, 1)).toBe(720)
  })

  it('knows what is usual only after enough weeks, and is not moved by one odd hour', () => {
    const start = Date.parse('2026-10-05T10:00:00Z')
    const week = (number: number, value: number) => ({ at: start + number * 7 * DAY, value })
    expect(usualByHour([week(0, 100), week(1, 100)], 'UTC')[hourOfWeek(start, 'UTC')]?.median).toBe(100)
    expect(usualByHour([week(0, 100)], 'UTC')[hourOfWeek(start, 'UTC')]).toBeUndefined()
    expect(usualByHour([100, 101, 99, 5000, 100].map((value, index) => week(index, value)), 'UTC')[hourOfWeek(start, 'UTC')]!.median).toBe(100)
  })

  it('finds trouble that comes back at the same time of day, and nothing where there is no pattern', () => {
    const start = Date.parse('2026-11-01T00:00:00Z')
    const daily = [0, 1, 2, 4, 5, 7, 8].map((day): Stretch => ({ check: 1, location: 1, kind: 'slow', from: start + day * DAY + 9 * HOUR + 15 * MINUTE, to: start + day * DAY + 10 * HOUR }))
    expect(speakPattern(dailyPattern(daily, { from: start, to: start + 10 * DAY }, 'UTC')!)).toBe('Slow near 09:15 on 7 of 10 days')
    const scattered = daily.map((each, index) => ({ ...each, from: each.from + index * 3 * HOUR }))
    expect(dailyPattern(scattered, { from: start, to: start + 10 * DAY }, 'UTC')).toBeUndefined()
  })
})

describe('what people are told', () => {
  const facts = { incident: 7, checkName: 'Sailings API', trouble: 'down' as const, sentence: 'the status is 503', since: 1_000_000, lastPass: 940_000, failing: 5, locations: 12, target: 'https://x.example/', places: ['Bergen', 'Galway'], measured: {} }

  it('says what, why, where, since when and, on recovery, how long', () => {
    const down = incidentMessage('down', facts, 'UTC', 1_480_000, 'https://hemeron.example')
    expect(down.subject).toBe('Sailings API is down')
    expect(down.lines.join(' ')).toMatch(/the status is 503.*5 of 12 locations: Bergen, Galway.*last passed/)
    expect(down.link).toBe('https://hemeron.example/incidents/7')
    const over = incidentMessage('over', { ...facts, endedAt: 1_540_000, lastFail: 1_480_000 }, 'UTC', 1_540_000)
    expect(over.lines.join(' ')).toContain('It lasted between 8 min and 10 min')
    expect(incidentLength(facts, 1_480_000)).toBe('between 8 min and 9 min so far')
    expect([speakPlaces(1, 1), speakPlaces(3, 3), speakPlaces(2, 5)]).toEqual(['at its only location', 'at all 3 locations', 'at 2 of 5 locations'])
  })

  it('waits longer after every try of a delivery, and gives up at the twelfth', () => {
    expect([1, 2, 11, 12].map(backOff)).toEqual([2000, 4000, 600_000, undefined])
  })

  it('signs a request so that any change to it is seen', () => {
    const request = { method: 'POST', url: 'https://x.example/hook', digest: 'sha-256=:abc:', secret: 'a secret', created: 1_700_000_000 }
    const { signature } = signRequest(request)
    expect(signRequest(request).signature).toBe(signature)
    for (const change of [{ url: 'https://y.example/hook' }, { digest: 'sha-256=:abd:' }, { secret: 'another' }, { created: 1 }]) expect(signRequest({ ...request, ...change }).signature).not.toBe(signature)
  })

  it('concludes with no more than the numbers say', () => {
    expect(todayConclusion([], {})).toBe('Nothing is watched yet.')
    expect(todayConclusion([], { up: 3 })).toBe('Nothing needs you.')
    expect(todayConclusion([], { up: 3, suspect: 1 })).toContain('being tried again')
    expect(todayConclusion([{ name: 'Sailings API' }, { name: 'Checkout', holder: 'Priya Nandakumar' }], { down: 2 })).toBe('Sailings API needs a person. Priya holds Checkout.')
    expect(speakCounts({ up: 2, nodata: 1 }).map((each) => each.text)).toEqual(['2 up', '1 without data'])
  })

  it('refuses acts that do not fit', () => {
    expect(actProblem('take', { holder: 3 }, 3)).toContain('already')
    expect(actProblem('close', { closedAt: 5 }, 3)).toContain('closed')
    expect(actProblem('note', { closedAt: 5 }, 3)).toBeUndefined()
    expect(actProblem('take', { holder: 4 }, 3)).toBeUndefined()
  })

  it('names a server only when it alone gives the failing answers', () => {
    const tries = (server: string, count: number): Observation[] => Array.from({ length: count }, () => ({ server }) as Observation)
    expect(speakServers(contrastServers(tries('edge-4', 6), [...tries('edge-1', 5), ...tries('edge-2', 5)]))).toBe('edge-4 gave all 6 failing answers; edge-1, edge-2 pass.')
    expect(contrastServers([...tries('edge-4', 6), ...tries('edge-1', 1)], tries('edge-2', 5)).culprit).toBeUndefined()
    expect(contrastServers(tries('edge-4', 2), tries('edge-1', 50)).culprit).toBeUndefined()
    expect(contrastServers(tries('edge-4', 6), tries('edge-4', 6)).culprit).toBeUndefined()
  })
})
