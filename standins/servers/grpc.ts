import http2 from 'node:http2'

export interface GrpcAnswer {
  bytes?: Uint8Array
  code: number
  message?: string
}

/** A small gRPC server: unary calls only, each answered as told by its path and message. */
export function grpcServer(answer: (path: string, request: Buffer) => GrpcAnswer | undefined, certificate?: { cert: string; key: string }): http2.Http2Server | http2.Http2SecureServer {
  const server = certificate ? http2.createSecureServer({ ...certificate, ALPNProtocols: ['h2'] }) : http2.createServer()
  server.on('sessionError', () => undefined)
  server.on('stream', (stream: http2.ServerHttp2Stream, headers: http2.IncomingHttpHeaders) => {
    const parts: Buffer[] = []
    stream.on('error', () => undefined)
    stream.on('data', (chunk: Buffer) => parts.push(chunk))
    stream.on('end', () => {
      const found = answer(String(headers[':path']), Buffer.concat(parts).subarray(5))
      if (!found) return
      const status = { 'grpc-status': String(found.code), ...(found.message === undefined ? {} : { 'grpc-message': encodeURIComponent(found.message) }) }
      if (!found.bytes) return void stream.respond({ ':status': 200, 'content-type': 'application/grpc+proto', ...status }, { endStream: true })
      stream.respond({ ':status': 200, 'content-type': 'application/grpc+proto' }, { waitForTrailers: true })
      stream.once('wantTrailers', () => stream.sendTrailers(status))
      const head = Buffer.alloc(5)
      head.writeUInt32BE(found.bytes.length, 1)
      stream.end(Buffer.concat([head, found.bytes]))
    })
  })
  return server
}

/** What the standard health service answers for a state: 1 is serving, 2 is not. */
export const healthAnswer = (state: number): GrpcAnswer => ({ bytes: Uint8Array.from([8, state]), code: 0 })
