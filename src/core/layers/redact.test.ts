import fc from 'fast-check'
import { redactAll, redactText } from './redact'

const secret = fc.stringMatching(/^[A-Za-z0-9"%/+ é]{4,24}$/)
const around = fc.stringMatching(/^[a-z ,.:]{0,40}$/)

describe('secrets in a text', () => {
  it('are cut out whole, also where one begins like another', () => {
    expect(redactText('the abcdefgh and the abcd', ['abcd', 'abcdefgh'])).toBe('the (hidden) and the (hidden)')
    expect(redactText('Bearer token-1', ['token-1', 'Bearer token-1'])).toBe('(hidden)')
  })
  it('are known in an address, in Base64 and in JSON', () => fc.assert(fc.property(secret, around, around, (own, before, after) => {
    for (const text of [own, encodeURIComponent(own), Buffer.from(own).toString('base64'), JSON.stringify(own).slice(1, -1)]) expect(redactText(`${before}<${text}>${after}`, [own])).toBe(`${before}<(hidden)>${after}`)
  })))
  it('that are too short are left: they would cut everywhere', () => expect(redactText('a cab', ['cab', ''])).toBe('a cab'))
  it('leave no beginning where a long text was cut through them', () => {
    const long = 'x'.repeat(1000)
    for (let length = 4; length < 20; length += 1) expect(redactText(long + 'secret-of-the-harbour'.slice(0, length), ['secret-of-the-harbour'])).toBe(`${long}(hidden)`)
    // fewer than four characters of it say nothing
    expect(redactText(`${long}sec`, ['secret-of-the-harbour'])).toBe(`${long}sec`)
    // a short text was not cut
    expect(redactText('in secret', ['secret-of-the-harbour'])).toBe('in secret')
  })
  it('leave nothing of themselves in a text of any length, wherever it is cut', () => fc.assert(fc.property(fc.stringMatching(/^[A-Z0-9]{8,24}$/), fc.nat(40), (own, cut) => {
    const text = `${'.'.repeat(1000)}${own}${'.'.repeat(20)}`.slice(0, 1000 + cut)
    const left = redactText(text, [own]).replaceAll('(hidden)', '')
    for (let length = 4; length <= own.length; length += 1) expect(left).not.toContain(own.slice(0, length))
  })))
})

describe('secrets in a value', () => {
  it('are cut out of every text in it, and nothing else changes', () => fc.assert(fc.property(fc.object({ maxDepth: 3, values: [fc.integer(), fc.boolean(), fc.constant(null), around] }), (value) => {
    expect(redactAll(value, ['NOT-THERE'])).toEqual(value)
    expect(redactAll({ value, said: ['the NOT-THERE', { deep: 'NOT-THERE' }] }, ['NOT-THERE'])).toEqual({ value, said: ['the (hidden)', { deep: '(hidden)' }] })
  })))
  it('cost nothing where there are none', () => {
    const value = { a: ['text'] }
    expect(redactAll(value, [])).toBe(value)
  })
})
