import fc from 'fast-check'
import { isSilent, judgeCheck, missingForDown } from './check-state'
import { afterPlannedWork, rememberTry, type LocationMemory, type StateRule } from './location-memory'
import { evaluate, type Known } from './evaluate'
import { nextTries } from './next-tries'
import type { Observation, Verdict } from '../observation'

const rule: StateRule = { down: { tries: 2, apart: 10_000, locations: 2 }, up: { tries: 2 } }
const kOfN: StateRule = { down: { tries: 3, of: 5, apart: 10_000, locations: 1 }, up: { tries: 2 } }

function play(verdicts: Verdict[], by: StateRule = rule, step = 1000): LocationMemory {
  return verdicts.reduce<LocationMemory | undefined>((memory, verdict, index) => rememberTry(memory, { at: (index + 1) * step, verdict }, by), undefined)!
}

const observation = (location: number, at: number, verdict: Verdict): Observation =>
  ({ check: 1, location, at, verdict, occasion: 'scheduled', phases: {}, total: 1, version: 1, ...(verdict === 'fail' ? { reason: 'status', sentence: 'the status is 503' } : {}) })

describe('one location', () => {
  it('is not failing after one failed try of two, and is after the second in a row', () => {
    expect(play(['pass', 'fail']).failing).toBe(false)
    expect(play(['pass', 'fail', 'fail']).failing).toBe(true)
    expect(play(['fail', 'pass', 'fail']).failing).toBe(false)
  })

  it('remembers the onset as a range from the last pass to the first failure', () => {
    const memory = play(['pass', 'pass', 'fail', 'fail'])
    expect(memory.passBefore).toBe(2000)
    expect(memory.failingSince).toBe(3000)
  })

  it('is up again only after the chosen number of passes in a row', () => {
    expect(play(['fail', 'fail', 'pass']).failing).toBe(true)
    expect(play(['fail', 'fail', 'pass', 'fail', 'pass']).failing).toBe(true)
    const recovered = play(['fail', 'fail', 'pass', 'pass'])
    expect(recovered.failing).toBe(false)
    expect(recovered.failingSince).toBeUndefined()
    expect(recovered.passingSince).toBe(3000)
  })

  it('sees three failures among the last five tries, which in a row would flutter', () => {
    expect(play(['fail', 'pass', 'fail', 'fail'], kOfN).failing).toBe(true)
    expect(play(['fail', 'pass', 'fail', 'pass', 'pass', 'fail'], kOfN).failing).toBe(false)
  })

  it('is slow only when it stays above the limit for the chosen time', () => {
    const slow: StateRule = { ...rule, slow: { phase: 'total', above: 500, spreads: 6, margin: 0, for: 3000, locations: 1 } }
    expect(play(['slow', 'slow', 'slow'], slow).slow).toBe(false)
    expect(play(['slow', 'slow', 'slow', 'slow'], slow).slow).toBe(true)
    expect(play(['slow', 'pass', 'slow', 'slow', 'slow'], slow).slow).toBe(false)
    expect(play(['slow', 'slow', 'slow', 'slow', 'pass'], slow).slow).toBe(true)
    expect(play(['slow', 'slow', 'slow', 'slow', 'pass', 'pass'], slow).slow).toBe(false)
  })

  it('begins anew after planned work where the last try passed, and stays failing where it failed', () => {
    const over = afterPlannedWork(play(['fail', 'fail', 'pass']))
    expect(over).toMatchObject({ failing: false, recent: 'p' })
    expect(over.failingSince).toBeUndefined()
    const still = play(['pass', 'fail', 'fail'])
    expect(afterPlannedWork(still)).toBe(still)
    const fine = play(['pass', 'pass'])
    expect(afterPlannedWork(fine)).toBe(fine)
  })

  it('stays slow between the margin and the limit, and is quick again below it', () => {
    const slow: StateRule = { ...rule, slow: { phase: 'total', above: 500, spreads: 6, margin: 0.1, for: 0, locations: 1 }, up: { tries: 1 } }
    const slowNow = rememberTry(undefined, { at: 1000, verdict: 'slow' }, slow)
    expect(slowNow.slow).toBe(true)
    const between = rememberTry(slowNow, { at: 2000, verdict: 'pass', quick: false }, slow)
    expect(between.slow).toBe(true)
    expect(rememberTry(between, { at: 3000, verdict: 'pass', quick: true }, slow).slow).toBe(false)
  })

  it('ignores a try that is not later than the last', () => {
    const memory = play(['pass', 'pass'])
    expect(rememberTry(memory, { at: 2000, verdict: 'fail' }, rule)).toBe(memory)
  })

  it('fails exactly when the last tries all failed, whatever came before', () => {
    fc.assert(fc.property(fc.array(fc.constantFrom<Verdict>('pass', 'warn', 'slow', 'fail'), { maxLength: 40 }), fc.integer({ min: 1, max: 5 }), (verdicts, tries) => {
      const by: StateRule = { down: { tries, apart: 1000, locations: 1 }, up: { tries: 1 } }
      if (verdicts.length === 0) return
      const tail = verdicts.slice(-tries)
      const expected = tail.length === tries && tail.every((verdict) => verdict === 'fail')
      const lastPass = verdicts.map((verdict) => verdict !== 'fail').lastIndexOf(true)
      const failsAtEnd = verdicts.length - 1 - lastPass
      expect(play(verdicts, by).failing).toBe(expected || failsAtEnd >= tries)
    }))
  })
})

