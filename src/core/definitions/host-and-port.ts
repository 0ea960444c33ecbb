import { isHost } from './target-fields'

/**
 * Reads `host:port`, `[::1]:port`, `host` or `scheme://host:port/…` as people type and paste them.
 * @param schemes schemes that are taken, each with the port it stands for
 */
export function hostAndPort(text: string, schemes: Record<string, number> = {}): { host: string; port?: number; scheme?: string } | undefined {
  const [, scheme, rest = ''] = /^(?:([a-z][a-z0-9+.-]*):\/\/)?(.*)$/i.exec(text.trim()) ?? []
  const known = scheme === undefined ? undefined : schemes[scheme.toLowerCase()]
  if (scheme !== undefined && known === undefined) return undefined
  const place = scheme === undefined ? rest : rest.replace(/[/?#].*$/, '').replace(/^[^@]*@/, '')
  const [, bracketed, plain, port] = /^(?:\[([^\]]+)\]|([^:]+|[0-9a-fA-F:]*:[0-9a-fA-F:]*:[0-9a-fA-F:.]*))(?::(\d{1,5}))?$/.exec(place) ?? []
  const host = bracketed ?? plain
  if (host === undefined || !isHost(host) || (port !== undefined && (Number(port) < 1 || Number(port) > 65_535))) return undefined
  return { host, ...(port !== undefined ? { port: Number(port) } : known === undefined || known === 0 ? {} : { port: known }), ...(scheme === undefined ? {} : { scheme: scheme.toLowerCase() }) }
}

/** How an address of a host and a port is written in tables. */
export const formatHostAndPort = (host: string, port: number): string => `${host.includes(':') ? `[${host}]` : host}:${port}`

/** Takes what was typed as the address of a target that has a host and a port. */
export function takeHostAndPort<Target extends { host: string; port: number }>(schemes: Record<string, number> = {}) {
  return (target: Target, text: string): Target | { expected: string } => {
    const found = hostAndPort(text, schemes)
    if (!found) return { expected: 'a host, or a host and a port such as www.example.org:443' }
    return { ...target, host: found.host, ...(found.port === undefined ? {} : { port: found.port }) }
  }
}

/** Makes `guess` of a kind whose pasted addresses begin with one of some schemes. */
export function guessByScheme(schemes: Record<string, number>, more: (scheme: string) => Record<string, unknown> = () => ({})) {
  return (text: string): { written: Record<string, unknown>; address: string; name: string } | undefined => {
    const found = hostAndPort(text, schemes)
    if (!found?.scheme) return undefined
    const { host, port, scheme } = found
    return { written: { host, ...(port === undefined ? {} : { port }), ...more(scheme) }, address: port === undefined ? host : formatHostAndPort(host, port), name: host }
  }
}
