import type { Duplex } from 'node:stream'
import type { AddressRules } from './address-guard'
import type { SecureContext } from 'node:tls'

/** What a lookup gives: addresses in the order in which the resolver gave them, and who answered. */
export interface LookupResult {
  addresses: string[]
  resolver: string
}

/**
 * How a probe touches the network. The real link uses the operating system; the stand-in link of the demo adds a
 * location's distance and faults to real sockets. No kind of check knows which one it has. Every method rejects with
 * a LinkError, also when its signal aborts.
 */
export interface Link {
  /** Resolves a name; family 4 or 6 asks for that family alone. */
  lookup: (name: string, family: 4 | 6 | undefined, signal: AbortSignal) => Promise<LookupResult>
  /** Opens a TCP connection to an address (not a name). */
  connect: (address: string, port: number, signal: AbortSignal) => Promise<Duplex>
  /** The authorities this location trusts. */
  trust: SecureContext
  /** What this location may ask. */
  rules: AddressRules
}

export type LinkFault =
  | 'name-not-found' | 'lookup-failed' | 'unreachable' | 'connection-refused' | 'connection-closed' | 'aborted'

/** Why the network could not do what was asked, in one word of a closed list and a sentence. */
export class LinkError extends Error {
  readonly fault: LinkFault

  constructor(fault: LinkFault, sentence: string) {
    super(sentence)
    this.name = 'LinkError'
    this.fault = fault
  }
}
