import { madeWorld } from '../findout/made-worlds'
import { placeTimes } from './place-times'

describe('the times of a check by location', () => {
  const { tries } = madeWorld(31, 'network fails')
  const found = placeTimes(tries)

  it('count every try once, and leave failures out of times', () => {
    expect([...found.values()].reduce((sum, each) => sum + each.tries, 0)).toBe(tries.count)
    expect([...found.values()].reduce((sum, each) => sum + each.passed, 0)).toBe(Array.from(tries.verdict).filter((verdict) => verdict !== 3).length)
    expect([...found.values()].some((each) => each.passed < each.tries)).toBe(true)
    for (const [location, { p50, p95, phases }] of found) {
      const exact = (metric: string) => Array.from(tries.times[metric]!).filter((value, index) => tries.location[index] === location && tries.verdict[index] !== 3 && !Number.isNaN(value)).sort((a, b) => a - b)
      const total = exact('total')
      expect(p50).toBe(total[Math.ceil(total.length / 2) - 1])
      expect(p95).toBe(total[Math.ceil(0.95 * total.length) - 1])
      const connect = exact('connect')
      expect(phases.connect).toBe(connect[Math.ceil(connect.length / 2) - 1])
      expect(phases).not.toHaveProperty('greet')
    }
  })
  it('are not there where every try failed', () => {
    const failing = placeTimes({ ...tries, verdict: new Uint8Array(tries.count).fill(3) })
    for (const each of failing.values()) expect(each).toEqual({ tries: each.tries, passed: 0, phases: {} })
  })
})
