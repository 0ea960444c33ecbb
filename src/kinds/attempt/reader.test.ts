import { PassThrough } from 'node:stream'
import fc from 'fast-check'
import { Reader } from './reader'

/** A connection over which some pieces come one after the other. */
function reading(pieces: Uint8Array[], { most, isOpen = false }: { most?: number; isOpen?: boolean } = {}) {
  const stream = new PassThrough()
  const abort = new AbortController()
  const reader = new Reader(stream, abort.signal, most)
  for (const piece of pieces) stream.write(piece)
  if (!isOpen) stream.end()
  return { reader, stream, abort }
}

const texts = (...all: string[]) => all.map((each) => Buffer.from(each))

describe('an open connection', () => {
  it('gives the same lines however they are cut up on the way', () => fc.assert(fc.asyncProperty(
    fc.array(fc.string({ unit: 'grapheme', maxLength: 30 }).filter((line) => !/[\r\n]/.test(line)), { minLength: 1, maxLength: 8 }), fc.array(fc.integer({ min: 1, max: 9 }), { minLength: 1, maxLength: 20 }),
    async (lines, sizes) => {
      const whole = Buffer.from(lines.map((line) => `${line}\r\n`).join(''))
      const pieces: Buffer[] = []
      for (let at = 0, turn = 0; at < whole.length; at += sizes[turn++ % sizes.length]!) pieces.push(whole.subarray(at, at + sizes[turn % sizes.length]!))
      const { reader } = reading(pieces)
      for (const line of lines) expect(await reader.line()).toBe(line)
      expect(reader.bytes).toBe(whole.length)
    }), { numRuns: 60 }))
  it('gives so many bytes, what has come, and the rest', async () => {
    const { reader } = reading(texts('abc', 'defgh', 'ij'))
    expect((await reader.exactly(4)).toString()).toBe('abcd')
    const some = (await reader.some()).toString()
    expect('efghij'.startsWith(some) && some.length > 0).toBe(true)
    expect((await reader.rest()).toString()).toBe('efghij'.slice(some.length))
  })
  it('says what is wrong with what comes', async () => {
    await expect(reading(texts('x'.repeat(200)), { isOpen: true }).reader.line(100)).rejects.toMatchObject({ reason: 'wrong-protocol', message: 'the server sends 100 B without the end of a line' })
    await expect(reading(texts('x'), { most: 10 }).reader.exactly(11)).rejects.toMatchObject({ reason: 'answer-too-large' })
    await expect(reading(texts('x'.repeat(20)), { most: 10 }).reader.rest()).rejects.toMatchObject({ reason: 'answer-too-large' })
    await expect(reading(texts('half a line')).reader.line()).rejects.toMatchObject({ code: 'ECONNRESET' })
  })
  it('is given up with the try, and says why it broke', async () => {
    const { reader, abort } = reading([], { isOpen: true })
    const line = reader.line()
    abort.abort()
    await expect(line).rejects.toThrow('aborted')
    const broken = reading([], { isOpen: true })
    const waiting = broken.reader.some()
    broken.stream.destroy(new Error('the cable is cut'))
    await expect(waiting).rejects.toThrow('the cable is cut')
  })
})
