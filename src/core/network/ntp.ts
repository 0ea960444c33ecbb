/** What a time server says (RFC 5905, section 7.3). Times in milliseconds. */
export interface TimeAnswer {
  leap: number
  mode: number
  stratum: number
  rootDelay: number
  rootDispersion: number
  /** The source: four letters for stratum 1 and for refusals, an address otherwise. */
  reference: string
  origin: bigint
  received: number
  sent: number
}

/** Seconds from 1900 to 1970. */
const ERA = 2_208_988_800

/** A client's question; `stamp` comes back in the answer, so that no other answer is taken for it. */
export function timeQuestion(stamp: bigint): Buffer {
  const question = Buffer.alloc(48)
  question[0] = (4 << 3) | 3
  question.writeBigUInt64BE(stamp, 40)
  return question
}

/** Reads an answer; undefined when it is none. */
export function readTime(bytes: Buffer): TimeAnswer | undefined {
  if (bytes.length < 48) return undefined
  const stamp = (at: number) => (bytes.readUInt32BE(at) - ERA) * 1000 + (bytes.readUInt32BE(at + 4) * 1000) / 4_294_967_296
  const short = (at: number) => (bytes.readUInt32BE(at) * 1000) / 65_536
  const stratum = bytes[1]!
  return {
    leap: bytes[0]! >> 6, mode: bytes[0]! & 7, stratum, rootDelay: short(4), rootDispersion: short(8),
    reference: stratum <= 1 ? bytes.subarray(12, 16).toString('latin1').replace(/\0+$/, '').replace(/[^\x20-\x7e]/g, '?') : [...bytes.subarray(12, 16)].join('.'),
    origin: bytes.readBigUInt64BE(24), received: stamp(32), sent: stamp(40)
  }
}

/** Offset of the server's clock and round trip without the server's own time (RFC 5905, section 8). Milliseconds. */
export function clockOffset(asked: number, { received, sent }: Pick<TimeAnswer, 'received' | 'sent'>, heard: number): { offset: number; delay: number } {
  return { offset: (received - asked + (sent - heard)) / 2, delay: Math.max(0, heard - asked - (sent - received)) }
}
