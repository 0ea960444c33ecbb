import fc from 'fast-check'
import { isAmount, readAmount, unitOfLimits } from './amount'
import { jsonPathProblem, jsonValues } from './json-path'
import { judgeLimits } from './limits'
import { readLimit, speakLimitOf, speakReading } from './unit'
import { parseXml, xmlValues, xPathProblem } from './x-path'

const order = { sailings: [{ id: 1, from: 'Orrin', decks: ['a', 'b'] }, { id: 2, from: 'Bergen', decks: [] }], 'x.y': true, nothing: null }

describe('a JSONPath', () => {
  it.each([
    ['$.sailings[*].id', [1, 2]], ['$.sailings[?@.id > 1].from', ['Bergen']], ['$..decks[0]', ['a']], ["$['x.y']", [true]], ['$.nothing', [null]], ['$.missing', []], ['$.sailings[-1].id', [2]], ['$.sailings[0,1].from', ['Orrin', 'Bergen']]
  ])('%s finds %j', (path, found) => expect(jsonValues(path, order)).toEqual(found))
  it.each(['sailings', '$.', '$[', '$.a[?@.b ==]', '$..', ''])('%s is none, and says why', (path) => expect(jsonPathProblem(path)).toEqual(expect.stringMatching(/\S/)))
  it('finds nothing in what is no object, and never falls over', () => fc.assert(fc.property(fc.jsonValue(), (document) => expect(Array.isArray(jsonValues('$.a.b[0]', document))).toBe(true))))
})

describe('an XPath', () => {
  const document = parseXml('<order xmlns:p="urn:piers" id="o-5"><state>open</state><p:pier n="1"/><p:pier n="2"/><price>12.5</price></order>')
  it.each([
    ['/order/@id', ['o-5']], ['/order/state', ['open']], ['count(//p:pier)', [2]], ['//p:pier[@n="2"]/@n', ['2']], ['number(/order/price) > 12', [true]], ['string(/order/state)', ['open']], ['/order/missing', []]
  ])('%s finds %j', (path, found) => expect(xmlValues(path, document)).toEqual(found))
  it.each(['/order[', '//', 'count('])('%s is none, and says why', (path) => expect(xPathProblem(path)).toEqual(expect.stringMatching(/\S/)))
  it('is asked of XML only', () => { for (const text of ['', 'plain', '<a><b></a>', '{"a":1}']) expect(() => parseXml(text)).toThrow() })
  it('fetches nothing and grows nothing, whatever a document declares', () => {
    const outside = '<!DOCTYPE a [<!ENTITY secret SYSTEM "file:///etc/passwd">]><a>&secret;</a>'
    const laughs = '<!DOCTYPE a [<!ENTITY x "ha"><!ENTITY y "&x;&x;&x;&x;"><!ENTITY z "&y;&y;&y;&y;">]><a>&z;</a>'
    for (const text of [outside, laughs]) {
      let said = ''
      try { said = String(xmlValues('/a', parseXml(text))) } catch { said = '' }
      expect(said).not.toMatch(/root:|haha/)
    }
  })
})

describe('limits', () => {
  const limits = fc.record({ min: fc.integer({ min: 0, max: 20 }), warnMin: fc.integer({ min: 20, max: 40 }), warnMax: fc.integer({ min: 60, max: 80 }), max: fc.integer({ min: 80, max: 100 }) }, { requiredKeys: [] })
  it('fail outside the hard ends, warn outside the soft ones, and hold on every end itself', () => fc.assert(fc.property(limits, fc.integer({ min: -20, max: 120 }), (each, value) => {
    const outside = (least: number | undefined, most: number | undefined) => (least !== undefined && value < least) || (most !== undefined && value > most)
    expect(judgeLimits(each, value)).toBe(outside(each.min, each.max) ? 'failed' : outside(each.warnMin, each.warnMax) ? 'warned' : 'held')
  })))
  it('have one unit, or none', () => {
    expect(unitOfLimits({ max: '95%', warn: '85%' })).toBe('share')
    expect(unitOfLimits({ max: '20GB', min: { value: '1kB' } })).toBe('size')
    expect([unitOfLimits({ max: 3, min: '2%' }), unitOfLimits({}), unitOfLimits(undefined), unitOfLimits({ max: 'much' })]).toEqual([undefined, undefined, undefined, undefined])
    expect([12, '85%', '20GB', 'much', null, Number.NaN, true].map(isAmount)).toEqual([true, true, true, false, false, false, false])
    expect([readAmount(12), readAmount('85%'), readAmount('2kB')]).toEqual([12, 0.85, 2000])
    expect(readAmount('much')).toBeNaN()
  })
})

describe('a limit in words', () => {
  it('is read back as it was said', () => {
    fc.assert(fc.property(fc.integer({ min: 0, max: 1000 }), (permille) => expect(readLimit('share', speakLimitOf('share', permille / 1000))).toEqual({ written: speakLimitOf('share', permille / 1000) })))
    fc.assert(fc.property(fc.integer({ min: 1, max: 10_000_000 }), (time) => { const read = readLimit('time', speakLimitOf('time', time)); expect('written' in read).toBe(true) }))
    fc.assert(fc.property(fc.integer({ min: 0, max: 2_000_000_000 }), (size) => expect(readLimit('size', speakLimitOf('size', size))).toEqual({ written: speakLimitOf('size', size) })))
    fc.assert(fc.property(fc.double({ noNaN: true, noDefaultInfinity: true }), (number) => expect(readLimit('number', speakLimitOf('number', number))).toEqual({ written: Number(String(number)) })))
  })
  it.each([['share', 'half'], ['share', '5'], ['time', 'soon'], ['time', '5'], ['size', '5'], ['size', 'big'], ['number', ''], ['number', 'five'], ['number', 'Infinity']] as const)('as a %s is not “%s”', (unit, text) => expect(readLimit(unit, text)).toHaveProperty('expected'))
  it.each([['share', 0.0253, '2.53%'], ['time', 18.4, '18 ms'], ['time', -250, 'minus 250 ms'], ['time', 40 * 86_400_000, '40 days'], ['size', 3_000_000, '3 MB'], ['number', 12.3456789, '12.3457']] as const)('of a %s measured as %d is %s', (unit, value, said) => expect(speakReading(unit, value)).toBe(said))
})
