import fc from 'fast-check'
import { speakCount } from './count'

describe('a count', () => {
  it.each([[0, '0'], [999, '999'], [1000, '1\u202f000'], [112_527, '112\u202f527'], [15_120_000, '15\u202f120\u202f000']])('%d is said as %s', (count, said) => expect(speakCount(count)).toBe(said))
  it('loses no digit', () => fc.assert(fc.property(fc.nat(), (count) => expect(Number(speakCount(count).replaceAll('\u202f', ''))).toBe(count))))
})
