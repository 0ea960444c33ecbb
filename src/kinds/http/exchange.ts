import http from 'node:http'
import http2 from 'node:http2'
import type { Duplex, Readable } from 'node:stream'
import type { TLSSocket } from 'node:tls'
import { brotliDecompress, gunzip, inflate, inflateRaw, type InputType } from 'node:zlib'
import { TryFailure } from '../attempt/failure'

/** The largest set of headers that is read, in bytes. */
const HEADERS_MOST = 64 * 1024

export interface Sent {
  method: string
  url: URL
  headers: Record<string, string>
  body?: string | Buffer
}

export interface Received {
  status: number
  statusText: string
  headers: [string, string][]
  body: Buffer
  /** Bytes of the body as they came over the wire. */
  wireBytes: number
  protocol: string
}

/** Sends one request over an open connection and reads the whole answer. */
export interface ExchangeEvents {
  /** The status and headers are here; the body follows. */
  answered: () => void
}

export function exchange(socket: Duplex, sent: Sent, most: number, events: ExchangeEvents, signal: AbortSignal): Promise<Received> {
  const isHttp2 = (socket as Partial<TLSSocket>).alpnProtocol === 'h2'
  return isHttp2 ? exchangeHttp2(socket, sent, most, events, signal) : exchangeHttp1(socket, sent, most, events, signal)
}

function exchangeHttp1(socket: Duplex, sent: Sent, most: number, events: ExchangeEvents, signal: AbortSignal): Promise<Received> {
  return new Promise((resolve, reject) => {
    const request = http.request({
      method: sent.method,
      host: sent.url.hostname,
      path: sent.url.pathname + sent.url.search,
      headers: { host: sent.url.host, ...sent.headers, connection: 'close' },
      setHost: false,
      maxHeaderSize: HEADERS_MOST,
      createConnection: () => socket as never
    })
    const abort = () => request.destroy(new Error('aborted'))
    signal.addEventListener('abort', abort, { once: true })
    request.once('error', reject)
    request.once('upgrade', () => reject(new TryFailure('not-http', 'the server switched to another protocol')))
    request.once('response', (response) => {
      events.answered()
      const headers: [string, string][] = []
      for (let index = 0; index < response.rawHeaders.length; index += 2) headers.push([response.rawHeaders[index]!, response.rawHeaders[index + 1]!])
      readBody(response, headers, most).then(
        ({ body, wireBytes }) => resolve({
          status: response.statusCode ?? 0, statusText: response.statusMessage ?? '', headers, body, wireBytes, protocol: `HTTP/${response.httpVersion}`
        }),
        (error: unknown) => {
          request.destroy()
          reject(error)
        }
      ).finally(() => signal.removeEventListener('abort', abort))
    })
    request.end(sent.body)
  })
}

function exchangeHttp2(socket: Duplex, sent: Sent, most: number, events: ExchangeEvents, signal: AbortSignal): Promise<Received> {
  return new Promise((resolve, reject) => {
    const session = http2.connect(sent.url.origin, {
      createConnection: () => socket, maxSessionMemory: 10, maxHeaderListPairs: 200, settings: { enablePush: false, maxHeaderListSize: HEADERS_MOST }
    })
    const end = (settle: () => void) => {
      signal.removeEventListener('abort', abort)
      session.destroy()
      settle()
    }
    const abort = () => end(() => reject(new Error('aborted')))
    signal.addEventListener('abort', abort, { once: true })
    session.once('error', (error) => end(() => reject(error)))
    session.once('close', () => reject(new TryFailure('connection-closed', 'the server closed the connection without an answer')))
    const lower = Object.fromEntries(Object.entries(sent.headers).map(([name, value]) => [name.toLowerCase(), value]))
    const stream = session.request({
      ...lower, ':method': sent.method, ':path': sent.url.pathname + sent.url.search, ':authority': lower.host ?? sent.url.host, ':scheme': 'https'
    }, { endStream: sent.body === undefined })
    stream.once('error', (error) => end(() => reject(error)))
    stream.once('response', (fields) => {
      events.answered()
      const headers = Object.entries(fields).filter(([name]) => !name.startsWith(':'))
        .flatMap(([name, value]): [string, string][] => (Array.isArray(value) ? value : [value]).map((each) => [name, String(each)]))
      readBody(stream, headers, most).then(
        ({ body, wireBytes }) => end(() => resolve({ status: Number(fields[':status']), statusText: '', headers, body, wireBytes, protocol: 'HTTP/2' })),
        (error: unknown) => end(() => reject(error))
      )
    })
    if (sent.body !== undefined) stream.end(sent.body)
  })
}

