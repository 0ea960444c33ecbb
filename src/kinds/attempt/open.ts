import type { Duplex } from 'node:stream'
import tls, { type TLSSocket } from 'node:tls'
import type { CertificateFacts, Evidence, Observation, Phase } from '../../core/observation'
import { refusalOf } from '../address-guard'
import { certificateOf, distrustReason } from './certificate'
import { TryFailure } from './failure'
import { LinkError, type Link } from '../link'

/** Where the time goes while a connection is made: the caller learns when each phase begins. */
export type Begin = (phase: Phase) => void

/** What a connection goes to. */
export interface Destination {
  host: string
  port: number
  family?: 4 | 6
  /** Shake hands for TLS at once. */
  tls?: Secure
}

export interface Secure {
  /** Whether the certificate must be valid, trusted and for this host. */
  verify: boolean
  /** Protocols to offer (ALPN, RFC 7301). */
  alpn?: string[]
  /** The name to ask for and to find in the certificate, when it is not the host's. */
  name?: string
  /** Ask for a stapled answer about revocation (RFC 6066, section 8), and take it. */
  requestStapled?: (answer: Buffer) => void
  /** Take up a session of another connection to the same server (RFC 8446, section 2.2), as some file servers insist on. */
  session?: Buffer
  /** Is given the socket before its certificate is judged. */
  shaken?: (socket: TLSSocket) => void
}

export interface Opened {
  socket: Duplex
  address: string
  lookup?: Evidence['lookup']
  certificate?: CertificateFacts
  /** The TLS session, for connections beside this one. */
  session?: Buffer
}

/** What of a connection belongs to the observation: where it went, by which resolver, and what TLS agreed on. */
export function seenOf({ address, lookup, certificate }: Partial<Opened>): Pick<Observation, 'address' | 'resolver' | 'tlsVersion' | 'certificateEnd'> {
  return {
    ...(address ? { address } : {}), ...(lookup?.resolver ? { resolver: lookup.resolver.slice(0, 100) } : {}),
    ...(certificate ? { tlsVersion: certificate.protocol.slice(0, 40), certificateEnd: certificate.validTo } : {})
  }
}

export const isAddress = (host: string): boolean => /^(?:\d+\.\d+\.\d+\.\d+|[0-9a-f:]*:[0-9a-f:.]*)$/i.test(host)

/** Looks up, connects and, where it is asked for, shakes hands: everything before the first word is said. */
export async function open(to: Destination, link: Link, begin: Begin, signal: AbortSignal, found: Partial<Opened>): Promise<Opened> {
  const addresses = await addressesOf(to, link, begin, signal, found)
  begin('connect')
  const { socket, address } = await connectOne(addresses, to.port, link, signal)
  found.address = address
  if (!to.tls) return { ...found, socket, address }
  return { ...found, socket: await secure(socket, to.host, to.tls, link, begin, signal, found), address }
}

/** The addresses of a host, looked up where it is a name. */
export async function addressesOf({ host, family }: Pick<Destination, 'host' | 'family'>, link: Link, begin: Begin, signal: AbortSignal, found: Partial<Opened>): Promise<string[]> {
  if (isAddress(host)) return [host]
  begin('lookup')
  const started = performance.now()
  const facts = (rest: Partial<NonNullable<Evidence['lookup']>>) => ({ name: host, resolver: '', answers: [], ms: performance.now() - started, ...rest })
  try {
    const { addresses, resolver } = await link.lookup(host, family, signal)
    found.lookup = facts({ resolver, answers: addresses })
    if (addresses.length === 0) throw new TryFailure('name-not-found', 'the name has no address')
    return addresses
  } catch (error) {
    if (!found.lookup) found.lookup = facts({ error: (error as Error).message })
    throw error
  }
}

/** One address a try, as the resolver ordered them, so that a bad server among several is seen; another family only when the first cannot be reached at all. */
async function connectOne(addresses: string[], port: number, link: Link, signal: AbortSignal): Promise<{ socket: Duplex; address: string }> {
  const first = addresses[0]!
  const isIpv6 = (address: string) => address.includes(':')
  const other = addresses.find((address) => isIpv6(address) !== isIpv6(first))
  try {
    return { socket: await guardedConnect(first, port, link, signal), address: first }
  } catch (error) {
    if (!(error instanceof LinkError) || error.fault !== 'unreachable' || other === undefined) throw error
    return { socket: await guardedConnect(other, port, link, signal), address: other }
  }
}

function guardedConnect(address: string, port: number, link: Link, signal: AbortSignal): Promise<Duplex> {
  guard(address, link)
  return link.connect(address, port, signal)
}

/** Throws when a location must not ask an address. */
export function guard(address: string, link: Link): void {
  const refused = refusalOf(address, link.rules)
  if (refused) throw new TryFailure('address-not-allowed', refused)
}

/** Shakes hands over an open connection and judges the certificate. */
export async function secure(socket: Duplex, host: string, { verify, alpn, name = host, requestStapled, session, shaken }: Secure, link: Link, begin: Begin, signal: AbortSignal, found: Partial<Opened>): Promise<TLSSocket> {
  begin('tls')
  const secured = await handshake(socket, name, { alpn, requestStapled, session }, link, signal)
  shaken?.(secured)
  found.certificate = certificateOf(secured)
  // before TLS 1.3 the session is known now, since then it comes with a ticket
  const present = secured.getSession()
  if (present) found.session = present
  secured.on('session', (ticket: Buffer) => { found.session = ticket })
  if (verify && !secured.authorized) {
    secured.destroy()
    const { reason, sentence } = distrustReason(found.certificate, name, Date.now())
    throw new TryFailure(reason, sentence)
  }
  return secured
}

function handshake(socket: Duplex, host: string, { alpn, requestStapled, session }: { [Part in 'alpn' | 'requestStapled' | 'session']: Secure[Part] | undefined }, link: Link, signal: AbortSignal): Promise<TLSSocket> {
  return new Promise((resolve, reject) => {
    const secured = tls.connect({
      socket: socket as never,
      ...(isAddress(host) ? { host } : { servername: host }),
      secureContext: link.trust,
      ...(alpn ? { ALPNProtocols: alpn } : {}),
      ...(requestStapled ? { requestOCSP: true } : {}),
      ...(session ? { session } : {}),
      rejectUnauthorized: false
    })
    if (requestStapled) secured.once('OCSPResponse', (answer: Buffer | null) => { if (answer && answer.length > 0) requestStapled(answer) })
    const abort = () => secured.destroy(new Error('aborted'))
    const settle = (then: () => void) => {
      signal.removeEventListener('abort', abort)
      secured.removeAllListeners('close')
      then()
    }
    signal.addEventListener('abort', abort, { once: true })
    secured.once('secureConnect', () => settle(() => resolve(secured)))
    secured.once('error', (error) => settle(() => reject(error)))
    secured.once('close', () => settle(() => reject(Object.assign(new Error('closed'), { code: 'ECONNRESET' }))))
  })
}
