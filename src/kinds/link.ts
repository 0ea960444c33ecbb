import type { Duplex } from 'node:stream'
import type { SecureContext } from 'node:tls'
import type { Milliseconds } from '../core/units'
import type { AddressRules } from './address-guard'

/** What a lookup gives: addresses in the order in which the resolver gave them, and who answered. */
export interface LookupResult {
  addresses: string[]
  resolver: string
}

/** Datagrams to and from one address. */
export interface Datagrams {
  send: (message: Uint8Array) => void
  /** The next datagram that comes back. Rejects with a LinkError, `connection-refused` when the host says nothing listens. */
  receive: () => Promise<Buffer>
  close: () => void
}

export interface Echoes {
  count: number
  /** Bytes of payload in each. */
  size: number
  /** The pause between two. */
  interval: Milliseconds
  /** How long an answer is waited for. */
  wait: Milliseconds
}

/** One step on the way to an address. */
export interface Hop {
  /** How many routers away, from 1. */
  away: number
  /** Who answered; several where paths divide, none where nobody did. */
  addresses: string[]
  /** Round trips, null where no answer came. */
  times: (Milliseconds | null)[]
}

export const PATH_PROTOCOLS = ['udp', 'icmp', 'tcp'] as const
export interface PathQuestion {
  protocol: (typeof PATH_PROTOCOLS)[number]
  /** The port that TCP and UDP ask; unused otherwise. */
  port?: number
  /** How far at most. */
  most: number
  /** Questions to each step. */
  tries: number
}

/**
 * How a probe touches the network. The real link uses the operating system; the stand-in link of the demo adds a
 * location's distance and faults to real sockets. No kind of check knows which one it has. Every method rejects with
 * a LinkError, also when its signal aborts.
 */
export interface Link {
  /** Resolves a name; family 4 or 6 asks for that family alone. */
  lookup: (name: string, family: 4 | 6 | undefined, signal: AbortSignal) => Promise<LookupResult>
  /** The resolver that lookups go to, for questions that are not about addresses. */
  resolver: () => string
  /** Opens a TCP connection to an address (not a name). */
  connect: (address: string, port: number, signal: AbortSignal) => Promise<Duplex>
  /** Opens a socket of this machine by its path, where the location may ask inside. */
  local: (path: string, signal: AbortSignal) => Promise<Duplex>
  /** Sends and receives UDP datagrams; they are closed when the signal aborts. */
  datagrams: (address: string, port: number, signal: AbortSignal) => Promise<Datagrams>
  /** Sends ICMP echo requests (RFC 792, RFC 4443); gives the round trip of each, null where no answer came. */
  ping: (address: string, echoes: Echoes, signal: AbortSignal) => Promise<(Milliseconds | null)[]>
  /** Finds the way to an address, step by step. */
  path: (address: string, question: PathQuestion, signal: AbortSignal) => Promise<Hop[]>
  /** The authorities this location trusts. */
  trust: SecureContext
  /** What this location may ask. */
  rules: AddressRules
}

export type LinkFault =
  | 'name-not-found' | 'lookup-failed' | 'unreachable' | 'connection-refused' | 'connection-closed' | 'not-supported' | 'aborted'

/** Why the network could not do what was asked, in one word of a closed list and a sentence. */
export class LinkError extends Error {
  readonly fault: LinkFault

  constructor(fault: LinkFault, sentence: string) {
    super(sentence)
    this.name = 'LinkError'
    this.fault = fault
  }
}

/** Rejects when a signal aborts, as every method of a link does. */
export function aborted(signal: AbortSignal): Promise<never> {
  return new Promise((_, reject) => {
    const stop = () => reject(new LinkError('aborted', 'stopped'))
    if (signal.aborted) stop()
    else signal.addEventListener('abort', stop, { once: true })
  })
}
