import { MINUTE, SECOND } from '../units'
import { actProblem, DOING, hasWhy, incidentLength, incidentTitle, isOutage, isWorse, speakBegin, speakPlaces, speakRange, troubleMark, TROUBLES } from './incident'

describe('what an incident is about', () => {
  it('is an outage when it is down or slow, and only then explained by tries', () => {
    expect(TROUBLES.map(isOutage)).toEqual([true, true, false, false])
    expect(TROUBLES.map(hasWhy)).toEqual([true, true, false, false])
  })
  it('has an order, the worst first, and nothing is worse than itself', () => {
    for (const [place, one] of TROUBLES.entries()) for (const [other, two] of TROUBLES.entries()) expect(isWorse(one, two)).toBe(place < other)
  })
  it('has a mark and words for while it lasts and afterwards', () => {
    expect(TROUBLES.map(troubleMark)).toEqual(['down', 'slow', 'warning', 'warning'])
    for (const trouble of TROUBLES) expect(new Set(DOING[trouble]).size).toBe(2)
  })
})

describe('the title of an incident', () => {
  it.each([
    [{ trouble: 'down' as const }, 'Sailings API is down'], [{ trouble: 'down' as const, endedAt: 5 }, 'Sailings API was down'], [{ trouble: 'slow' as const, more: 3 }, 'Sailings API and 3 more are slow'], [{ trouble: 'burn' as const, more: 1, endedAt: 5 }, 'Sailings API and 1 more were burning its error budget'],
    [{ trouble: 'warning' as const }, 'Sailings API is in warning']
  ])('%j is “%s”', (facts, title) => expect(incidentTitle({ checkName: 'Sailings API', ...facts })).toBe(title))
})

describe('when an incident began', () => {
  const [before, since] = [Date.parse('2026-11-24T01:13:05Z'), Date.parse('2026-11-24T01:14:05Z')]
  it('lies between the last pass and the first failure', () => expect(speakBegin({ since, lastPass: before }, 'Europe/Oslo')).toBe('it began between 02:13:05 and 02:14:05'))
  it('is not known where nothing passed before', () => expect(speakBegin({ since, lastPass: null }, 'Europe/Oslo')).toBe('it was first seen at 02:14:05'))
})

describe('how long an incident lasts', () => {
  it('is a range from what was seen to what may have been', () => {
    expect(incidentLength({ since: MINUTE, lastPass: 0, lastFail: 9 * MINUTE, endedAt: 10 * MINUTE }, 99 * MINUTE)).toBe('between 8 min and 10 min')
    expect(incidentLength({ since: MINUTE, endedAt: 10 * MINUTE, lastFail: 10 * MINUTE }, 99 * MINUTE)).toBe('9 min')
    expect(incidentLength({ since: MINUTE, lastPass: 0 }, 4 * MINUTE)).toBe('between 3 min and 4 min so far')
  })
  it('is one length when both ends are the same second', () => {
    expect(speakRange(60 * SECOND, 60.4 * SECOND)).toBe('1 min')
    expect(speakRange(8 * SECOND, 19 * SECOND)).toBe('between 8 s and 19 s')
  })
})

describe('where an incident is seen', () => {
  it.each([[5, 12, 'at 5 of 12 locations'], [12, 12, 'at all 12 locations'], [1, 1, 'at its only location'], [0, 1, 'at its only location']])('%d of %d is %s', (failing, all, said) => expect(speakPlaces(failing, all)).toBe(said))
})

describe('an act on an incident', () => {
  it('fits an open one, but for taking what one holds', () => {
    for (const act of ['take', 'hand-over', 'close', 'hold-off', 'escalate', 'call-in', 'join', 'not-real'] as const) expect(actProblem(act, {}, 7)).toBeUndefined()
    expect(actProblem('take', { holder: 7 }, 7)).toBe('You hold it already.')
    expect(actProblem('take', { holder: 8 }, 7)).toBeUndefined()
  })
  it('fits a closed one only where something is still to be said of it', () => {
    for (const act of ['note', 'not-real', 'follow-up', 'follow-up-done', 'follow-up-open'] as const) expect(actProblem(act, { closedAt: 5 }, 7)).toBeUndefined()
    for (const act of ['take', 'close', 'hold-off', 'escalate', 'call-in', 'join'] as const) expect(actProblem(act, { closedAt: 5 }, 7)).toBe('The incident is closed already.')
  })
})
