import type { Duplex } from 'node:stream'
import tls, { type TLSSocket } from 'node:tls'
import type { CertificateFacts, Evidence, Phase } from '../../core/observation'
import { refusalOf } from '../address-guard'
import { certificateOf, distrustReason } from './certificate'
import { HttpFailure } from './failure'
import { LinkError, type Link } from '../link'
import type { HttpTarget } from './target'

/** Where the time goes while a connection is made: the caller learns when each phase begins. */
export type Begin = (phase: Phase) => void

export interface Opened {
  socket: Duplex
  address: string
  lookup?: Evidence['lookup']
  certificate?: CertificateFacts
}

const IP_LITERAL = /^(?:\d+\.\d+\.\d+\.\d+|[0-9a-f:]*:[0-9a-f:.]*)$/i

/** Looks up, connects and, for https, shakes hands: everything before the request is sent. */
export async function open(url: URL, target: HttpTarget, link: Link, begin: Begin, signal: AbortSignal, found: Partial<Opened>): Promise<Opened> {
  const host = url.hostname.replace(/^\[|\]$/g, '')
  const addresses = IP_LITERAL.test(host) ? [host] : await lookup(host, target, link, begin, signal, found)
  begin('connect')
  const port = Number(url.port || (url.protocol === 'https:' ? 443 : 80))
  const { socket, address } = await connectOne(addresses, port, link, signal)
  found.address = address
  if (url.protocol !== 'https:') return { ...found, socket, address }
  begin('tls')
  const secured = await handshake(socket, host, target, link, signal)
  found.certificate = certificateOf(secured)
  if (target.verify && !secured.authorized) {
    secured.destroy()
    const { reason, sentence } = distrustReason(found.certificate, host, Date.now())
    throw new HttpFailure(reason, sentence)
  }
  return { ...found, socket: secured, address }
}

async function lookup(host: string, target: HttpTarget, link: Link, begin: Begin, signal: AbortSignal, found: Partial<Opened>): Promise<string[]> {
  begin('lookup')
  const started = performance.now()
  const facts = (rest: Partial<NonNullable<Evidence['lookup']>>) => ({ name: host, resolver: '', answers: [], ms: performance.now() - started, ...rest })
  try {
    const { addresses, resolver } = await link.lookup(host, target.family, signal)
    found.lookup = facts({ resolver, answers: addresses })
    return addresses
  } catch (error) {
    found.lookup = facts({ error: (error as Error).message })
    throw error
  }
}

/** One address a try, as the resolver ordered them, so that a bad server among several is seen; another family only when the first cannot be reached at all. */
async function connectOne(addresses: string[], port: number, link: Link, signal: AbortSignal): Promise<{ socket: Duplex; address: string }> {
  const [first] = addresses
  if (first === undefined) throw new HttpFailure('name-not-found', 'the name has no address')
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
  const refused = refusalOf(address, link.rules)
  if (refused) throw new HttpFailure('address-not-allowed', refused)
  return link.connect(address, port, signal)
}

function handshake(socket: Duplex, host: string, target: HttpTarget, link: Link, signal: AbortSignal): Promise<TLSSocket> {
  return new Promise((resolve, reject) => {
    const secured = tls.connect({
      socket: socket as never,
      ...(IP_LITERAL.test(host) ? { host } : { servername: host }),
      secureContext: link.trust,
      ALPNProtocols: target.version === '1.1' ? ['http/1.1'] : ['h2', 'http/1.1'],
      rejectUnauthorized: false
    })
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
