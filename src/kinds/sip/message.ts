import { randomBytes } from 'node:crypto'

export interface SipAnswer {
  status: number
  text: string
  headers: [string, string][]
}

/** A request for what a server takes (RFC 3261, section 11.1). */
export function optionsRequest({ host, port, user, over }: { host: string; port: number; user?: string; over: 'udp' | 'tcp' | 'tls' }): { text: string; id: string } {
  const id = randomBytes(9).toString('hex')
  const place = host.includes(':') ? `[${host}]` : host
  const uri = `${over === 'tls' ? 'sips' : 'sip'}:${user === undefined ? '' : `${user}@`}${place}${port === (over === 'tls' ? 5061 : 5060) ? '' : `:${port}`}`
  const text = [
    `OPTIONS ${uri} SIP/2.0`, `Via: SIP/2.0/${over.toUpperCase()} hemeron.invalid;branch=z9hG4bK${id};rport`, 'Max-Forwards: 70', `From: <sip:check@hemeron.invalid>;tag=${id.slice(0, 8)}`, `To: <${uri}>`,
    `Call-ID: ${id}@hemeron.invalid`, 'CSeq: 1 OPTIONS', 'Contact: <sip:check@hemeron.invalid>', 'Accept: application/sdp', 'User-Agent: Hemeron', 'Content-Length: 0', '', ''
  ].join('\r\n')
  return { text, id }
}

const COMPACT: Record<string, string> = { i: 'call-id', v: 'via', f: 'from', t: 'to', m: 'contact', l: 'content-length', k: 'supported', c: 'content-type' }

/** Reads a response (RFC 3261, section 7.2), short names of headers written out (section 7.3.3); undefined when it is none. */
export function readSip(text: string): SipAnswer | undefined {
  const [first = '', ...lines] = text.split('\r\n\r\n')[0]!.split('\r\n')
  const [, status, words = ''] = /^SIP\/2\.0 ([1-6]\d\d)(?: (.*))?$/.exec(first) ?? []
  if (status === undefined) return undefined
  const headers = lines.flatMap((line): [string, string][] => {
    const [, name, value] = /^([!%'*+.A-Za-z0-9_`~-]+)\s*:\s*(.*)$/.exec(line) ?? []
    return name === undefined ? [] : [[COMPACT[name.toLowerCase()] ?? name, value ?? '']]
  })
  return { status: Number(status), text: words, headers }
}

export const valueOf = (answer: SipAnswer, name: string): string | undefined => answer.headers.find(([each]) => each.toLowerCase() === name)?.[1]
