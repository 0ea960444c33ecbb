import net, { type AddressInfo } from 'node:net'
import dgram from 'node:dgram'
import http from 'node:http'
import tls from 'node:tls'
import type { AskInside } from '../../src/core/inside/inside'
import { settleCheck } from '../../src/core/layers/settle'
import { kinds } from '../../src/kinds/definitions'
import type { Link } from '../../src/kinds/link'
import type { Measured } from '../../src/kinds/runner'
import { runners } from '../../src/kinds/runners'
import { realLink } from '../../src/probe/links/real-link'

/** Runs one try of a check as a probe would, over the real network, with what the test adds to the link. */
export async function tryKind(written: Record<string, unknown>, options: { authority?: string; link?: Partial<Link>; memory?: Map<string, unknown>; inside?: AskInside } = {}): Promise<Measured & { took: number }> {
  const read = settleCheck({ check: 'x', name: 'X', wait: '800ms', ...written }, { workspace: {}, secrets: {} }, kinds)
  if ('problems' in read) throw new Error(JSON.stringify(read.problems))
  const { check } = read.settled
  const link = { ...realLink({ allowsInternal: false, ranges: [] }), ...(options.authority ? { trust: tls.createSecureContext({ ca: options.authority }) } : {}), ...options.link }
  const started = Date.now()
  const measured = await runners[check.kind]!.run(check, link, { bodyKept: 2000, ...(options.memory ? { memory: options.memory } : {}), ...(options.inside ? { inside: options.inside } : {}) })
  return { ...measured, took: Date.now() - started }
}

/** Servers of a test, all closed together. */
export class Servers {
  private readonly open: { close: () => unknown }[] = []
  private readonly sockets = new Set<net.Socket>()

  /** A TCP server that talks as told; gives its port. */
  tcp(talk: (socket: net.Socket) => void): Promise<number> {
    return this.listen(net.createServer((socket) => {
      socket.on('error', () => undefined)
      talk(socket)
    }))
  }

  /** Any server with a `listen`. */
  listen(server: net.Server): Promise<number> {
    this.open.push(server)
    server.on('connection', (socket) => this.sockets.add(socket))
    return new Promise((resolve) => server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)))
  }

  /** A web server that is told of every request with its whole body. */
  web(answer: (request: http.IncomingMessage, body: string, response: http.ServerResponse) => unknown): Promise<number> {
    return this.listen(http.createServer((request, response) => {
      let body = ''
      request.on('data', (chunk) => { body += chunk })
      request.on('end', () => answer(request, body, response))
    }))
  }

  /** A UDP server that answers each datagram as told; undefined stays silent. */
  udp(answer: (message: Buffer) => Uint8Array | undefined): Promise<number> {
    const socket = dgram.createSocket('udp4')
    this.open.push(socket)
    socket.on('message', (message, peer) => {
      const reply = answer(message)
      if (reply) socket.send(reply, peer.port, peer.address)
    })
    return new Promise((resolve) => socket.bind(0, '127.0.0.1', () => resolve(socket.address().port)))
  }

  /** Closes something when the test is over. */
  also(server: { close: () => unknown }): void {
    this.open.push(server)
  }

  close(): void {
    for (const socket of this.sockets) socket.destroy()
    for (const server of this.open) server.close()
  }
}
