import fc from 'fast-check'
import { VarintWriter } from './varints'

function numbersIn(bytes: Uint8Array): number[] {
  const found: number[] = []
  let [value, factor] = [0, 1]
  for (const byte of bytes) {
    value += (byte & 127) * factor
    factor *= 128
    if (byte < 128) {
      found.push(value)
      value = 0
      factor = 1
    }
  }
  return found
}

describe('numbers of variable length', () => {
  it('are as the standard says', () => {
    const writer = new VarintWriter()
    for (const number of [2, 127, 128, 129, 12_857]) writer.number(number)
    expect(Array.from(writer.done())).toEqual([2, 127, 0x80, 1, 0x81, 1, 0xb9, 0x64])
  })
  it('come back whatever they are, beyond the room that was thought of', () => fc.assert(fc.property(fc.array(fc.nat(Number.MAX_SAFE_INTEGER), { maxLength: 60 }), fc.nat(20), (numbers, capacity) => {
    const writer = new VarintWriter(capacity)
    for (const number of numbers) writer.number(number)
    expect(numbersIn(writer.done())).toEqual(numbers)
  })))
  it('stand beside bytes as they are', () => {
    const writer = new VarintWriter(1)
    writer.number(300)
    writer.raw(Uint8Array.from({ length: 200 }, (_, index) => index))
    writer.number(5)
    expect(Array.from(writer.done().subarray(0, 4))).toEqual([0xac, 2, 0, 1])
    expect([writer.done().length, writer.done().at(-1)]).toEqual([203, 5])
  })
})
