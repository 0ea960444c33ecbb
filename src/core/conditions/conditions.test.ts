import { kinds } from '../../kinds/definitions'
import { settleCheck } from '../layers/settle'
import { changeCondition } from '../sentence/read-part'
import { subjectsOf } from './subjects'
import { DAY } from '../units'
import type { Answer } from './condition'
import { judgeAnswer } from './judge-answer'
import { judgeConditions } from './judge-condition'

const answer: Answer = {
  status: 200, headers: [['Content-Type', 'application/json'], ['X-Served-By', 'edge-1']],
  body: JSON.stringify({ sailings: [{ id: 1 }, { id: 2 }], open: true, queue: 60, name: 'Fulmar' }), bytes: 90, times: { total: 320, wait: 200 }, certificateLeft: 10 * DAY
}

function outcome(condition: Record<string, unknown>, given: Partial<Answer> = {}): string {
  const read = settleCheck({ check: 'x', name: 'X', http: { url: 'https://x.example/' }, pass: [condition] }, { workspace: {}, secrets: {} }, kinds)
  if ('problems' in read) throw new Error(JSON.stringify(read.problems))
  return judgeConditions(read.settled.check.pass, { ...answer, ...given })[0]!.outcome
}

describe('conditions', () => {
  it.each([
    [{ status: '200-299' }, 'held'], [{ status: 404 }, 'failed'], [{ status: 404, softly: true }, 'warned'], [{ status: 404, not: true }, 'held'],
    [{ text: 'Fulmar' }, 'held'], [{ text: 'Petrel' }, 'failed'], [{ text: 'Fulmar', not: true }, 'failed'],
    [{ pattern: 'F[a-z]+r' }, 'held'], [{ pattern: '^nothing$' }, 'failed'],
    [{ json: '$.sailings', count: { min: 2 } }, 'held'], [{ json: '$.sailings', count: { min: 3 } }, 'failed'], [{ json: '$.sailings[*].id', count: { max: 2 } }, 'held'],
    [{ json: '$.open', is: true }, 'held'], [{ json: '$.open', is: false }, 'failed'], [{ json: '$.missing' }, 'failed'], [{ json: '$.missing', not: true }, 'held'],
    [{ json: '$.queue', value: { max: 100, warn: 50 } }, 'warned'], [{ json: '$.queue', value: { max: 50 } }, 'failed'], [{ json: '$.name', value: { max: 5 } }, 'failed'],
    [{ json: '$.name', matches: '^Ful' }, 'held'], [{ header: 'content-type', has: 'json' }, 'held'], [{ header: 'x-missing' }, 'failed'],
    [{ certificate: { min: '3d', warn: '14d' } }, 'warned'], [{ certificate: { min: '11d' } }, 'failed'],
    [{ size: { min: '20B', max: '1kB' } }, 'held'], [{ size: { max: '80B' } }, 'failed'],
    [{ phase: 'total', max: '1s', warn: '300ms' }, 'warned'], [{ phase: 'wait', max: '100ms' }, 'failed'], [{ phase: 'tls', max: '1ms' }, 'held']
  ])('%j is %s', (condition, expected) => expect(outcome(condition)).toBe(expected))

  it('fails in words, not in exceptions, on a body that is no JSON or empty', () => {
    expect(outcome({ json: '$.a' }, { body: '<html>' })).toBe('failed')
    expect(outcome({ json: '$.a' }, { body: '' })).toBe('failed')
    expect(outcome({ certificate: { min: '1d' } }, { certificateLeft: undefined })).toBe('failed')
  })
})

describe('the verdict', () => {
  const check = (more: object) => {
    const read = settleCheck({ check: 'x', name: 'X', http: { url: 'https://x.example/' }, ...more }, { workspace: {}, secrets: {} }, kinds)
    if ('problems' in read) throw new Error(JSON.stringify(read.problems))
    return read.settled.check
  }

  it('is a failure before it is slow, slow before it warns', () => {
    const pass = [{ json: '$.queue', value: { max: 100, warn: 50 } }]
    expect(judgeAnswer(check({ pass: [...pass, { status: 404 }], slow: { above: '100ms' } }), answer).verdict).toMatchObject({ verdict: 'fail', reason: 'status' })
    expect(judgeAnswer(check({ pass, slow: { above: '100ms' } }), answer).verdict).toMatchObject({ verdict: 'slow', reason: 'slow' })
    expect(judgeAnswer(check({ pass, slow: { above: '5s' } }), answer).verdict).toMatchObject({ verdict: 'warn' })
    expect(judgeAnswer(check({}), answer).verdict).toEqual({ verdict: 'pass' })
  })

  it('says what was found and what was expected', () => {
    expect(judgeAnswer(check({ pass: [{ status: '200-299' }] }), { ...answer, status: 503 }).verdict.sentence).toBe('the status is 503; it passes when the status is 200 to 299')
  })

  it('is the other way round when the whole check is turned', () => {
    expect(judgeAnswer(check({ turned: true }), answer).verdict).toMatchObject({ verdict: 'fail', reason: 'turned-round' })
    expect(judgeAnswer(check({ turned: true }), { reason: 'connection-refused', sentence: 'refused' }).verdict).toEqual({ verdict: 'pass' })
  })
})

describe('a part of one condition', () => {
  const numbers = subjectsOf(kinds, 'numbers')
  const metric = { metric: 'disk.used', value: { max: '95%', warn: '85%' }, for: '5m' }

  it.each([
    ['value.max', '90 %', { ...metric, value: { max: '90%', warn: '85%' } }], ['for', 'after 10 min', { ...metric, for: '10m' }], ['for', 'at once', { metric: 'disk.used', value: metric.value }], ['margin', '5% inside', { ...metric, margin: '5%' }], ['margin', 'at the limit', metric],
    ['metric', 'disk.used{mount="/"}', { ...metric, metric: 'disk.used{mount="/"}' }]
  ])('%s is read from “%s”', (field, text, condition) => expect(changeCondition(metric, numbers, field, text)).toEqual({ condition }))

  it.each([['value.max', '90'], ['value.max', 'much'], ['for', '10 h'], ['margin', '95%'], ['metric', 'disk used']])('%s is not “%s”', (field, text) => expect(changeCondition(metric, numbers, field, text)).toHaveProperty('expected'))

  it('of another kind is refused where it can mean nothing', () => {
    expect(settleCheck({ check: 'x', name: 'X', http: { url: 'https://x.example/' }, pass: [metric] }, { workspace: {}, secrets: {} }, kinds)).toHaveProperty('problems')
    expect(settleCheck({ check: 'x', name: 'X', numbers: {}, pass: [metric] }, { workspace: {}, secrets: {} }, kinds)).toHaveProperty('settled')
    expect(settleCheck({ check: 'x', name: 'X', numbers: {}, pass: [{ ...metric, value: { max: '95%', warn: 3 } }] }, { workspace: {}, secrets: {} }, kinds)).toHaveProperty('problems')
  })
})
