import { createHash, createHmac } from 'node:crypto'
import type { Expression } from './template'

/** What expressions may ask besides the values that were taken. */
export interface Sources {
  now: () => number
  /** A number from 0 (included) to 1 (excluded). */
  random: () => number
  uuid: () => string
}

/** Works an expression out. Throws when it names a value that was not taken. */
export function evaluate(expression: Expression, values: ReadonlyMap<string, string>, sources: Sources): string {
  if ('text' in expression) return expression.text
  if ('name' in expression) {
    const value = values.get(expression.name)
    if (value === undefined) throw new Error(`${expression.name} was not taken from any answer`)
    return value
  }
  const given = expression.with.map((each) => evaluate(each, values, sources))
  const [first = '', second = '', third] = given
  switch (expression.call) {
    case 'now': return first === 'unix' ? String(Math.floor(sources.now() / 1000)) : first === 'ms' ? String(sources.now()) : new Date(sources.now()).toISOString()
    case 'random': return String(Math.floor(sources.random() * (first === '' ? 1_000_000_000 : Math.max(1, Number(first) || 1))))
    case 'uuid': return sources.uuid()
    case 'base64': return Buffer.from(first).toString('base64')
    case 'sha256': return createHash('sha256').update(first).digest('hex')
    // RFC 2104 with SHA-256
    case 'hmac': return createHmac('sha256', first).update(second).digest(third === 'base64' ? 'base64' : 'hex')
    case 'url': return encodeURIComponent(first)
    case 'json': return JSON.stringify(first).slice(1, -1)
    default: return given.join('')
  }
}
