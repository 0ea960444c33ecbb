import { redactText } from '../../core/layers/redact'
import type { HttpTarget } from './target'

const HIDDEN = '(hidden)'
const SECRET_HEADERS = /^(authorization|proxy-authorization|cookie|set-cookie|x-api-key|api-key|x-auth-token)$/i

/** Credentials in headers that were typed: the whole value, and what follows a scheme such as Bearer. */
export function secretsInHeaders(headers: Record<string, string>): string[] {
  return Object.entries(headers).filter(([name]) => SECRET_HEADERS.test(name)).flatMap(([, value]) => [value, value.replace(/^[A-Za-z]+ /, '')])
}

/** The values of a target that must never be recorded. */
export function secretsOf(target: HttpTarget): string[] {
  const own = secretsInHeaders(target.headers)
  if (!target.auth) return own
  if ('bearer' in target.auth) return [...own, target.auth.bearer]
  const { user, password } = target.auth.basic
  return [...own, password, Buffer.from(`${user}:${password}`).toString('base64')]
}

/** Cuts secrets out of headers: the whole value of those that carry credentials, and secrets repeated in others. */
export function redactHeaders(headers: [string, string][], secrets: string[]): [string, string][] {
  return headers.map(([name, value]) => [name, SECRET_HEADERS.test(name) ? HIDDEN : redactText(value.slice(0, 2000), secrets)])
}
