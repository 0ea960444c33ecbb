import type { Duplex } from 'node:stream'
import type * as yup from 'yup'
import { choiceTarget, flagTarget, hostTarget, portTarget, secretTarget, textTarget } from '../../core/definitions/target-fields'
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

/** A server and, where one signs in, an account on it. */
export interface Account {
  host: string
  port: number
  security: Security
  unverified: boolean
  user?: string
  password?: string
}

/** The fields of an account, with the port and the kind of TLS that a protocol usually has. */
export const accountFields = (port: number, security: Security) => ({
  host: hostTarget(), port: portTarget(port), security: securityTarget(security), unverified: unverifiedTarget(), user: textTarget('user'), password: secretTarget()
})

/** A user without a password, or the reverse, is a mistake. */
export const userWithPassword = (schema: yup.ObjectSchema<yup.AnyObject>) => schema.test('user-and-password', 'a user and a password, or neither', ({ user, password }) => (user === undefined) === (password === undefined))

/** Without TLS there is no certificate to judge. */
export const withoutTls = ({ security }: Record<string, unknown>): readonly 'certificate'[] => (security === 'none' ? ['certificate'] : [])
export const certificateFirst = ({ security }: Pick<Account, 'security'>): Record<string, unknown>[] => (security === 'none' ? [] : [{ certificate: { min: '3d', warn: '14d' } }])

/** A server that speaks TLS from the first byte, or not at all. */
export interface Endpoint {
  host: string
  port: number
  tls: boolean
  unverified: boolean
}

export const endpointFields = (port: number) => ({ host: hostTarget(), port: portTarget(port), tls: flagTarget('over TLS'), unverified: unverifiedTarget() })

export const lacksWithoutTls = ({ tls }: Record<string, unknown>): readonly 'certificate'[] => (tls === true ? [] : ['certificate'])

export interface Session {
  socket: Duplex
  reader: Reader
  say: (line: string) => void
}

/**
 * Opens a conversation by lines, secured as asked. After `starttls` the greeting has been read already.
 * @param shown what of a line is kept as evidence
 */
export async function openSession(trying: Trying, { host, port, security, unverified }: Account, protocol: keyof typeof BEFORE_TLS, shown?: (line: string) => string): Promise<Session> {
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
