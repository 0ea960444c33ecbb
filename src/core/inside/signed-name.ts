import { createHmac, timingSafeEqual } from 'node:crypto'

/** What can be opened by an address alone, since calendars and screens on a wall cannot sign in. */
export const SIGNED = { rota: 'shifts', person: 'shifts', board: 'board' } as const
export type SignedKind = keyof typeof SIGNED

const sign = (kind: SignedKind, subject: string, key: string) => createHmac('sha256', key).update(`${SIGNED[kind]} ${kind}/${subject}`).digest().subarray(0, 16).toString('base64url')

/** The last part of an address that is the only key to what it opens: `rota.ticketing.…`. */
export const signedName = (kind: SignedKind, subject: string, key: string): string => `${kind}.${subject}.${sign(kind, subject, key)}`

/** What such an address opens; undefined for one that was not given out. */
export function readSignedName(name: string, key: string): { kind: SignedKind; subject: string } | undefined {
  const [, kind, subject, signature] = /^([a-z]+)\.([a-z0-9-]+)\.([\w-]+)$/.exec(name) ?? []
  if (!kind || !Object.hasOwn(SIGNED, kind) || !subject || !signature || key === '') return undefined
  const [given, expected] = [Buffer.from(signature), Buffer.from(sign(kind as SignedKind, subject, key))]
  return given.length === expected.length && timingSafeEqual(given, expected) ? { kind: kind as SignedKind, subject } : undefined
}
