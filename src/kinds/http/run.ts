import { redactText } from '../../core/layers/redact'
import type { Check } from '../../core/definitions/check'
import { judgeAnswer, type Verdicted } from '../../core/conditions/judge-answer'
import { remembering } from '../../core/remembering'
import type { Evidence, PhaseTimes } from '../../core/observation'
import type { Link } from '../link'
import type { Measured, RunOptions } from '../runner'
import { Companions } from './companions'
import { exchange, type Received } from './exchange'
import { TryFailure } from '../attempt/failure'
import { open, seenOf, type Destination, type Opened } from '../attempt/open'
import { patience } from '../attempt/patience'
import { PhaseClock } from '../attempt/phase-clock'
import { AGENT } from './ask'
import { httpFailureOf } from './http-failure'
import { isForOneHost, redirected } from './redirect'
import { redactHeaders, secretsOf } from './redact'
import { bodyOf, faultIn } from './shapes'
import type { HttpTarget } from './target'

interface Found extends Partial<Opened> {
  received?: Received
  redirects: NonNullable<Evidence['redirects']>
  url: URL
}

/** Runs one try of an http check: see KindRunner. */
export async function runHttp(check: Check<HttpTarget>, link: Link, options: RunOptions): Promise<Measured> {
  const clock = new PhaseClock(performance.now())
  const { signal, isOver, end } = patience(check.wait)
  const found: Found = { redirects: [], url: new URL(check.target.url) }
  const companions = new Companions(link, options.memory ?? new Map<string, unknown>(), Date.now(), new Set(check.pass.flatMap(({ test }) => (test.on === 'reading' ? [test.name] : []))))
  let failure: TryFailure | undefined
  try {
    await follow(check.target, link, clock, signal, found, (address) => companions.begin(address))
  } catch (error) {
    failure = httpFailureOf(error, clock.phase, isOver(), check.wait)
  } finally {
    end()
  }
  const total = clock.stop()
  if (failure && found.address && clock.phase === 'connect') companions.begin(found.address)
  const around = { address: found.address, host: hostOf(new URL(check.target.url)) }
  const [packets, known] = await Promise.all([companions.readings(), failure ? {} : companions.around(around)])
  const seen = measured(check, found, failure, clock.times, total, { ...known, ...packets }, options)
  const beside = companions.end(around, seen.verdict === 'fail' || seen.verdict === 'slow')
  const readings = { ...packets, ...beside.readings }
  return { ...seen, ...(Object.keys(readings).length > 0 ? { readings } : {}), ...(beside.tables.length > 0 ? { evidence: { ...seen.evidence, beside: beside.tables } } : {}) }
}

async function follow(target: HttpTarget, link: Link, clock: PhaseClock, signal: AbortSignal, found: Found, connected: (address: string) => void): Promise<void> {
  const shaped = bodyOf(target)
  let { method } = target
  let { body } = shaped
  for (;;) {
    const opened = await open(destinationOf(found.url, target), link, clock.begin, signal, found)
    if (found.address) connected(found.address)
    clock.begin('wait')
    try {
      found.received = await exchange(opened.socket, {
        method, url: found.url, headers: requestHeaders(target, found.url, body), ...(body === undefined ? {} : { body })
      }, target.most, { answered: () => clock.begin('receive') }, signal)
    } finally {
      opened.socket.destroy()
    }
    const next = redirected(found.received, { url: found.url, method, ...(body === undefined ? {} : { body }) })
    if (!next || target.redirects === 0) return
    if (found.redirects.length >= target.redirects) throw new TryFailure('too-many-redirects', `more than ${target.redirects} redirects, the last one to ${next.url.href}`)
    found.redirects.push({ status: found.received.status, from: found.url.href, to: next.url.href })
    ;({ method, body } = next)
    found.url = next.url
  }
}

/** The host of an address; one in IPv6 without its brackets. */
const hostOf = ({ hostname }: URL): string => hostname.replace(/^\[|\]$/g, '')

/** Where a request to an address goes. */
function destinationOf(url: URL, { verify, version, family }: HttpTarget): Destination {
  const isSecure = url.protocol === 'https:'
  return {
    host: hostOf(url), port: Number(url.port || (isSecure ? 443 : 80)), ...(family ? { family } : {}),
    ...(isSecure ? { tls: { verify, alpn: version === '1.1' ? ['http/1.1'] : ['h2', 'http/1.1'] } } : {})
  }
}

