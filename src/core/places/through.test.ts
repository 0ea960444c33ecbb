import { seededRandom } from '../seeded-random'
import { MINUTE } from '../units'
import type { Tries } from '../findout/tries'
import { speakThrough, through } from './through'

const SINCE = 1_760_000_000_000
/** Ten hours of three checks from three locations, the first of which sits on the network; the last hour counts as late. */
function made(change: (check: number, location: number, isLate: boolean) => { times: number; fails: number }): Tries {
  const random = seededRandom(3)
  const rows = [1, 2, 3].flatMap((check) => [1, 2, 3].flatMap((location) => Array.from({ length: 600 }, (_, minute) => {
    const at = SINCE + (minute - 540) * MINUTE
    const { times, fails } = change(check, location, at >= SINCE)
    return { check, location, at, total: (location === 1 ? 800 : 90) * times * (0.9 + 0.2 * random()), verdict: random() < fails ? 3 : 0 }
  })))
  return {
    count: rows.length, at: Float64Array.from(rows, (each) => each.at), check: Int32Array.from(rows, (each) => each.check), location: Int32Array.from(rows, (each) => each.location), verdict: Uint8Array.from(rows, (each) => each.verdict),
    times: { total: Float32Array.from(rows, (each) => each.total) }, columns: []
  }
}
const judged = (...given: Parameters<typeof made>) => through(made(...given), (location) => location === 1, SINCE)
const said = (...given: Parameters<typeof made>) => speakThrough('Cable', judged(...given))

describe('what goes through a network', () => {
  it('is not worse because it is far', () => {
    const rows = judged(() => ({ times: 1, fails: 0 }))
    expect(rows.map((each) => each.isWorse)).toEqual([false, false, false])
    expect(rows[0]!.own.before.p75! / rows[0]!.others.before.p75!).toBeCloseTo(800 / 90, 0)
    expect(rows[0]!.own.now.tries).toBe(60)
  })
  it('is worse where it has changed there alone', () => {
    const rows = judged((check, location, isLate) => ({ times: location === 1 && isLate && check < 3 ? 2 : 1, fails: 0 }))
    expect([rows.map((each) => each.isWorse), rows[2]!.check]).toEqual([[true, true, false], 3])
    expect(rows[0]!.change).toBeCloseTo(2, 1)
    expect(rows[0]!.othersChange).toBeCloseTo(1, 1)
    expect(speakThrough('Cable', rows)).toBe('2 of 3 checks are slower through Cable, and not elsewhere.')
  })
  it('is not worse where it has become slower everywhere', () => expect(said((_check, _location, isLate) => ({ times: isLate ? 2 : 1, fails: 0 }))).toBe('Through Cable nothing is worse than in the day before that is not worse elsewhere.'))
  it('is worse where it fails there alone', () => expect(said((_check, location, isLate) => ({ times: 1, fails: location === 1 && isLate ? 0.4 : 0 }))).toBe('3 of 3 checks fail through Cable, and not elsewhere.'))
  it('is not judged by a few tries', () => expect(speakThrough('Cable', through({ ...made(() => ({ times: 1, fails: 0 })), count: 4 }, (location) => location === 1, SINCE))).toBe('Too little was tried through Cable in the last hour to say how it is.'))
})
