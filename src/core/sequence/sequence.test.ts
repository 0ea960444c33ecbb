import { createHmac } from 'node:crypto'
import fc from 'fast-check'
import { evaluate, type Sources } from './evaluate'
import { fillIn, FUNCTIONS, namesIn, parseExpression } from './template'

const sources: Sources = { now: () => Date.parse('2026-11-25T12:00:00.250Z'), random: () => 0.5, uuid: () => '00000000-0000-4000-8000-000000000001' }
const values = new Map([['token', 't 42&x'], ['key', 'k-77'], ['quote', 'say "no"\n']])
const made = (text: string) => fillIn(text, (expression) => evaluate(expression, values, sources))

describe('a text with places', () => {
  it.each([
    ['plain text', 'plain text'], ['Bearer {=token}', 'Bearer t 42&x'], ['{=url(token)}', 't%2042%26x'], ['{"a":"{=json(quote)}"}', '{"a":"say \\"no\\"\\n"}'], ["{=concat(key, ':', 'it''s')}", undefined], ["{=concat(key, ':', 'it\\'s')}", "k-77:it's"],
    ['{=base64(key)}', Buffer.from('k-77').toString('base64')], ["{=hmac(key, token)}", createHmac('sha256', 'k-77').update('t 42&x').digest('hex')], ["{=hmac(key, token, 'base64')}", createHmac('sha256', 'k-77').update('t 42&x').digest('base64')],
    ['{=now()}', '2026-11-25T12:00:00.250Z'], ["{=now('unix')}", '1795608000'], ["{=now('ms')}", '1795608000250'], ['{=random(6)}', '3'], ['{=uuid()}', '00000000-0000-4000-8000-000000000001'],
    ['{=sha256(base64(key))}', undefined]
  ])('%s', (text, expected) => {
    if (text.includes('sha256')) return expect(made(text)).toMatch(/^[0-9a-f]{64}$/)
    return expected === undefined ? expect(() => made(text)).toThrow() : expect(made(text)).toBe(expected)
  })
  it('says which names it takes', () => expect(namesIn("{=token} and {=hmac(key, concat(token, 'x'))}; {other}")).toEqual(['token', 'key', 'token']))
  it('says what was not taken', () => expect(() => made('{=order}')).toThrow('order was not taken from any answer'))
})

describe('an expression', () => {
  it.each([
    ['', /missing at the end/], ['nothing(key)', /there is no function nothing; there are /], ['base64()', /base64 takes 1 values, not 0/], ['hmac(key)', /hmac takes 2 to 3 values/], ['base64(key', /missing/], ['key token', /“token” is too much/], [')', /stands where a name is expected/], ['a + b', /cannot be read/], ['constructor(key)', /there is no function constructor/], ["'open", /cannot be read/]
  ])('%s is refused in words', (source, words) => expect(() => parseExpression(source)).toThrow(words))
  it('of any text either is one or is refused with an error in words', () => fc.assert(fc.property(fc.string({ unit: fc.constantFrom(...'abkey(),\'"\\ 019.{}=-'.split('')), maxLength: 24 }), (source) => {
    try {
      parseExpression(source)
    } catch (error) {
      expect(error).toBeInstanceOf(Error)
      expect((error as Error).message.length).toBeGreaterThan(5)
      expect(error).not.toBeInstanceOf(TypeError)
    }
  })))
  it('comes back from what was written of it', () => {
    const expression: fc.Arbitrary<object> = fc.letrec((tie) => ({
      any: fc.oneof({ maxDepth: 4 }, fc.record({ name: fc.constantFrom('token', 'key', 'a1') }), fc.record({ text: fc.string({ maxLength: 8 }).filter((each) => !/[{}]/.test(each)) }), tie('call')),
      call: fc.constantFrom('base64', 'sha256', 'url', 'concat').chain((call) => fc.record({ call: fc.constant(call), with: fc.array(tie('any'), { minLength: 1, maxLength: call === 'concat' ? 3 : 1 }) }))
    })).any as fc.Arbitrary<object>
    type Read = ReturnType<typeof parseExpression>
    const written = (each: Read): string => ('name' in each ? each.name : 'text' in each ? `'${each.text.replace(/[\\']/g, '\\$&')}'` : `${each.call}(${each.with.map(written).join(', ')})`)
    fc.assert(fc.property(expression, (each) => expect(parseExpression(written(each as Read))).toEqual(each)))
  })
  it('has functions that are all known', () => { for (const [name, [least]] of Object.entries(FUNCTIONS)) expect(typeof evaluate({ call: name, with: Array.from({ length: least }, () => ({ text: 'x' })) }, values, sources)).toBe('string') })
})
