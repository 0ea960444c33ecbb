import { createHmac } from 'node:crypto'

export interface SignedRequest {
  method: string
  url: string
  /** The value of the Content-Digest header. */
  digest: string
  secret: string
  /** Seconds since 1970. */
  created: number
}

/**
 * The two headers that sign a request (RFC 9421, sections 2.5 and 3.1) with HMAC-SHA256 over its method, target
 * address and Content-Digest. The key is the channel's secret as UTF-8.
 */
export function signRequest(request: SignedRequest): { 'signature-input': string; signature: string } {
  const parameters = `("@method" "@target-uri" "content-digest");created=${request.created};keyid="hemeron";alg="hmac-sha256"`
  const base = [
    `"@method": ${request.method}`,
    `"@target-uri": ${request.url}`,
    `"content-digest": ${request.digest}`,
    `"@signature-params": ${parameters}`
  ].join('\n')
  const signature = createHmac('sha256', request.secret).update(base).digest('base64')
  return { 'signature-input': `hemeron=${parameters}`, signature: `hemeron=:${signature}:` }
}
