import type { Member } from '../inside/inside'
import type { CheckState } from '../states/check-state'
import { judgeMembers, weightNeeded } from './judge-members'

const members = (...states: CheckState[]): Member[] => states.map((state, index) => ({ key: `m${index}`, name: `M${index}`, state, since: 0 }))

describe('checks judged together', () => {
  it.each([
    ['all', ['up', 'up'], 'pass'], ['all', ['up', 'down'], 'fail'], ['any', ['down', 'up'], 'pass'], ['any', ['down', 'down'], 'fail'],
    [2, ['up', 'down', 'up'], 'pass'], [2, ['up', 'down', 'down'], 'fail'], [{ share: 0.6 }, ['up', 'up', 'up', 'down', 'down'], 'pass'], [{ share: 0.7 }, ['up', 'up', 'up', 'down', 'down'], 'fail']
  ] as const)('%j of %j: %s', (least, states, verdict) => {
    expect(judgeMembers({ least, weights: {} }, members(...states)).verdict).toBe(verdict)
  })

  it('counts what is slow, warned of or only suspected as up', () => {
    expect(judgeMembers({ least: 'all', weights: {} }, members('slow', 'warning', 'suspect', 'up')).verdict).toBe('pass')
  })

  it('says nothing while what is unknown could turn it either way', () => {
    expect(judgeMembers({ least: 2, weights: {} }, members('up', 'nodata', 'down')).verdict).toBe('unknown')
    expect(judgeMembers({ least: 2, weights: {} }, members('up', 'up', 'paused')).verdict).toBe('pass')
    expect(judgeMembers({ least: 2, weights: {} }, members('down', 'down', 'planned')).verdict).toBe('fail')
  })

  it('warns below the softer number', () => {
    const rule = { least: 'any', warn: 'all', weights: {} } as const
    expect(judgeMembers(rule, members('up', 'up')).verdict).toBe('pass')
    expect(judgeMembers(rule, members('up', 'down'))).toMatchObject({ verdict: 'warn', sentence: '1 of 2 are up, 1 must be; down: M1' })
    expect(judgeMembers(rule, members('up', 'planned')).verdict).toBe('pass')
  })

  it('weighs', () => {
    const rule = { least: 3, weights: { m0: 3 } }
    expect(judgeMembers(rule, members('up', 'down', 'down'))).toMatchObject({ verdict: 'pass', good: 3, bad: 2 })
    expect(judgeMembers(rule, members('down', 'up', 'up')).verdict).toBe('fail')
    expect(weightNeeded({ share: 0.5 }, [3, 1])).toBe(2)
  })

  it('never calls more up than fewer: taking a member down never makes a verdict better', () => {
    const rank = { fail: 0, unknown: 1, warn: 2, pass: 3 }
    for (let code = 0; code < 81; code += 1) {
      const states = [0, 1, 2, 3].map((digit) => (['up', 'down', 'nodata'] as const)[Math.floor(code / 3 ** digit) % 3]!)
      const rule = { least: 2, weights: { m1: 2 } }
      const before = judgeMembers(rule, members(...states)).verdict
      for (const index of states.keys()) expect(rank[judgeMembers(rule, members(...states.map((state, at) => (at === index ? 'down' : state)))).verdict]).toBeLessThanOrEqual(rank[before])
    }
  })
})
