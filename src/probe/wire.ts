import { gzipSync } from 'node:zlib'
import http from 'node:http'
import https from 'node:https'
import type { CheckDocument } from '../core/definitions/check'
import type { Evidence, Observation, Occasion } from '../core/observation'
import type { Beat } from '../core/schedule/next-run'
import type { InsideAnswer, InsideQuestion } from '../core/inside/inside'
import type { Instant } from '../core/units'
import type { AddressRules } from '../kinds/address-guard'

/** A location as its probe knows it. */
export interface ProbeLocation extends AddressRules {
  id: number
  key: string
  proxy: string | null
  /** `host:port` of what it watches to know that its own line works. */
  references: string[]
}

/** What a probe has to do, as the server says it. */
export interface Assignments {
  etag: string
  /** The workspace's zone, for hours. */
  zone: string
  locations: ProbeLocation[]
  checks: (Runnable & { id: number; version: number; locations: { id: number; turn?: Beat['turn'] }[] })[]
}

/** A definition with every variable in place; `secrets` is cut out of whatever is recorded. */
export interface Runnable {
  document: CheckDocument
  used: NonNullable<Evidence['variables']>
  secrets: string[]
  missing?: string
}

export interface Orders {
  runs: { id: number; check: number; location: number; at: Instant; occasion: Occasion }[]
  tries: (Runnable & { id: string; location: number })[]
}

/** What a probe says of itself every few seconds. */
export interface Health {
  clockOffset: number | null
  backlog: number
  lateness: number
  checks: number
  lines: { location: number; cutSince: Instant | null }[]
}

/** The probe's side of the wire: long polls and batches over HTTP with a bearer token. */
export class Wire {
  private readonly agent: http.Agent
  private readonly url: URL

  constructor(url: string, private readonly token: string, private readonly version: string) {
    this.url = new URL(url)
    this.agent = this.url.protocol === 'https:' ? new https.Agent({ keepAlive: true }) : new http.Agent({ keepAlive: true })
  }

  /** Waits up to 20 s for assignments other than those with this mark; undefined when nothing changed. */
  async assignments(etag: string | undefined): Promise<Assignments | undefined> {
    const answer = await this.send('GET', '/api/probe/assignments?wait=20', undefined, etag ? { 'if-none-match': etag } : {})
    return answer.status === 304 ? undefined : (JSON.parse(answer.body) as Assignments)
  }

  /** Waits up to 20 s for runs and tries that somebody asked for. */
  async orders(): Promise<Orders> {
    return JSON.parse((await this.send('GET', '/api/probe/orders?wait=20')).body) as Orders
  }

  /** Hands observations over; once this resolves the server has them for good. */
  async observations(observations: Observation[]): Promise<void> {
    await this.send('POST', '/api/probe/observations', observations)
  }

  /** Says how the probe is; gives the server's time. */
  async health(health: Health): Promise<{ now: number }> {
    return JSON.parse((await this.send('POST', '/api/probe/health', health)).body) as { now: number }
  }

  /** What Hemeron knows of a check by itself, saved or being tried. */
  async inside(check: { id: number } | { try: string }, question: InsideQuestion): Promise<InsideAnswer> {
    return JSON.parse((await this.send('POST', '/api/probe/inside', { ...check, question })).body) as InsideAnswer
  }

  async tries(answers: { id: string; location: number; observation: Observation }[]): Promise<void> {
    await this.send('POST', '/api/probe/tries', answers)
  }

  private send(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<{ status: number; body: string }> {
    const payload = body === undefined ? undefined : gzipSync(JSON.stringify(body), { level: 1 })
    return new Promise((resolve, reject) => {
      const request = (this.url.protocol === 'https:' ? https : http).request(new URL(path, this.url), {
        method, agent: this.agent, timeout: 40_000,
        headers: {
          authorization: `Bearer ${this.token}`, 'hemeron-probe': this.version, ...headers,
          ...(payload ? { 'content-type': 'application/json', 'content-encoding': 'gzip', 'content-length': payload.length } : {})
        }
      }, (response) => {
        const chunks: Buffer[] = []
        response.on('data', (chunk: Buffer) => chunks.push(chunk))
        response.on('error', reject)
        response.on('end', () => {
          const status = response.statusCode ?? 0
          const text = Buffer.concat(chunks).toString()
          if (status === 304 || (status >= 200 && status < 300)) resolve({ status, body: text })
          else reject(new WireError(status, `${method} ${path} answers ${status} ${text.slice(0, 200)}`))
        })
      })
      request.on('timeout', () => request.destroy(new Error('no answer within 40 s')))
      request.on('error', reject)
      request.end(payload)
    })
  }
}

/** The server answered, and did not take it. */
export class WireError extends Error {
  constructor(readonly status: number, message: string) {
    super(message)
    this.name = 'WireError'
  }
}
