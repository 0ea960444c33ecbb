import net from 'node:net'
import type { Duplex } from 'node:stream'
import { SocksClient } from 'socks'
import { LinkError, type Link } from '../../kinds/link'

/** Whether a text is an outbound proxy that a location can have. */
export function isProxy(text: string): boolean {
  if (!URL.canParse(text)) return false
  const { protocol, hostname } = new URL(text)
  return (protocol === 'http:' || protocol === 'socks5:') && hostname !== ''
}

/**
 * A link whose connections go out through a proxy: HTTP CONNECT (RFC 9110, section 9.3.6) or SOCKS5 (RFC 1928, RFC 1929).
 * Names are handed to the proxy as they are; it looks them up.
 */
export function proxiedLink(link: Link, proxy: string): Link {
  const url = new URL(proxy)
  const through = url.protocol === 'socks5:' ? overSocks : overHttp
  return {
    ...link,
    lookup: (name) => Promise.resolve({ addresses: [name], resolver: `the proxy ${url.host}` }),
    connect: (address, port, signal) => through(url, address, port, signal),
    datagrams: () => Promise.reject(unable(url)),
    ping: () => Promise.reject(unable(url)),
    path: () => Promise.reject(unable(url))
  }
}

const unable = (url: URL) => new LinkError('not-supported', `this location goes out through the proxy ${url.host}, which carries connections only`)
const away = (url: URL, error: unknown) => new LinkError('unreachable', `the proxy ${url.host} does not help: ${error instanceof Error ? error.message : String(error)}`)
const credentials = (url: URL) => ({ user: decodeURIComponent(url.username), password: decodeURIComponent(url.password) })

async function overSocks(url: URL, address: string, port: number, signal: AbortSignal): Promise<Duplex> {
  const { user, password } = credentials(url)
  const made = SocksClient.createConnection({
    proxy: { host: url.hostname.replace(/^\[|\]$/g, ''), port: Number(url.port || 1080), type: 5, ...(user ? { userId: user, password } : {}) },
    command: 'connect', destination: { host: address, port }, timeout: 60_000
  })
  return new Promise((resolve, reject) => {
    const stop = () => {
      reject(new LinkError('aborted', 'stopped'))
      void made.then(({ socket }) => socket.destroy(), () => undefined)
    }
    if (signal.aborted) return stop()
    signal.addEventListener('abort', stop, { once: true })
    made.then(({ socket }) => {
      signal.removeEventListener('abort', stop)
      resolve(socket)
    }, (error: unknown) => reject(away(url, error)))
    return undefined
  })
}

function overHttp(url: URL, address: string, port: number, signal: AbortSignal): Promise<Duplex> {
  return new Promise((resolve, reject) => {
    const socket = net.connect({ host: url.hostname.replace(/^\[|\]$/g, ''), port: Number(url.port || 80), noDelay: true })
    const host = address.includes(':') ? `[${address}]:${port}` : `${address}:${port}`
    const stop = () => {
      socket.destroy()
      reject(new LinkError('aborted', 'stopped'))
    }
    const fail = (error: unknown) => {
      signal.removeEventListener('abort', stop)
      socket.destroy()
      reject(away(url, error))
    }
    let head = Buffer.alloc(0)
    const read = (chunk: Buffer) => {
      head = Buffer.concat([head, chunk])
      const end = head.indexOf('\r\n\r\n')
      if (end < 0) return head.length > 16_000 ? fail('it says too much') : undefined
      const [line = ''] = head.subarray(0, end).toString('latin1').split('\r\n')
      if (!/^HTTP\/1\.[01] 2\d\d/.test(line)) return fail(`it answers “${line.slice(0, 80)}”`)
      signal.removeEventListener('abort', stop)
      socket.removeListener('data', read).removeListener('error', fail).removeListener('close', closed)
      const rest = head.subarray(end + 4)
      if (rest.length > 0) socket.unshift(rest)
      return resolve(socket)
    }
    const closed = () => fail('it hung up')
    if (signal.aborted) return stop()
    signal.addEventListener('abort', stop, { once: true })
    socket.once('error', fail).once('close', closed).on('data', read)
    socket.once('connect', () => {
      const { user, password } = credentials(url)
      const authorization = user ? `Proxy-Authorization: Basic ${Buffer.from(`${user}:${password}`).toString('base64')}\r\n` : ''
      socket.write(`CONNECT ${host} HTTP/1.1\r\nHost: ${host}\r\n${authorization}\r\n`)
    })
    return undefined
  })
}
