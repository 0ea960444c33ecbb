import { kinds } from '../kinds/definitions'
import fc from 'fast-check'
import { openApi } from './api/openapi'
import { readObservations } from './observation-schema'
import { describeFound, HemeronError, problemSentence } from './problems'
import { REASONS, shortReason } from './reasons/reasons'
import { startState } from './states/start-state'
import type { Observation } from './observation'

const good = { check: 1, location: 2, at: 1_700_000_000_000, occasion: 'scheduled', verdict: 'pass', version: 1, total: 12, phases: { wait: 10 } }
const problemsIn = (body: unknown) => {
  const read = readObservations(body)
  return 'problems' in read ? read.problems : []
}

describe('observations from a probe', () => {
  it('are taken as they are when every field is right', () => {
    expect(readObservations([good])).toEqual({ observations: [good] })
    expect(readObservations([])).toEqual({ observations: [] })
  })

  it.each([
    ['check', -1], ['check', '1'], ['location', 0], ['location', 70_000], ['at', 12], ['at', 1.5], ['occasion', 'sometimes'], ['verdict', 'good'], ['total', -5], ['total', 'fast'],
    ['phases', { lunch: 5 }], ['phases', { wait: 'long' }], ['phases', null], ['status', 1000], ['reason', 'x'.repeat(50)], ['address', 'x'.repeat(80)], ['evidence', null]
  ])('are refused when %s is %j, naming the place', (field, value) => {
    expect(problemsIn([good, { ...good, [field]: value }]).map((problem) => problem.path)).toContain(`[1].${field}`)
  })

  it.each(['check', 'location', 'at', 'occasion', 'verdict', 'version', 'total', 'phases'])('are refused without %s', (field) => {
    const rest = Object.fromEntries(Object.entries(good).filter(([name]) => name !== field))
    expect(problemsIn([rest]).map((problem) => problem.path)).toEqual([`[0].${field}`])
  })

  it('never make the reader fall over, whatever is sent', () => {
    fc.assert(fc.property(fc.anything(), (body) => {
      const read = readObservations(body)
      expect('problems' in read || Array.isArray(read.observations)).toBe(true)
    }))
  })
})

describe('problems', () => {
  it('say where, what was expected and what was found, and the line when there is one', () => {
    expect(problemSentence({ path: 'pass[1].json', expected: 'a JSONPath', found: '"x"', line: 7 })).toBe('pass[1].json (line 7): expected a JSONPath, found "x".')
    expect(problemSentence({ path: '', expected: 'an object', found: 'nothing' })).toBe('The document: expected an object, found nothing.')
  })

  it('shorten what was found, whatever it is', () => {
    fc.assert(fc.property(fc.jsonValue(), (value) => expect(describeFound(value).length).toBeLessThanOrEqual(80)))
    expect(describeFound(undefined)).toBe('nothing')
  })

  it('carry their status and put all mistakes into one sentence', () => {
    const error = new HemeronError('bad-document', undefined, [{ path: 'a', expected: 'b', found: 'c' }, { path: 'd', expected: 'e', found: 'f' }])
    expect(error.status).toBe(422)
    expect(error.message).toBe('a: expected b, found c. d: expected e, found f.')
    expect(new HemeronError('not-found').message).toBe('There is nothing here')
  })
})

describe('the state a check would start in', () => {
  const seen = (location: number, verdict: Observation['verdict'], sentence?: string): Observation => ({ check: 0, location, at: 1, occasion: 'asked', verdict, phases: {}, total: 1, version: 0, ...(sentence ? { sentence } : {}) })
  const rule = { down: { tries: 2, apart: 10_000, locations: 2 } }
  const place = (location: number) => ['', 'Bergen', 'Galway', 'Lisbon', 'Trieste', 'Aarhus'][location]!

  it('is up when all pass, and says nothing more', () => {
    expect(startState(rule, [seen(1, 'pass'), seen(2, 'pass')], place)).toEqual({ state: 'up', name: 'Up', why: '' })
  })

  it('is suspect with one failure, naming the place and the reason', () => {
    expect(startState(rule, [seen(1, 'pass'), seen(2, 'fail', 'the name does not exist')], place)).toEqual({ state: 'suspect', name: 'Suspect', why: 'Galway: the name does not exist.' })
  })

  it('is down at once only when one try is enough and the places agree', () => {
    const all = [seen(1, 'fail', 'refused'), seen(2, 'fail', 'refused')]
    expect(startState(rule, all, place).state).toBe('suspect')
    expect(startState({ down: { tries: 1, apart: 1000, locations: 2 } }, all, place)).toMatchObject({ state: 'down', why: 'every location: refused.' })
    expect(startState({ down: { tries: 1, apart: 1000, locations: 2 } }, [...all.slice(1), seen(1, 'pass')], place).state).toBe('suspect')
  })

  it('names three places and counts the rest, and mentions slowness beside it', () => {
    const why = startState(rule, [seen(1, 'fail', 'refused'), seen(2, 'fail'), seen(3, 'fail'), seen(4, 'fail'), seen(5, 'slow')], place).why
    expect(why).toBe('Bergen, Galway, Lisbon and 1 more: refused; Aarhus already above the limit for slow.')
  })
})

describe('closed lists', () => {
  it('give every reason short words, and unknown ones as they are', () => {
    for (const [code, reason] of Object.entries(REASONS)) expect(shortReason(code)).toBe(reason.short)
    expect([shortReason('future'), shortReason(null)]).toEqual(['future', ''])
  })

  it('stand in the description of the API, whose references all lead somewhere', () => {
    const text = JSON.stringify(openApi(kinds))
    for (const reason of Object.keys(REASONS)) expect(text).toContain(`"${reason}"`)
    const { components } = openApi(kinds) as { components: { schemas: object; responses: object } }
    for (const [, kind, name] of text.matchAll(/#\/components\/(schemas|responses)\/([A-Za-z]+)/g)) expect(Object.keys(components[kind as 'schemas'])).toContain(name)
  })
})
