import { lookup as systemLookup } from 'node:dns/promises'
import { getServers } from 'node:dns'
import net from 'node:net'
import tls from 'node:tls'
import type { AddressRules } from '../../kinds/address-guard'
import { aborted, LinkError, type Link } from '../../kinds/link'
import { openDatagrams } from './datagrams'
import { ping } from './echo'
import { path } from './trace'

/** The operating system's network as it is. */
export function realLink(rules: AddressRules): Link {
  return { lookup, resolver, connect, local: (path, signal) => openLocal(path, rules, signal), datagrams: openDatagrams, ping, path, trust: tls.createSecureContext(), rules }
}

/** The address of the system's resolver. */
const resolver = () => (getServers()[0] ?? '127.0.0.1').replace(/^\[|\](:\d+)?$/g, '')

async function lookup(name: string, family: 4 | 6 | undefined, signal: AbortSignal) {
  const asked = systemLookup(name, { all: true, verbatim: true, ...(family ? { family } : {}) })
  try {
    const found = await Promise.race([asked, aborted(signal)])
    return { addresses: found.map((each) => each.address), resolver: resolver() }
  } catch (error) {
    if (error instanceof LinkError) throw error
    const code = (error as NodeJS.ErrnoException).code
    if (code === 'ENOTFOUND' || code === 'ENODATA') throw new LinkError('name-not-found', `${name} does not exist, says the resolver at ${resolver()}`)
    throw new LinkError('lookup-failed', `the resolver at ${resolver()} could not look up ${name} (${code ?? 'no answer'})`)
  }
}

/** Local sockets can do anything on this machine, so a location has to allow what is inside. */
function openLocal(path: string, { allowsInternal }: AddressRules, signal: AbortSignal): Promise<net.Socket> {
  if (!allowsInternal) return Promise.reject(new LinkError('not-supported', 'this location does not ask sockets of its own machine; allow internal addresses for it'))
  return opened(() => net.connect({ path }), path, signal)
}

/** Opens a TCP connection with the system's own socket; failures are said in words. */
export function connect(address: string, port: number, signal: AbortSignal): Promise<net.Socket> {
  return opened(() => net.connect({ host: address, port, noDelay: true }), `${address.includes(':') ? `[${address}]` : address}:${port}`, signal)
}

function opened(open: () => net.Socket, where: string, signal: AbortSignal): Promise<net.Socket> {
  return new Promise((resolve, reject) => {
    const socket = open()
    const abort = () => socket.destroy(new LinkError('aborted', 'stopped') as Error)
    signal.addEventListener('abort', abort, { once: true })
    socket.once('connect', () => {
      signal.removeEventListener('abort', abort)
      socket.removeAllListeners('error')
      socket.on('error', () => undefined)
      resolve(socket)
    })
    socket.once('error', (error) => {
      signal.removeEventListener('abort', abort)
      reject(error instanceof LinkError ? error : connectError(error, where))
    })
  })
}

function connectError(error: NodeJS.ErrnoException, where: string): LinkError {
  switch (error.code) {
    case 'ECONNREFUSED': return new LinkError('connection-refused', `${where} refuses the connection: nothing listens there`)
    case 'ECONNRESET': case 'EPIPE': return new LinkError('connection-closed', `${where} closed the connection at once`)
    case 'ETIMEDOUT': return new LinkError('unreachable', `nothing came back from ${where}`)
    default: return new LinkError('unreachable', `there is no way to ${where} from here (${error.code ?? error.message})`)
  }
}
