/** What of a request is kept as evidence. */
interface KeptRequest { method: string; url: string; headers: [string, string][] }

/** Headers that curl makes by itself, or that belong to one connection. */
const OWN = /^(content-length|connection|host|accept-encoding|:.*)$/i
const quoted = (text: string) => `'${text.replace(/'/g, `'\\''`)}'`

/**
 * The request as a curl command, to be tried again by hand. What was redacted stands as it was recorded, and has to be
 * filled in; the address is pinned to the one that answered, so that the same server is asked.
 * @param address where the observed answer came from
 */
export function asCurl({ method, url, headers }: KeptRequest, address?: string): string {
  const { hostname, port, protocol } = new URL(url)
  const pinned = address === undefined || hostname === address ? [] : [`--resolve ${quoted(`${hostname}:${port || (protocol === 'https:' ? 443 : 80)}:${address.includes(':') ? `[${address}]` : address}`)}`]
  return ['curl', '-sS', '-i', ...(method === 'GET' ? [] : [`-X ${method}`]), ...pinned, ...headers.filter(([name]) => !OWN.test(name)).map(([name, value]) => `-H ${quoted(`${name}: ${value}`)}`), quoted(url)].join(' ')
}
