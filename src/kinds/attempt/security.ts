import type { Duplex } from 'node:stream'
import { choiceTarget, flagTarget } from '../../core/definitions/target-fields'
import type { Trying } from './attempt'
import { Reader } from './reader'
import { BEFORE_TLS, speaker } from './starttls'

/** When TLS begins: at once, after some words in the clear, or not at all. */
export const SECURITIES = ['tls', 'starttls', 'none'] as const
export type Security = (typeof SECURITIES)[number]

export const securityTarget = (otherwise: Security) => choiceTarget('TLS', SECURITIES, otherwise)
export const unverifiedTarget = () => flagTarget('take any certificate')

/** How a sentence says it. */
export const speakSecurity = (security: Security, unverified: boolean): string => (security === 'none' ? ' without TLS' : unverified ? ' over TLS with any certificate' : ' over TLS')

export interface Session {
  socket: Duplex
  reader: Reader
  say: (line: string) => void
}

/**
 * Opens a conversation by lines, secured as asked. After `starttls` the greeting has been read already.
 * @param shown what of a line is kept as evidence
 */
export async function openSession(trying: Trying, { host, port, security, unverified }: { host: string; port: number; security: Security; unverified: boolean }, protocol: keyof typeof BEFORE_TLS, shown?: (line: string) => string): Promise<Session> {
  const verify = !unverified
  const plain = await trying.open({ host, port, ...(security === 'tls' ? { tls: { verify } } : {}) })
  if (security !== 'starttls') return session(plain, trying, shown)
  trying.begin('greet')
  await BEFORE_TLS[protocol](new Reader(plain, trying.signal), speaker(plain, trying.talk, shown), trying.talk)
  plain.removeAllListeners('data')
  trying.talk.note('TLS begins')
  return session(await trying.secure(plain, host, { verify }), trying, shown)
}

function session(socket: Duplex, trying: Trying, shown?: (line: string) => string): Session {
  return { socket, reader: new Reader(socket, trying.signal), say: speaker(socket, trying.talk, shown) }
}
