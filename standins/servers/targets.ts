import http2, { type Http2SecureServer, type Http2ServerRequest, type Http2ServerResponse } from 'node:http2'
import net, { type AddressInfo } from 'node:net'
import { gzipSync } from 'node:zlib'
import { HOSTS, REFERENCES, type Host } from '../world/hosts'
import { behaviour } from '../world/model'
import { PAGES } from '../world/pages'
import type { Drill } from '../world/faults'
import type { Authority } from './certificates'

/** The company's servers: each address of the world is a real TLS server on a loopback port of its own. */
/** Hosts at which nothing listens while a drill is on. */
const SHUT: Record<string, Drill> = { 'orrin-freight.example': 'freight-refused', 'boards.orrinsound.example': 'boards-shut' }

export class Targets {
  readonly ports: Record<string, number> = {}
  private readonly servers: { host: Host; server: Http2SecureServer; port: number }[] = []

  constructor(private readonly authority: Authority, private readonly has: (drill: Drill) => boolean) {}

  async start(): Promise<void> {
    for (const host of HOSTS) {
      const certificate = await this.authority.issue([host.name], host.certificateDays)
      for (const { address, name } of host.servers) {
        const server = http2.createSecureServer({ ...certificate, allowHTTP1: true, ALPNProtocols: host.http2 ? ['h2', 'http/1.1'] : ['http/1.1'] },
          (request, response) => this.answer(host, name, request, response))
        server.on('sessionError', () => undefined)
        server.on('tlsClientError', () => undefined)
        const port = await listen(server, 0)
        this.servers.push({ host, server, port })
        this.ports[`${address}:443`] = port
      }
    }
    for (const address of REFERENCES) this.ports[address] = await listenPlain()
    await this.follow()
  }

  /** Addresses of machines that are switched on. */
  machines(): string[] {
    return [...new Set(Object.keys(this.ports).map((key) => key.replace(/:\d+(\/udp)?$/, '')))]
  }

  /** Makes the servers what the drills say: certificates exchanged, ports shut and opened again. */
  async follow(): Promise<void> {
    for (const { host, server, port } of this.servers) {
      if (host.name === 'berths.orrinsound.example') {
        server.setSecureContext(await this.authority.issue([host.name], this.has('expired-certificate') ? -1 : host.certificateDays))
      }
      if (host.name === 'book.orrinsound.example') server.setSecureContext(await this.authority.issue([host.name], this.has('weak-certificate') ? 2 : host.certificateDays))
      const shut = SHUT[host.name]
      if (!shut) continue
      if (this.has(shut) && server.listening) await new Promise<void>((resolve) => server.close(() => resolve()))
      if (!this.has(shut) && !server.listening) await listen(server, port)
    }
  }

  private answer(host: Host, server: string, request: Http2ServerRequest, response: Http2ServerResponse): void {
    const path = request.url.split('?')[0]!
    const now = Date.now()
    const behaves = behaviour(host, server, path, now, this.has, Math.random)
    if (behaves.does !== 'answer') return
    const page = PAGES[host.name]?.[path]
    const isFine = page !== undefined && behaves.status === (page.status ?? 200)
    const whole = isFine ? page.body(now, this.has) : behaves.status === 404 ? `There is no ${path} here.` : 'The server has a fault. Try again later.'
    const text = isFine && behaves.half ? whole.replace(new RegExp(`<${page.half}.*</${page.half}>`, 's'), '') : whole
    const packs = /gzip/.test(String(request.headers['accept-encoding'])) && text.length > 1000
    const body = packs ? gzipSync(text) : Buffer.from(text)
    setTimeout(() => {
      response.writeHead(behaves.status, {
        'content-type': isFine ? page.type : 'text/plain', 'content-length': body.length, 'x-served-by': server, ...(packs ? { 'content-encoding': 'gzip' } : {}),
        'cache-control': 'no-store', ...(behaves.status === 503 ? { 'retry-after': '30' } : {})
      })
      response.end(body)
    }, behaves.work)
  }
}

/** A server that takes connections and says nothing, as a reference target needs no more. */
function listenPlain(): Promise<number> {
  const server = net.createServer((socket) => socket.on('error', () => undefined).end())
  return new Promise((resolve) => server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)))
}

function listen(server: Http2SecureServer, port: number): Promise<number> {
  return new Promise((resolve, reject) => {
    server.once('error', reject)
    server.listen(port, '127.0.0.1', () => {
      server.removeListener('error', reject)
      resolve((server.address() as AddressInfo).port)
    })
  })
}