describe('a check', () => {
  const down = play(['pass', 'fail', 'fail'])
  const suspect = play(['pass', 'pass', 'fail'])
  const up = play(['pass', 'pass', 'pass'])

  it('stays suspect while two locations have failed once each', () => {
    expect(judgeCheck([suspect, suspect, up], rule).state).toBe('suspect')
  })

  it('is down when enough locations agree, and never needs more locations than there are', () => {
    expect(judgeCheck([down, up, up], rule).state).toBe('suspect')
    expect(judgeCheck([down, down, up], rule).state).toBe('down')
    expect(judgeCheck([down], rule).state).toBe('down')
  })

  it('has no data before its first observation, and again when it has been silent for three periods', () => {
    expect(judgeCheck([undefined, undefined], rule).state).toBe('nodata')
    expect(isSilent(0, 0, 60_000, 10_000, 180_000)).toBe(false)
    expect(isSilent(0, 0, 60_000, 10_000, 200_000)).toBe(true)
  })

  it('says what is missing before it is down', () => {
    expect(missingForDown([suspect, up, up], rule)).toEqual({ locations: 2, tries: 3 })
    expect(missingForDown([down, suspect, up], rule)).toEqual({ locations: 1, tries: 1 })
  })

  it('never counts more failing locations than there are, and is down exactly when they reach the needed number', () => {
    const memory = fc.array(fc.constantFrom<Verdict>('pass', 'fail'), { minLength: 1, maxLength: 8 }).map((verdicts) => play(verdicts))
    fc.assert(fc.property(fc.array(memory, { minLength: 1, maxLength: 12 }), fc.integer({ min: 1, max: 5 }), (memories, locations) => {
      const by = { ...rule, down: { ...rule.down, locations } }
      const judged = judgeCheck(memories, by)
      const failing = memories.filter((each) => each.failing).length
      expect(judged.failing).toBe(failing)
      expect(judged.state === 'down').toBe(failing >= Math.min(locations, memories.length))
    }))
  })
})

describe('tries after a failure', () => {
  const memories = new Map([[1, play(['pass', 'fail'])], [2, play(['pass', 'pass'])], [3, play(['pass', 'pass'])], [4, play(['pass'])]])

  it('tries again there after the pause and at once from other locations', () => {
    const tries = nextTries(1, { at: 2000, verdict: 'fail' }, memories, rule, [1, 2, 3, 4], 2000)
    expect(tries).toContainEqual({ location: 1, at: 12_000 })
    expect(tries.filter((each) => each.at === 2000).map((each) => each.location)).toEqual([2, 3])
  })

  it('asks nobody else for the second failure, and stops when the location is decided', () => {
    const failing = new Map(memories).set(1, play(['pass', 'fail', 'fail']))
    expect(nextTries(1, { at: 3000, verdict: 'fail' }, failing, rule, [1, 2, 3, 4], 3000)).toEqual([])
  })

  it('looks again soon while a location recovers', () => {
    const recovering = new Map([[1, play(['fail', 'fail', 'pass'])]])
    expect(nextTries(1, { at: 3000, verdict: 'pass' }, recovering, rule, [1], 3000)).toEqual([{ location: 1, at: 13_000 }])
  })
})

