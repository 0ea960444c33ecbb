import dgram from 'node:dgram'
import { LinkError, type Datagrams } from '../../kinds/link'

/** Datagrams that wait to be asked for; more are dropped, as the network would. */
const HELD_MOST = 200

/** Opens a UDP socket towards one address with the system's own means. */
export function openDatagrams(address: string, port: number, signal: AbortSignal): Promise<Datagrams> {
  return new Promise((resolve, reject) => {
    const socket = dgram.createSocket(address.includes(':') ? 'udp6' : 'udp4')
    const held: Buffer[] = []
    const asking: { resolve: (message: Buffer) => void; reject: (error: Error) => void }[] = []
    let fault: LinkError | undefined
    let isClosed = false
    const close = () => {
      if (isClosed) return
      isClosed = true
      socket.close()
    }
    const fail = (error: LinkError) => {
      fault ??= error
      close()
      reject(fault)
      for (const each of asking.splice(0)) each.reject(fault)
    }
    const abort = () => fail(new LinkError('aborted', 'stopped'))
    if (signal.aborted) return abort()
    signal.addEventListener('abort', abort, { once: true })
    socket.on('message', (message) => {
      const next = asking.shift()
      if (next) next.resolve(message)
      else if (held.length < HELD_MOST) held.push(message)
    })
    socket.on('error', (error: NodeJS.ErrnoException) => fail(error.code === 'ECONNREFUSED'
      ? new LinkError('connection-refused', `${address} answers that nothing listens at UDP port ${port}`)
      : new LinkError('unreachable', `there is no way to ${address} from here (${error.code ?? error.message})`)))
    // a connected socket hears of unreachable ports (RFC 1122, section 4.1.3.3) and of no other senders
    socket.connect(port, address, () => resolve({
      send: (message) => {
        if (!isClosed) socket.send(message)
      },
      receive: () => new Promise((give, refuse) => {
        const message = held.shift()
        if (message) give(message)
        else if (fault) refuse(fault)
        else asking.push({ resolve: give, reject: refuse })
      }),
      close: () => {
        signal.removeEventListener('abort', abort)
        close()
      }
    }))
    return undefined
  })
}
