import type { Phase } from '../../core/observation'
import { failureOf, TryFailure } from '../attempt/failure'

/** Turns what was thrown during a phase of an HTTP exchange into a reason of the closed list with its sentence. */
export function httpFailureOf(error: unknown, phase: Phase, timedOut: boolean, wait: number): TryFailure {
  const { code = '', message = '' } = (error ?? {}) as { code?: string; message?: string }
  if (timedOut || error instanceof TryFailure) return failureOf(error, phase, timedOut, wait)
  if (code === 'HPE_HEADER_OVERFLOW') return new TryFailure('headers-too-large', 'the answer begins with more than 64 kB of headers')
  if (code.startsWith('HPE_')) return new TryFailure('not-http', `the answer is not HTTP: ${message.replace(/^Parse Error: /, '').toLowerCase()}`)
  if (code.startsWith('ERR_HTTP2') || code === 'ERR_INVALID_CHAR') return new TryFailure('not-http', `the server broke the protocol: ${message}`)
  if (code.startsWith('Z_') || code.startsWith('ERR__ERROR_FORMAT') || code.startsWith('ERR_BROTLI') || code.startsWith('ERR__')) {
    return new TryFailure('body-unreadable', 'the body is not in the encoding its header names')
  }
  return failureOf(error, phase, timedOut, wait)
}
