import { MINUTE } from '../units'
import { calmerRules, calmest, type Calmer } from './calmer'
import type { ReplayedIncident } from './replay'

const down = { tries: 2, apart: 10_000, locations: 2 }
const incident = (from: number, lasts: number, called = 20_000): ReplayedIncident => ({ trouble: 'down', from, called: from + called, to: from + lasts, failing: 2 })
const blips = Array.from({ length: 9 }, (_, index) => incident(index * 60 * MINUTE, MINUTE))
const outage = incident(1000 * MINUTE, 20 * MINUTE)
const [more, most, apart, wider] = calmerRules({ down }, 3) as [Calmer, Calmer, Calmer, Calmer]

describe('a rule that would be calmer', () => {
  it('asks for more tries, longer pauses or more locations, as far as there are any, and for slow longer', () => {
    expect(calmerRules({ down }, 3).map((each) => each.words)).toEqual(['3 tries instead of 2', '4 tries instead of 2', 'tries 30 s apart instead of 10 s', '3 locations instead of 2'])
    expect(calmerRules({ down: { ...down, of: 5 }, slow: { phase: 'total', above: 900, for: 5 * MINUTE, locations: 2, spreads: 3 } as never }, 2).map((each) => each.written)).toEqual([
      { down: { tries: 3, of: 6 } }, { down: { tries: 4, of: 7 } }, { down: { apart: '30s' } }, { slow: { for: '900s' } }
    ])
  })
  it('is the one that quiets most and costs least time, and loses nothing that lasted', () => {
    const present = { incidents: [...blips, outage] }
    expect(calmest(present, [
      { calmer: more, replayed: { incidents: [incident(0, MINUTE, 30_000), incident(outage.from, 20 * MINUTE, 30_000)] } }, { calmer: most, replayed: { incidents: [incident(outage.from, 20 * MINUTE, 40_000)] } },
      { calmer: apart, replayed: { incidents: [incident(outage.from, 20 * MINUTE, 90_000)] } }, { calmer: wider, replayed: { incidents: [] } }
    ])).toEqual({ calmer: most, before: 10, after: 1, later: 20_000 })
  })
  it('is not offered when it would quiet little', () => expect(calmest({ incidents: blips }, [{ calmer: more, replayed: { incidents: blips.slice(2) } }])).toBeUndefined())
})
