import { TryFailure } from '../attempt/failure'
import type { Received } from './exchange'

/** A request as far as a redirect changes it. */
export interface Redirected {
  url: URL
  method: string
  body?: string
}

/** The value of a header of an answer, by its name in lower case. */
export const headerOf = (headers: [string, string][], name: string): string | undefined => headers.find(([each]) => each.toLowerCase() === name)?.[1]

/**
 * The request that an answer leads to; undefined when it leads nowhere. 303 is fetched with GET, and so are POSTs that
 * are answered with 301 or 302 (RFC 9110, section 15.4). Throws TryFailure for a place that is no web address.
 */
export function redirected({ status, headers }: Pick<Received, 'status' | 'headers'>, { url, method, body }: Redirected): Redirected | undefined {
  const location = headerOf(headers, 'location')
  if (location === undefined || ![301, 302, 303, 307, 308].includes(status)) return undefined
  const next = URL.canParse(location, url) ? new URL(location, url) : undefined
  if (!next || !/^https?:$/.test(next.protocol)) throw new TryFailure('bad-redirect', `the redirect leads to “${location.slice(0, 100)}”, which is no web address`)
  const isFetched = status === 303 || (method === 'POST' && status < 303)
  return isFetched ? { url: next, method: 'GET' } : { url: next, method, ...(body === undefined ? {} : { body }) }
}

/** Headers that belong to one host alone and do not go along with a redirect to another one. */
export const isForOneHost = (name: string): boolean => /^(authorization|cookie|host)$/i.test(name)
