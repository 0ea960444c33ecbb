import type { Phase } from '../../core/observation'
import type { Reason } from '../../core/reasons/reasons'
import { speakDuration } from '../../core/definitions/duration'
import { LinkError } from '../link'

/** A try that ended before there was an answer to judge. */
export class TryFailure extends Error {
  readonly reason: Reason

  constructor(reason: Reason, sentence: string) {
    super(sentence)
    this.name = 'TryFailure'
    this.reason = reason
  }
}

/** Turns whatever was thrown during a phase into a reason of the closed list with its sentence. */
export function failureOf(error: unknown, phase: Phase, timedOut: boolean, wait: number): TryFailure {
  if (error instanceof TryFailure) return error
  if (timedOut) return new TryFailure(`timed-out-${phase}`, timeOutSentence(phase, wait))
  if (error instanceof LinkError && error.fault !== 'aborted') return new TryFailure(error.fault, error.message)
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string }
  if (phase === 'tls') return new TryFailure('tls-failed', `no TLS session: ${tlsMessage(code, message)}`)
  return new TryFailure('connection-closed', closedSentence(phase))
}

function tlsMessage(code: string, message: string): string {
  if (code === 'ECONNRESET' || code === '') return 'the server closed the connection during the handshake'
  if (code === 'ERR_SSL_WRONG_VERSION_NUMBER' || code === 'ERR_SSL_PACKET_LENGTH_TOO_LONG') return 'the server does not speak TLS on this port'
  const alert = /alert ([a-z ]+)/.exec(message)?.[1]
  return alert ? `the server answers “${alert.trim()}”` : code.replace(/^ERR_SSL_/, '').toLowerCase().replaceAll('_', ' ')
}

function closedSentence(phase: Phase): string {
  switch (phase) {
    case 'receive': return 'the server closed the connection in the middle of the answer'
    case 'greet': return 'the server closed the connection without a greeting'
    case 'login': return 'the server closed the connection during the sign-in'
    case 'send': return 'the server closed the connection while something was sent to it'
    default: return 'the server closed the connection without an answer'
  }
}

function timeOutSentence(phase: Phase, wait: number): string {
  const within = `within ${speakDuration(wait)}`
  switch (phase) {
    case 'lookup': return `the resolver did not answer ${within}`
    case 'connect': return `no connection ${within}: nothing came back from the address`
    case 'greet': return `connected, but the server did not introduce itself ${within}`
    case 'tls': return `connected, but the TLS handshake was not done ${within}`
    case 'login': return `connected, but the sign-in was not answered ${within}`
    case 'send': return `what was sent was not taken ${within}`
    case 'wait': return `asked, but the answer did not begin ${within}`
    case 'receive': return `the answer began, but was not complete ${within}`
    case 'remove': return `the answer came, but what the check made could not be removed ${within}`
  }
}
