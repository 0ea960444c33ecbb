import fc from 'fast-check'
import { plainText } from '../sentence/sentence'
import { DAY, HOUR, MINUTE } from '../units'
import { answer, failingLine, ratioLine, standsOut } from './answer'
import { decodeDots, dotsOf, encodeDots } from './dots'
import { DIMENSION_NAMES } from './dimensions'
import { madeWorld } from './made-worlds'
import { AGAINST, otherQuestion, QUESTION_METRICS, rangeOf, STATISTICS, VIEWS, withWhere, type Question } from './question'
import { readQuestion, readSpan, writeQuestion, writeSpan } from './question-address'
import { changeQuestion, questionSentence, type AskableNames } from './question-sentence'

const zone = 'Europe/Oslo'
const now = Date.parse('2026-11-25T12:00:00Z')
const names: AskableNames = { about: new Map([['service/checkout', 'Checkout'], ['check/sailings', 'Sailings API']]), values: { country: new Map([['CL', 'Chile'], ['NO', 'Norway']]) } }
const back = (text: string) => readQuestion(Object.fromEntries([...new Set(new URLSearchParams(text).keys())].map((name) => [name, new URLSearchParams(text).getAll(name)])), zone, now)

describe('a question', () => {
  it('comes back from its address as it was asked', () => {
    const moment = fc.integer({ min: Math.floor(now / MINUTE) - 100_000, max: Math.floor(now / MINUTE) - 1000 }).map((minutes) => minutes * MINUTE)
    const demand = fc.record({ dimension: fc.constantFrom(...DIMENSION_NAMES), values: fc.array(fc.stringMatching(/^[\w .:&=+%/-]{1,12}$/), { minLength: 1, maxLength: 3 }), not: fc.boolean() })
    const demands = fc.array(demand, { maxLength: 3 })
    const asked = fc.record({
      statistic: fc.constantFrom(...STATISTICS), metric: fc.constantFrom(...QUESTION_METRICS), by: fc.constantFrom(...DIMENSION_NAMES), about: fc.subarray(['service/checkout', 'check/sailings', 'check/gone']), view: fc.constantFrom(...VIEWS),
      range: fc.oneof(fc.integer({ min: 1, max: 400 }).map((hours) => ({ last: hours * HOUR })), moment.map((from) => ({ from, to: from + 5 * HOUR }))),
      where: demands,
      stretch: fc.option(fc.oneof(fc.constant('none' as const), moment.map((from) => ({ from, to: from + HOUR }))), { nil: undefined }),
      beside: fc.option(fc.oneof(fc.constantFrom('before' as const, 'week' as const), fc.record({ about: fc.subarray(['service/checkout', 'check/gone'], { minLength: 1 }), where: demands }), fc.record({ about: fc.constant([]), where: fc.array(demand, { minLength: 1, maxLength: 2 }) })), { nil: undefined }),
      against: fc.option(fc.constantFrom(...AGAINST), { nil: undefined })
    })
    fc.assert(fc.property(asked, (given) => {
      const question = Object.fromEntries(Object.entries(given).filter(([, value]) => value !== undefined)) as unknown as Question
      const read = back(writeQuestion(question, zone))
      expect(read.misread).toEqual([])
      expect(read.question).toEqual(question)
    }))
  })
  it.each([
    ['in the first of two equal autumn hours', '2026-10-25T00:00:00Z', '2026-10-25T00:30:00Z', '2026-10-25T02:00_2026-10-25T02:30'],
    ['in the second of them', '2026-10-25T01:00:00Z', '2026-10-25T01:30:00Z', '2026-10-25T02:00+01:00_2026-10-25T02:30+01:00'],
    ['over both', '2026-10-25T00:30:00Z', '2026-10-25T01:30:00Z', '2026-10-25T02:30_2026-10-25T02:30+01:00']
  ])('keeps its stretch %s', (_, from, to, written) => {
    const span = { from: Date.parse(from), to: Date.parse(to) }
    expect(writeSpan(span, zone)).toBe(written)
    expect(readSpan(written, zone)).toEqual(span)
  })
  it.each([
    ['over=2026-11-25T14:00_2026-11-25T10:00', 'over'], ['over=2031-01-01T00:00_2031-01-02T00:00', 'over'], ['over=soon', 'over'], ['over=900d', 'over'], ['by=colour', 'by'], ['show=mean', 'show'], ['where=planet:mars', 'where'], ['stretch=now', 'stretch'], ['beside=yesterday', 'beside'], ['beside-where=planet:mars', 'beside-where'], ['against=all', 'against']
  ])('with %s is answered without it, and says what is wrong', (text, part) => {
    const { question, misread } = back(text)
    expect(misread.map((each) => each.part)).toEqual([part])
    expect(question).toMatchObject({ statistic: 'p95', by: 'location', range: { last: 6 * HOUR } })
  })
  it('reaches no further than now', () => expect(rangeOf({ range: { from: now - HOUR, to: now + DAY } }, now)).toEqual({ from: now - HOUR, to: now }))
  it('is a sentence whose parts can be changed', () => {
    const { question } = back('of=connect&for=service/checkout&by=network&where=country:CL&beside=week')
    expect(plainText(questionSentence(question, names, zone, now))).toBe('Show p95 of connect time for Checkout by network over the last 6 h, where country is Chile, beside the same hours last week')
    const changed = (part: string, text: string) => changeQuestion(question, names, part, text, zone)
    expect(changed('for', 'checkout, Sailings API')).toMatchObject({ question: { about: ['service/checkout', 'check/sailings'] } })
    expect(changed('where[0]', 'country is not Norway')).toMatchObject({ question: { where: [{ dimension: 'country', values: ['NO'], not: true }] } })
    expect(changed('where[0]', 'take it away')).toMatchObject({ question: { where: [] } })
    expect(changed('over', 'the last 7 days')).toMatchObject({ question: { range: { last: 7 * DAY } } })
    expect(changed('over', '2026-11-24 12:00 to 2026-11-24 18:00')).toMatchObject({ question: { range: { from: Date.parse('2026-11-24T11:00:00Z') } } })
    for (const [part, text] of [['for', 'Nothing such'], ['by', 'moon'], ['over', 'later'], ['where[0]', 'country is Mars'], ['of', 'weight'], ['show', 'mean']] as const) expect(changed(part, text)).toHaveProperty('expected')
  })
  it('is set beside other checks, or other demands, in words', () => {
    const { question } = back('for=check/sailings&where=country:CL&where=server:edge-1')
    const beside = (text: string) => changeQuestion(question, names, 'beside', text, zone)
    const said = (text: string) => { const found = beside(text); return 'question' in found ? plainText(questionSentence(found.question, names, zone, now)).replace(/^.*?(, beside (.*))?$/, '$2') : found.expected }
    expect(beside('Checkout')).toMatchObject({ question: { beside: { about: ['service/checkout'], where: [] } } })
    for (const text of ['Checkout', 'country is not Norway', 'Checkout where country is Norway', 'Checkout where country is Norway or Chile and server is edge-2', 'the stretch before', 'the same hours last week', '']) expect(said(text)).toBe(text)
    expect(said('nothing')).toBe('')
    for (const text of ['Nothing such', 'where country is Mars', 'Mars where country is Chile', 'later']) expect(beside(text)).toHaveProperty('expected')
    const found = beside('where country is Norway')
    if (!('question' in found) || typeof found.question.beside !== 'object') throw new Error('no other set')
    expect(otherQuestion(found.question, found.question.beside)).toMatchObject({ about: ['check/sailings'], where: [{ dimension: 'server', values: ['edge-1'] }, { dimension: 'country', values: ['NO'] }] })
    expect(otherQuestion(found.question, found.question.beside)).not.toHaveProperty('beside')
  })
  it('keeps one value, or leaves several out', () => {
    const { question } = back('')
    const without = withWhere(withWhere(question, 'server', 'edge-1', true), 'server', 'edge-2', true)
    expect(without.where).toEqual([{ dimension: 'server', values: ['edge-1', 'edge-2'], not: true }])
    expect(withWhere(without, 'server', 'edge-3', false).where).toEqual([{ dimension: 'server', values: ['edge-3'], not: false }])
  })
})

