export const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'] as const

/** What an http check sends. */
export interface HttpTarget {
  url: string
  method: string
  headers: Record<string, string>
  body?: string
  /** Shapes of a request that make its body, its headers and what counts as a failure; at most one, and none beside `body`. */
  graphql?: { query: string; variables?: Record<string, unknown>; operation?: string }
  soap?: { envelope: string; action?: string; version: '1.1' | '1.2' }
  upload?: { field: string; file: string; content: string; type?: string }
  auth?: { basic: { user: string; password: string } } | { bearer: string }
  /** How many redirects are followed; 0 takes the first answer as it is. */
  redirects: number
  /** Whether the certificate must be valid, trusted and for this name. */
  verify: boolean
  /** Offer HTTP/2 in the TLS handshake (ALPN, RFC 7301), or speak HTTP/1.1 only. */
  version: 'any' | '1.1'
  family?: 4 | 6
  /** The largest body that is read, in bytes, after decoding; a larger one is a failure. */
  most: number
}

export const HTTP_DEFAULTS = { method: 'GET', redirects: 5, most: 5_000_000 }
