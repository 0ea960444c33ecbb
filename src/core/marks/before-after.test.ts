import { seededRandom } from '../seeded-random'
import { addValue, emptySketch } from '../sketches/sketch'
import { beforeAfter, speakBeforeAfter, type Block } from './before-after'
import { readMark } from './mark'

const speak = (value: number) => `${Math.round(value)} ms`
/** Blocks of half an hour at several locations, each with a base of its own. */
function blocks(random: () => number, { factor = 1, shift = 0, locations = [1, 2, 3], count = 24, fails = 0 }: { factor?: number; shift?: number; locations?: number[]; count?: number; fails?: number } = {}): Block[] {
  return locations.flatMap((location) => Array.from({ length: count }, () => {
    const sketch = emptySketch()
    const hour = 1 + 0.05 * (random() - 0.5)
    for (let index = 0; index < 30; index += 1) addValue(sketch, 1000 * ((100 * location * hour * (0.9 + 0.2 * random())) * factor + shift))
    return { location, sketch, tries: 30, fails: random() < fails ? 3 : 0 }
  }))
}

describe('before and after', () => {
  it('finds a difference with a range that holds the true one', () => {
    const random = seededRandom(4)
    let holds = 0
    for (let round = 0; round < 12; round += 1) {
      const found = beforeAfter(blocks(random), blocks(random, { shift: -20 }), random)
      expect(found.change).toBe('faster')
      if (found.low! <= -18 && found.high! >= -22) holds += 1
    }
    expect(holds).toBeGreaterThanOrEqual(9)
  })
  it('claims none where there is none', () => {
    const random = seededRandom(9)
    const claims = Array.from({ length: 24 }, () => beforeAfter(blocks(random), blocks(random), random)).filter((each) => each.change !== 'no difference')
    expect(claims.length).toBeLessThanOrEqual(3)
  })
  it('says where', () => {
    const random = seededRandom(2)
    const found = beforeAfter(blocks(random), [...blocks(random, { factor: 1.4, locations: [1, 2] }), ...blocks(random, { locations: [3] })], random)
    expect(found.locations.map((each) => each.change)).toEqual(['slower', 'slower', 'no difference'])
    expect(speakBeforeAfter(found, speak)).toMatch(/^(Slower by \d+ ms to \d+ ms, at 2 of 3 locations|No difference over all, though 2 of 3 locations changed)\.$/)
  })
  it('refuses to judge too few', () => {
    const random = seededRandom(3)
    expect(speakBeforeAfter(beforeAfter(blocks(random), blocks(random, { count: 1, locations: [1] }), random), speak)).toBe('Too few observations to judge.')
    expect(beforeAfter([], [], random).change).toBe('too few')
  })
  it('says when more fails', () => {
    const random = seededRandom(5)
    const found = beforeAfter(blocks(random), blocks(random, { fails: 0.4 }), random)
    expect(found.failing.change).toBe('more')
    expect(speakBeforeAfter(found, speak)).toMatch(/More tries fail than before\.$/)
  })
})

describe('a mark', () => {
  const now = Date.parse('2026-11-25T12:00:00Z')
  it('is now unless it says when', () => {
    expect(readMark({ title: 'Release 4.18', kind: 'release' }, now)).toEqual({ mark: { at: now, kind: 'release', title: 'Release 4.18', detail: '' } })
    expect(readMark({ title: 'Cache', at: '2026-11-24T10:00:00Z', service: 'checkout' }, now)).toMatchObject({ mark: { at: now - 26 * 3_600_000, kind: 'note', service: 'checkout' } })
  })
  it.each([[{}, 'title'], [{ title: 'x', at: 'soon' }, 'at'], [{ title: 'x', at: '2031-01-01T00:00:00Z' }, 'at'], [{ title: 'x', kind: 'party' }, 'kind'], [{ title: 'x', colour: 'red' }, '']])('%j is refused', (given, path) => {
    const read = readMark(given, now)
    expect('problems' in read && read.problems[0]!.path).toBe(path)
  })
})
