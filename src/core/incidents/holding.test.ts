import { MINUTE } from '../units'
import { todayConclusion } from './conclusion'
import { holdingOf, type Dealt } from './holding'

const dealt = (more: Partial<Dealt>): Dealt => ({ openedAt: 0, takenAt: null, closedAt: null, holder: null, notReal: false, ...more })

describe('how incidents are dealt with', () => {
  it('is counted apart for what waits, what is held and what is done', () => {
    const found = holdingOf([
      dealt({ openedAt: 5 * MINUTE }), dealt({ openedAt: 8 * MINUTE }), dealt({ takenAt: 4 * MINUTE, holder: 'Ines' }), dealt({ takenAt: 2 * MINUTE, closedAt: 30 * MINUTE, holder: 'Ines' }),
      dealt({ takenAt: 6 * MINUTE, closedAt: 10 * MINUTE, holder: 'Mael' }), dealt({ closedAt: MINUTE, notReal: true })
    ], 20 * MINUTE)
    expect(found).toEqual({
      open: 3, waiting: 2, longestWait: 15 * MINUTE, held: 1, done: 3, untaken: 1, notReal: 1, toTake: 4 * MINUTE, toClose: 10 * MINUTE,
      people: [{ name: 'Ines', holds: 1, took: 2, toTake: 3 * MINUTE }, { name: 'Mael', holds: 0, took: 1, toTake: 6 * MINUTE }]
    })
  })
  it('says nothing of times where there are none', () => expect(holdingOf([], 0)).toEqual({ open: 0, waiting: 0, held: 0, done: 0, untaken: 0, notReal: 0, people: [] }))
  it('is said of one incident of many checks as of several', () => {
    expect(todayConclusion([{ name: 'Boards feed', more: 4 }], { down: 5 })).toBe('Boards feed and 4 more need a person.')
    expect(todayConclusion([{ name: 'Boards feed', more: 4, holder: 'Ines Falk' }], { down: 5 })).toBe('Ines holds Boards feed and 4 more.')
  })
  it('asks nobody to get up for a warning', () => {
    expect(todayConclusion([{ name: 'Tides', isWarning: true }, { name: 'Berths', isWarning: true }], { up: 5, warning: 2 })).toBe('Nothing needs you at once; 2 warnings are open.')
    expect(todayConclusion([{ name: 'Tides', isWarning: true }, { name: 'Boards' }], { down: 1 })).toBe('Boards needs a person.')
  })
})