describe('a batch of observations', () => {
  const check = { rule, every: 60_000, locations: [1, 2, 3] }
  const fresh = (): Known => ({ state: 'up', since: 0, newest: 1000, memories: new Map([1, 2, 3].map((location) => [location, rememberTry(undefined, { at: location, verdict: 'pass' }, rule)])) })

  it('turns a check suspect and then down, and dates the outage from the first failure', () => {
    const { turns, opened } = evaluate(check, fresh(), [observation(1, 5000, 'fail'), observation(2, 5100, 'fail'), observation(1, 15_000, 'fail'), observation(2, 15_100, 'fail')], 15_200)
    expect(turns.map((turn) => [turn.to, turn.since])).toEqual([['suspect', 5000], ['down', 5000]])
    expect(opened.map((each) => each.location)).toEqual([1, 2])
  })

  it('ends an outage at the first of the passes that ended it', () => {
    const down = evaluate(check, fresh(), [observation(1, 5000, 'fail'), observation(2, 5100, 'fail'), observation(1, 15_000, 'fail'), observation(2, 15_100, 'fail')], 15_200)
    const { turns } = evaluate(check, down.known, [observation(1, 65_000, 'pass'), observation(1, 75_000, 'pass'), observation(2, 76_000, 'pass'), observation(2, 86_000, 'pass')], 86_000)
    expect(turns[0]).toMatchObject({ from: 'down', to: 'suspect', since: 65_000, lastFail: 15_100 })
    expect(turns.at(-1)!.to).toBe('up')
  })

  it('gives the same in one batch as in many, in any split', () => {
    const verdict = fc.constantFrom<Verdict>('pass', 'fail', 'slow')
    fc.assert(fc.property(fc.array(fc.tuple(fc.integer({ min: 1, max: 3 }), verdict), { maxLength: 40 }), fc.integer({ min: 0, max: 40 }), (list, cut) => {
      const all = list.map(([location, each], index) => observation(location, 5000 + index * 1000, each))
      const whole = evaluate(check, fresh(), all, 0)
      const first = evaluate(check, fresh(), all.slice(0, cut), 0)
      const second = evaluate(check, first.known, all.slice(cut), 0)
      expect([...first.turns, ...second.turns].map((turn) => [turn.to, turn.since])).toEqual(whole.turns.map((turn) => [turn.to, turn.since]))
      expect(second.known).toEqual(whole.known)
    }))
  })

  it('takes an observation from long ago as history and changes no state', () => {
    const known = { ...fresh(), newest: 10_000_000 }
    expect(evaluate(check, known, [observation(1, 5000, 'fail')], 10_000_000).turns).toEqual([])
  })
})

describe('what holds a check', () => {
  const known = (state: Known['state']): Known => ({ state, since: 0, memories: new Map() })
  const check = { rule, every: 60_000, locations: [1, 2] }
  const failures = [observation(1, 1000, 'fail'), observation(2, 1500, 'fail'), observation(1, 12_000, 'fail'), observation(2, 12_500, 'fail')]

  it('remembers what it sees during planned work and follows nothing from it', () => {
    for (const held of [evaluate({ ...check, held: true }, known('up'), failures, 13_000), evaluate(check, known('planned'), failures, 13_000), evaluate({ ...check, held: true }, known('paused'), failures, 13_000)]) {
      expect([held.turns, held.wanted, held.opened]).toEqual([[], [], []])
      expect(held.known.memories.get(1)).toMatchObject({ failing: true })
    }
  })

  it('lets the first observation after a pause say what the check is', () => {
    expect(evaluate(check, known('paused'), [observation(1, 1000, 'pass')], 1000).turns).toMatchObject([{ from: 'paused', to: 'up' }])
  })

  it('takes nothing from a location without its line', () => {
    const { known: after, turns } = evaluate(check, known('up'), failures.map((each) => ({ ...each, occasion: 'cut-off' as const })), 13_000)
    expect([after.memories.size, turns]).toEqual([0, []])
  })

  it('asks places that fail again with every turn, when locations take turns', () => {
    const failing = evaluate({ ...check, locations: [1, 2, 3], inTurn: true }, known('up'), failures, 13_000)
    expect(failing.known.state).toBe('down')
    const { wanted } = evaluate({ ...check, locations: [1, 2, 3], inTurn: true }, failing.known, [observation(3, 60_000, 'pass')], 60_000)
    expect(wanted.map((each) => each.location).sort()).toEqual([1, 2])
    expect(evaluate({ ...check, locations: [1, 2, 3] }, failing.known, [observation(3, 60_000, 'pass')], 60_000).wanted).toEqual([])
  })
})
