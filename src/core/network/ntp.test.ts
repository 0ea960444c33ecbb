import fc from 'fast-check'
import { clockOffset, readTime, timeQuestion } from './ntp'

const ERA = 2_208_988_800
const RECEIVED = 1_790_000_000_250
/** An answer as a server of the second stratum gives it. */
function answer({ stratum = 2, received = RECEIVED, sent = RECEIVED + 3, leap = 0, reference = [192, 0, 2, 7] } = {}): Buffer {
  const bytes = Buffer.alloc(48)
  bytes[0] = (leap << 6) | (4 << 3) | 4
  bytes[1] = stratum
  bytes.writeUInt32BE(Math.round(0.012 * 65_536), 4)
  bytes.writeUInt32BE(Math.round(0.5 * 65_536), 8)
  Buffer.from(reference).copy(bytes, 12)
  bytes.writeBigUInt64BE(77n, 24)
  for (const [at, time] of [[32, received], [40, sent]] as const) {
    bytes.writeUInt32BE(Math.floor(time / 1000) + ERA, at)
    bytes.writeUInt32BE(Math.round(((time % 1000) / 1000) * 4_294_967_296), at + 4)
  }
  return bytes
}

describe('a question for the time', () => {
  it('is of version 4, from a client, with its stamp', () => {
    const question = timeQuestion(0x0102030405060708n)
    expect([question.length, question[0]! >> 3, question[0]! & 7, question.readBigUInt64BE(40)]).toEqual([48, 4, 3, 0x0102030405060708n])
    expect(question.subarray(1, 40).every((byte) => byte === 0)).toBe(true)
  })
})

describe('an answer with the time', () => {
  it('is read with its source, its distance and both its times', () => {
    const read = readTime(answer())!
    expect(read).toMatchObject({ leap: 0, mode: 4, stratum: 2, reference: '192.0.2.7', origin: 77n })
    expect(read.received).toBeCloseTo(1_790_000_000_250, 3)
    expect(read.sent - read.received).toBeCloseTo(3, 3)
    expect(read.rootDelay).toBeCloseTo(12, 1)
    expect(read.rootDispersion).toBeCloseTo(500, 1)
  })
  it('names its source in letters where it has a clock of its own, and where it refuses', () => {
    expect(readTime(answer({ stratum: 1, reference: [...Buffer.from('GPS\0')] }))!.reference).toBe('GPS')
    expect(readTime(answer({ stratum: 0, reference: [...Buffer.from('RATE')] }))!.reference).toBe('RATE')
    expect(readTime(answer({ stratum: 1, reference: [71, 7, 255, 65] }))!.reference).toBe('G??A')
    expect(readTime(answer({ leap: 3 }))!.leap).toBe(3)
  })
  it('is none when it is too short, and anything else is read without falling over', () => {
    expect(readTime(Buffer.alloc(47))).toBeUndefined()
    fc.assert(fc.property(fc.uint8Array({ minLength: 48, maxLength: 90 }), (bytes) => expect(readTime(Buffer.from(bytes))).toBeDefined()))
  })
})

describe('the distance of two clocks', () => {
  it('is found whatever the way takes, as long as it takes as long in both directions', () => fc.assert(fc.property(fc.integer({ min: -100_000, max: 100_000 }), fc.integer({ min: 0, max: 2000 }), fc.integer({ min: 0, max: 50 }), (ahead, way, inside) => {
    const asked = 1_790_000_000_000
    const received = asked + way + ahead
    const heard = asked + 2 * way + inside
    const found = clockOffset(asked, { received, sent: received + inside }, heard)
    expect(found.offset).toBeCloseTo(ahead, 6)
    expect(found.delay).toBeCloseTo(2 * way, 6)
  })))
  it('is off by at most half of the way where it is longer in one direction', () => fc.assert(fc.property(fc.integer({ min: 0, max: 900 }), fc.integer({ min: 0, max: 900 }), (there, back) => {
    const { offset, delay } = clockOffset(0, { received: there, sent: there }, there + back)
    expect(Math.abs(offset)).toBeLessThanOrEqual(delay / 2)
  })))
})
