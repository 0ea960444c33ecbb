import type { Duplex } from 'node:stream'
import type { Trying } from '../attempt/attempt'
import { exchange, type Received } from './exchange'
import { httpFailureOf } from './http-failure'
import { redirected } from './redirect'

export const AGENT = 'Hemeron/0.1 (availability check)'

export interface Asking {
  url: URL
  method?: string
  headers?: Record<string, string>
  body?: string | Buffer
  /** The largest answer that is read, in bytes. */
  most?: number
  /** Take any certificate. */
  unverified?: boolean
  /** Redirects that are followed, to GET requests. */
  redirects?: number
  http1?: boolean
  /** Ask over this connection instead of a new one, as over a local socket. */
  over?: Duplex
}

/** Sends one HTTP request as a part of a try and gives the whole answer. Throws TryFailure and what the network threw. */
export async function askHttp(trying: Trying, { url, method = 'GET', headers = {}, body, most = 5_000_000, unverified = false, redirects = 0, http1 = false, over }: Asking): Promise<Received & { url: URL }> {
  const isSecure = url.protocol === 'https:'
  const socket = over ?? await trying.open({
    host: url.hostname.replace(/^\[|\]$/g, ''), port: Number(url.port || (isSecure ? 443 : 80)), ...(isSecure ? { tls: { verify: !unverified, alpn: http1 ? ['http/1.1'] : ['h2', 'http/1.1'] } } : {})
  })
  trying.begin('wait')
  try {
    const received = await exchange(socket, {
      method, url, headers: { 'user-agent': AGENT, 'accept-encoding': 'gzip, deflate, br', accept: '*/*', ...headers, ...(body === undefined ? {} : { 'content-length': String(Buffer.byteLength(body)) }) },
      ...(body === undefined ? {} : { body })
    }, most, { answered: () => trying.begin('receive') }, trying.signal)
    const next = redirects > 0 ? redirected(received, { url, method }) : undefined
    if (next) return await askHttp(trying, { url: next.url, method: next.method, headers, most, unverified, redirects: redirects - 1, http1 })
    return { ...received, url }
  } catch (error) {
    if (trying.signal.aborted) throw error
    throw httpFailureOf(error, trying.clock.phase, false, 0)
  } finally {
    socket.destroy()
  }
}
