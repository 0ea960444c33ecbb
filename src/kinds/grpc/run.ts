import http2 from 'node:http2'
import type { Duplex } from 'node:stream'
import { runnerOf, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { AGENT } from '../http/ask'
import { grpcDefinition, type GrpcTarget } from './definition'
import { callOf, healthCall } from './messages'

const MOST = 4_000_000
/** Status codes of gRPC, in their order. */
const CODES = ['OK', 'CANCELLED', 'UNKNOWN', 'INVALID_ARGUMENT', 'DEADLINE_EXCEEDED', 'NOT_FOUND', 'ALREADY_EXISTS', 'PERMISSION_DENIED', 'RESOURCE_EXHAUSTED', 'FAILED_PRECONDITION', 'ABORTED', 'OUT_OF_RANGE', 'UNIMPLEMENTED', 'INTERNAL', 'UNAVAILABLE', 'DATA_LOSS', 'UNAUTHENTICATED']

export const grpcRunner = runnerOf(grpcDefinition, async (target, trying) => {
  const call = target.method === undefined ? healthCall(target.service ?? '') : callOf(target.proto ?? '', target.method, JSON.parse(target.message ?? '{}') as Record<string, unknown>)
  const socket = await trying.open({ host: target.host, port: target.port, ...(target.plain ? {} : { tls: { verify: !target.unverified, alpn: ['h2'] } }) })
  trying.begin('wait')
  const { bytes, code, message } = await unary(socket, target, call.path, call.request, trying)
  trying.noted.protocol = 'gRPC'
  trying.noted.status = code
  trying.noted.bytesReceived = bytes?.length ?? 0
  trying.evidence.facts = [['status', `${code} ${CODES[code] ?? ''}`], ...(message === '' ? [] : [['message', message] as [string, string]])]
  if (code === 16 || code === 7) throw new TryFailure('login-refused', `the gRPC server refuses the call: ${CODES[code]} ${message}`.slice(0, 300))
  if (code !== 0) throw new TryFailure(code === 12 ? 'not-supported' : 'server-failed', `the gRPC server answers ${CODES[code] ?? code}${message === '' ? '' : `: ${message}`}`.slice(0, 300))
  if (!bytes) throw new TryFailure('bad-answer', 'the call ended well, but without an answer')
  const text = call.read(bytes)
  const body = trying.answer(text)
  if (target.method !== undefined) return { body, status: code }
  const { status: health } = JSON.parse(text) as { status: string }
  if (health !== 'SERVING') throw new TryFailure('not-running', `${target.service === undefined ? 'the server' : target.service} says that it is ${health}`)
  return { body, status: code, facts: { health: [health] } }
})

/** One call over an open connection (the gRPC protocol over HTTP/2: messages with five bytes before them, the status in trailers). */
function unary(socket: Duplex, { host, port, plain, token }: GrpcTarget, path: string, request: Buffer, trying: Trying): Promise<{ bytes?: Buffer; code: number; message: string }> {
  return new Promise((resolve, reject) => {
    const authority = `${plain ? 'http' : 'https'}://${host.includes(':') ? `[${host}]` : host}:${port}`
    const session = http2.connect(authority, { createConnection: () => socket, settings: { enablePush: false, maxHeaderListSize: 65_536 } })
    const end = (settle: () => void) => {
      session.destroy()
      settle()
    }
    trying.signal.addEventListener('abort', () => end(() => reject(new Error('aborted'))), { once: true })
    session.once('error', (error: NodeJS.ErrnoException) => end(() => reject(error.code?.startsWith('ERR_HTTP2') ? new TryFailure('wrong-protocol', `the server does not speak HTTP/2 here: ${error.message}`) : error)))
    session.once('close', () => reject(new TryFailure('connection-closed', 'the server closed the connection without an answer')))
    const stream = session.request({
      ':method': 'POST', ':path': path, 'content-type': 'application/grpc+proto', te: 'trailers', 'user-agent': AGENT, ...(token === undefined ? {} : { authorization: `Bearer ${token}` })
    })
    let held = Buffer.alloc(0)
    let status: { code: number; message: string } | undefined
    const take = (headers: http2.IncomingHttpHeaders) => {
      if (headers['grpc-status'] !== undefined) status = { code: Number(headers['grpc-status']), message: decodeURIComponent(String(headers['grpc-message'] ?? '').replace(/%(?![0-9a-f]{2})/gi, '%25')) }
    }
    stream.once('error', (error) => end(() => reject(error)))
    stream.once('response', (headers) => {
      trying.begin('receive')
      take(headers)
      if (headers[':status'] !== 200 || !String(headers['content-type']).startsWith('application/grpc')) end(() => reject(new TryFailure('wrong-protocol', `the server answers ${headers[':status']} ${headers['content-type'] ?? ''}, which is no gRPC`)))
    })
    stream.on('trailers', take)
    stream.on('data', (chunk: Buffer) => {
      held = Buffer.concat([held, chunk])
      if (held.length > MOST) end(() => reject(new TryFailure('answer-too-large', 'the answer is larger than 4 MB')))
    })
    stream.once('end', () => end(() => {
      if (!status) return reject(new TryFailure('wrong-protocol', 'the answer ends without a status'))
      const isWhole = held.length >= 5 && held[0] === 0 && held.length >= 5 + held.readUInt32BE(1)
      return resolve({ ...status, ...(isWhole ? { bytes: held.subarray(5, 5 + held.readUInt32BE(1)) } : {}) })
    }))
    const head = Buffer.alloc(5)
    head.writeUInt32BE(request.length, 1)
    stream.end(Buffer.concat([head, request]))
  })
}
