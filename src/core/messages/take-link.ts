import { createHmac, timingSafeEqual } from 'node:crypto'
import type { Instant } from '../units'

/** How long the link in a message takes an incident. */
export const TAKE_FOR = 24 * 3_600_000

const sign = (said: string, key: string) => createHmac('sha256', key).update(`take ${said}`).digest().subarray(0, 16).toString('base64url')

/**
 * The last part of a link that takes the incident a delivery told of: the number of the delivery and the end of its time,
 * with a signature (HMAC-SHA256, RFC 2104, cut to 128 bits). Who takes it stands with the delivery, not in the link.
 */
export function takeToken(delivery: number, until: Instant, key: string): string {
  const said = `${delivery.toString(36)}.${Math.floor(until / 1000).toString(36)}`
  return `${said}.${sign(said, key)}`
}

/** The delivery a link belongs to, or why it does not count. */
export function readTakeToken(token: string, key: string, now: Instant): { delivery: number } | { wrong: 'not-signed' | 'too-late' } {
  const [delivery = '', until = '', signature = ''] = token.split('.')
  const given = Buffer.from(signature, 'base64url')
  const expected = Buffer.from(sign(`${delivery}.${until}`, key), 'base64url')
  if (key === '' || given.length !== expected.length || !timingSafeEqual(given, expected)) return { wrong: 'not-signed' }
  return parseInt(until, 36) * 1000 < now ? { wrong: 'too-late' } : { delivery: parseInt(delivery, 36) }
}
