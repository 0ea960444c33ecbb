import { HOUR } from '../units'
import { middles, pairsOf } from './bases'
import { byCheck, byClock, byLocation, byNumber, byTag } from './columns'
import { continentOf, DIMENSION_NAMES, manyOf, nearness, regionOf } from './dimensions'
import { pick, placesOf, splitAt, type Column, type Tries } from './tries'

const at = Date.parse('2026-10-24T22:30:00Z')
const tries: Tries = {
  count: 6, at: Float64Array.from([0, 1, 2, 3, 4, 5], (hour) => at + hour * HOUR), check: Int32Array.of(7, 8, 7, 8, 7, 9), location: Int32Array.of(1, 1, 2, 2, 1, 3), verdict: Uint8Array.of(0, 3, 0, 0, 2, 0),
  times: { total: Float32Array.of(10, 20, 30, NaN, 50, 60) }, columns: []
}
const values = ({ codes, names }: Column) => Array.from(codes, (code) => names[code])

describe('columns', () => {
  it('say what each try has, and nothing where there is nothing', () => {
    expect(values(byCheck(tries, 'service', (check) => ({ 7: 'sales', 8: 'boards' })[check]))).toEqual(['sales', 'boards', 'sales', 'boards', 'sales', undefined])
    expect(values(byLocation(tries, 'country', (location) => (location === 3 ? '' : 'NO')))).toEqual(['NO', 'NO', 'NO', 'NO', 'NO', undefined])
    expect(values(byNumber(Int32Array.of(0, 5, 5, 9, 0, 5_000_001), 'server', (number) => ({ 5: 'edge-1', 9: 'edge-2', 5000001: 'edge-3' })[number]))).toEqual([undefined, 'edge-1', 'edge-1', 'edge-2', undefined, 'edge-3'])
    expect(values(byTag(tries, 'booking', (check) => check !== 8))).toEqual(['booking', undefined, 'booking', undefined, 'booking', 'booking'])
  })
  it('know the clock of the zone through the end of summer time', () => {
    expect(values(byClock(tries, 'hour', 'Europe/Oslo'))).toEqual(['00:00', '01:00', '02:00', '02:00', '03:00', '04:00'])
    expect(new Set(values(byClock(tries, 'weekday', 'Europe/Oslo')))).toEqual(new Set(['Sunday']))
    expect(values(byClock(tries, 'weekday', 'UTC')).slice(0, 2)).toEqual(['Saturday', 'Saturday'])
  })
  it('stay with their tries when some are picked', () => {
    const whole = { ...tries, columns: [byCheck(tries, 'check', String)] }
    const own = pick(whole, placesOf(whole, (index) => whole.check[index] === 7))
    expect([Array.from(own.times.total!), values(own.columns[0]!), Array.from(own.verdict)]).toEqual([[10, 30, 50], ['7', '7', '7'], [0, 0, 2]])
    const { inside, outside } = splitAt(whole, { from: at + HOUR, to: at + 3 * HOUR })
    expect([Array.from(inside.at), outside.count]).toEqual([[at + HOUR, at + 2 * HOUR], 4])
  })
})

describe('what tries are compared with', () => {
  it('is the middle of the same check at the same location, failures left out, and nothing of too few', () => {
    const count = 12
    const many: Tries = { ...tries, count, at: new Float64Array(count), check: Int32Array.from({ length: count }, (_, index) => (index < 7 ? 1 : 2)), location: new Int32Array(count).fill(4), verdict: Uint8Array.from({ length: count }, (_, index) => (index === 6 ? 3 : 0)), times: { total: Float32Array.of(5, 1, 4, 2, 3, 6, 999, 1, 2, 3, 4, NaN) } }
    const pairs = pairsOf(many)
    expect(pairs.count).toBe(2)
    expect(Array.from(middles(many, many.times.total!, pairs.of(many), pairs.count))).toEqual([3.5, NaN])
  })
})

describe('dimensions', () => {
  it('know where on the way they lie, and which is nearest to a cause', () => {
    expect(DIMENSION_NAMES.every((each) => nearness(each) >= 0)).toBe(true)
    expect([regionOf('server'), regionOf('network'), regionOf('check'), regionOf('hour')]).toEqual(['server', 'place', 'request', 'time'])
    expect(nearness('network')).toBeLessThan(nearness('location'))
    expect([manyOf('country'), manyOf('address'), manyOf('server')]).toEqual(['countries', 'addresses', 'servers'])
  })
  it('know continents', () => expect(['NO', 'cl', 'CA', 'JP', 'ZA', 'AU', 'ZZ'].map(continentOf)).toEqual(['Europe', 'South America', 'North America', 'Asia', 'Africa', 'Oceania', 'elsewhere']))
})
