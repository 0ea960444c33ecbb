import type { Phase } from '../../core/observation'
import type { Reason } from '../../core/reasons/reasons'
import { speakDuration } from '../../core/definitions/duration'
import { LinkError } from '../link'

/** A try that ended before there was an answer to judge. */
export class HttpFailure extends Error {
  readonly reason: Reason

  constructor(reason: Reason, sentence: string) {
    super(sentence)
    this.name = 'HttpFailure'
    this.reason = reason
  }
}

/** Turns whatever was thrown during a phase into a reason of the closed list with its sentence. */
export function failureOf(error: unknown, phase: Phase, timedOut: boolean, wait: number): HttpFailure {
  if (error instanceof HttpFailure) return error
  if (timedOut) return new HttpFailure(`timed-out-${phase}`, timeOutSentence(phase, wait))
  if (error instanceof LinkError && error.fault !== 'aborted') return new HttpFailure(error.fault, error.message)
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string }
  if (code === 'HPE_HEADER_OVERFLOW') return new HttpFailure('headers-too-large', 'the answer begins with more than 64 kB of headers')
  if (code.startsWith('HPE_')) return new HttpFailure('not-http', `the answer is not HTTP: ${message.replace(/^Parse Error: /, '').toLowerCase()}`)
  if (code.startsWith('ERR_HTTP2') || code === 'ERR_INVALID_CHAR') return new HttpFailure('not-http', `the server broke the protocol: ${message}`)
  if (code.startsWith('Z_') || code.startsWith('ERR__ERROR_FORMAT') || code.startsWith('ERR_BROTLI') || code.startsWith('ERR__')) {
    return new HttpFailure('body-unreadable', 'the body is not in the encoding its header names')
  }
  if (phase === 'tls') return new HttpFailure('tls-failed', `no TLS session: ${tlsMessage(code, message)}`)
  return new HttpFailure('connection-closed', `the server closed the connection ${phase === 'receive' ? 'in the middle of the body' : 'without an answer'}`)
}

function tlsMessage(code: string, message: string): string {
  if (code === 'ECONNRESET' || code === '') return 'the server closed the connection during the handshake'
  if (code === 'ERR_SSL_WRONG_VERSION_NUMBER' || code === 'ERR_SSL_PACKET_LENGTH_TOO_LONG') return 'the server does not speak TLS on this port'
  const alert = /alert ([a-z ]+)/.exec(message)?.[1]
  return alert ? `the server answers “${alert.trim()}”` : code.replace(/^ERR_SSL_/, '').toLowerCase().replaceAll('_', ' ')
}

function timeOutSentence(phase: Phase, wait: number): string {
  const within = `within ${speakDuration(wait)}`
  switch (phase) {
    case 'lookup': return `the resolver did not answer ${within}`
    case 'connect': return `no connection ${within}: nothing came back from the address`
    case 'tls': return `connected, but the TLS handshake was not done ${within}`
    case 'wait': return `connected, but the answer did not begin ${within}`
    case 'receive': return `the answer began, but was not complete ${within}`
  }
}