/** The parts of a stream until its end. Listening to events costs a probe a good deal less than iterating. */
function collect(stream: Readable, most: number): Promise<{ chunks: Buffer[]; wireBytes: number }> {
  return new Promise((resolve, reject) => {
    const chunks: Buffer[] = []
    let wireBytes = 0
    stream.on('data', (chunk: Buffer) => {
      wireBytes += chunk.length
      if (wireBytes > most) {
        reject(tooLarge(most))
        stream.destroy()
      } else chunks.push(chunk)
    })
    let hasEnded = false
    stream.once('end', () => {
      hasEnded = true
      resolve({ chunks, wireBytes })
    })
    stream.on('error', reject)
    stream.once('close', () => {
      if (!hasEnded) reject(Object.assign(new Error('closed before its end'), { code: 'ERR_STREAM_PREMATURE_CLOSE' }))
    })
  })
}

/** Reads a body up to a limit that holds for the bytes on the wire and, decoded, again for what they unfold to. */
async function readBody(stream: Readable, headers: [string, string][], most: number): Promise<{ body: Buffer; wireBytes: number }> {
  const { chunks, wireBytes } = await collect(stream, most)
  const aborted = (stream as Partial<http.IncomingMessage>).complete === false
  if (aborted) throw new TryFailure('connection-closed', 'the server closed the connection in the middle of the body')
  return { body: await decode(Buffer.concat(chunks), headers, most), wireBytes }
}

function tooLarge(most: number): TryFailure {
  return new TryFailure('body-too-large', `the body is larger than the ${most / 1e6} MB that are read`)
}

/** Undoes the content codings of RFC 9110, section 8.4.1, never unfolding more than `most` bytes. */
async function decode(body: Buffer, headers: [string, string][], most: number): Promise<Buffer> {
  const codings = headers.filter(([name]) => name.toLowerCase() === 'content-encoding')
    .flatMap(([, value]) => value.split(',')).map((coding) => coding.trim().toLowerCase()).filter((coding) => coding !== '' && coding !== 'identity')
  if (codings.length > 3) throw new TryFailure('body-unreadable', 'the body is encoded more than three times')
  let decoded = body
  for (const coding of codings.reverse()) {
    if (decoded.length === 0) return decoded
    decoded = await decodeOnce(decoded, coding, most)
  }
  return decoded
}

function decodeOnce(body: Buffer, coding: string, most: number): Promise<Buffer> {
  type Decoder = (input: InputType, options: { maxOutputLength: number }, done: (error: Error | null, result: Buffer) => void) => void
  const isRawDeflate = (body[0]! & 0x0f) !== 0x08
  const decoders: Record<string, Decoder> = { gzip: gunzip, 'x-gzip': gunzip, deflate: isRawDeflate ? inflateRaw : inflate, br: brotliDecompress }
  const decoder = decoders[coding]
  if (!decoder) throw new TryFailure('body-unreadable', `the body is encoded as ${coding}, which was not asked for`)
  return new Promise((resolve, reject) => {
    decoder(body, { maxOutputLength: most }, (error, result) => {
      if (!error) resolve(result)
      else if ((error as NodeJS.ErrnoException).code === 'ERR_BUFFER_TOO_LARGE') reject(tooLarge(most))
      else reject(new TryFailure('body-unreadable', `the body is not ${coding}, though its header says so`))
    })
  })
}