describe('an answer', () => {
  const world = madeWorld(21, 'network slow')
  const range = { from: world.tries.at[0]!, to: world.stretch.to }
  const column = world.tries.columns.find((each) => each.dimension === 'network')!
  const groups = answer(world.tries, column, 'connect', 'p95', range, 5 * MINUTE)

  it('has every percentile exact, worst first', () => {
    expect(groups.map((each) => each.value)).toEqual([...groups.map((each) => each.value)].sort((a, b) => b! - a!))
    for (const group of groups) {
      const own = Array.from(world.tries.times.connect!).filter((_, index) => column.codes[index] === group.code && world.tries.verdict[index] !== 3).sort((a, b) => a - b)
      expect(group.p95).toBe(own[Math.ceil(0.95 * own.length) - 1])
      expect(group.tries).toBe(Array.from(column.codes).filter((code) => code === group.code).length)
    }
  })
  it('sees the stretch in which one line leaves its range, and none where all is well', () => {
    const found = standsOut(groups, range, 5 * MINUTE, false)!
    expect(Math.abs(found.from - world.stretch.from)).toBeLessThanOrEqual(10 * MINUTE)
    expect({ dimension: 'network', value: found.group }).toEqual(world.truth)
    const well = madeWorld(22, 'none')
    expect(standsOut(answer(well.tries, well.tries.columns.find((each) => each.dimension === 'network')!, 'connect', 'p95', range, 5 * MINUTE), range, 5 * MINUTE, false)).toBeUndefined()
  })
  it('sees failures that times do not show', () => {
    const failing = madeWorld(23, 'server fails')
    const found = standsOut([{ name: '', line: failingLine(failing.tries, range, 5 * MINUTE) }], range, 5 * MINUTE, true, 0.03)!
    expect(Math.abs(found.from - failing.stretch.from)).toBeLessThanOrEqual(10 * MINUTE)
    expect(standsOut([{ name: '', line: failingLine(madeWorld(24, 'none').tries, range, 5 * MINUTE) }], range, 5 * MINUTE, true, 0.03)).toBeUndefined()
  })
  it('sees what all take beside their own middle, however far they are, for a quarter of an hour', () => {
    const waiting = madeWorld(25, 'everything waits')
    const short = { from: waiting.stretch.from, to: waiting.stretch.from + 15 * MINUTE }
    const calm = madeWorld(25, 'none')
    // of the hour in which all wait, a quarter is taken into a world in which all is well
    const total = calm.tries.times.total!.map((value, index) => (calm.tries.at[index]! >= short.from && calm.tries.at[index]! < short.to ? waiting.tries.times.total![index]! : value))
    const tries = { ...calm.tries, times: { ...calm.tries.times, total } }
    const line = ratioLine(tries, 'total', range, 5 * MINUTE)
    const found = standsOut([{ name: '', line }], range, 5 * MINUTE, false)!
    expect(Math.abs(found.from - short.from)).toBeLessThanOrEqual(5 * MINUTE)
    expect(Math.abs(found.to - short.to)).toBeLessThanOrEqual(5 * MINUTE)
    expect(standsOut([{ name: '', line: ratioLine(calm.tries, 'total', range, 5 * MINUTE) }], range, 5 * MINUTE, false)).toBeUndefined()
    // too few tries say nothing
    expect(ratioLine(calm.tries, 'total', range, 300).every((each) => each === null)).toBe(true)
  })
  it('sends every try as a dot', () => {
    const dots = dotsOf(world.tries, column, groups.slice(0, 3).map((each) => each.name), 'connect', range.from)
    const read = decodeDots(encodeDots(dots).buffer)
    expect(read.count).toBe(world.tries.count)
    expect(Array.from(read.value)).toEqual(Array.from(dots.value.subarray(0, dots.count)))
    expect(new Set(read.group)).toEqual(new Set([0, 1, 2, 255]))
    expect(() => decodeDots(encodeDots(dots).buffer.slice(0, 100))).toThrow(RangeError)
  })
})