/** Credentials go to the target's own host only, never along with a redirect to another one. */
function requestHeaders(target: HttpTarget, url: URL, body: string | undefined): Record<string, string> {
  const headers: Record<string, string> = { 'user-agent': AGENT, accept: '*/*', 'accept-encoding': 'gzip, deflate, br', ...(body === undefined ? {} : bodyOf(target).headers) }
  const isOwnHost = url.host === new URL(target.url).host
  for (const [name, value] of Object.entries(target.headers)) {
    if (isOwnHost || !isForOneHost(name)) headers[name.toLowerCase()] = value
  }
  if (target.auth && isOwnHost) {
    headers.authorization = 'basic' in target.auth
      ? `Basic ${Buffer.from(`${target.auth.basic.user}:${target.auth.basic.password}`).toString('base64')}`
      : `Bearer ${target.auth.bearer}`
  }
  if (body !== undefined) headers['content-length'] = String(Buffer.byteLength(body))
  return headers
}

function measured(check: Check<HttpTarget>, found: Found, failure: TryFailure | undefined, phases: PhaseTimes, total: number, readings: Record<string, number>, options: RunOptions): Measured {
  const { received, certificate } = found
  const answer = received ? decodeText(received) : ''
  const text = failure ? '' : answer
  const fault = failure ? undefined : faultIn(check.target, text)
  const failed = failure ? { reason: failure.reason, sentence: failure.message } : fault === undefined ? undefined : { reason: 'server-failed', sentence: fault }
  const judged: Verdicted = judgeAnswer(check, failed ?? {
    status: received!.status,
    headers: received!.headers,
    body: text,
    bytes: received!.body.length,
    times: { ...phases, total },
    readings,
    ...(certificate ? { certificateLeft: certificate.validTo - Date.now() } : {})
  })
  const secrets = secretsOf(check.target)
  const verdict = judged.verdict.sentence === undefined ? judged.verdict : { ...judged.verdict, sentence: redactText(judged.verdict.sentence, secrets) }
  const findings = judged.findings.map((finding) => ({ ...finding, found: redactText(finding.found, secrets) }))
  const server = received?.headers.find(([name]) => name.toLowerCase() === 'x-served-by')?.[1]
  return {
    ...verdict,
    phases,
    total,
    ...(received ? { status: received.status, protocol: received.protocol, bytesReceived: received.wireBytes } : {}),
    ...seenOf(found),
    ...(server ? { server: server.slice(0, 100) } : {}),
    bytesSent: Buffer.byteLength(bodyOf(check.target).body ?? ''),
    evidence: evidenceOf(check.target, found, answer, findings, options)
  }
}

function evidenceOf(target: HttpTarget, found: Found, text: string, conditions: Evidence['conditions'], options: RunOptions): Evidence {
  const { received, certificate, lookup, redirects } = found
  const secrets = secretsOf(target)
  return {
    request: { method: target.method, url: found.url.href, headers: redactHeaders(Object.entries(requestHeaders(target, found.url, bodyOf(target).body)), secrets) },
    ...(received ? {
      answer: {
        status: received.status, statusText: received.statusText, headers: redactHeaders(received.headers, secrets).slice(0, 100),
        body: redactText(text.slice(0, options.bodyKept), secrets), bodyCut: text.length > options.bodyKept, bodyBytes: received.body.length
      }
    } : {}),
    ...(redirects.length > 0 ? { redirects } : {}),
    ...(lookup ? { lookup } : {}),
    ...(certificate ? { certificate } : {}),
    ...(conditions && conditions.length > 0 ? { conditions } : {})
  }
}

/** The decoder of a charset, made once; of one that is not known, that of UTF-8. */
const decoderOf = remembering(50, (charset: string): TextDecoder => {
  try {
    return new TextDecoder(charset)
  } catch {
    return new TextDecoder('utf-8')
  }
})

/** The body as text, in the charset its header names; bytes that do not fit become U+FFFD. */
function decodeText(received: Received): string {
  const type = received.headers.find(([name]) => name.toLowerCase() === 'content-type')?.[1] ?? ''
  return decoderOf(/charset="?([^";\s]+)/i.exec(type)?.[1]?.toLowerCase() ?? 'utf-8').decode(received.body)
}
