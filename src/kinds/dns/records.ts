import type { Answer, DecodedPacket } from 'dns-packet'
import { domainToASCII } from 'node:url'

/** The value of a record as text, the way zone files write it (RFC 1035, section 5.1), without the record's own name. */
export function recordText(record: Answer): string {
  const data = (record as { data?: unknown }).data
  switch (record.type) {
    case 'MX': return `${record.data.preference ?? 0} ${record.data.exchange}`
    case 'SRV': return `${record.data.priority ?? 0} ${record.data.weight ?? 0} ${record.data.port} ${record.data.target}`
    case 'SOA': return `${record.data.mname} ${record.data.rname} ${record.data.serial} ${record.data.refresh} ${record.data.retry} ${record.data.expire} ${record.data.minimum}`
    case 'CAA': return `${record.data.flags ?? 0} ${record.data.tag} "${record.data.value}"`
    case 'TXT': return (Array.isArray(data) ? data : [data]).map((piece) => (Buffer.isBuffer(piece) ? piece.toString('utf8') : String(piece))).join('')
    default: return typeof data === 'string' ? data : JSON.stringify(data)
  }
}

/** Names compare without regard to case and a final dot (RFC 4343). */
export const plainName = (name: string): string => name.toLowerCase().replace(/\.$/, '')

/** A name as it goes over the wire: international labels as xn--, addresses turned into names for PTR (RFC 1035, section 3.5; RFC 3596, section 2.5). */
export function wireName(name: string, type: string): string {
  if (type === 'PTR' && /^\d+\.\d+\.\d+\.\d+$/.test(name)) return `${name.split('.').reverse().join('.')}.in-addr.arpa`
  if (name === '.') return '.'
  const ascii = domainToASCII(name.replaceAll('*', 'x-star-x').replaceAll('_', 'x-under-x'))
  return ascii === '' ? name : ascii.replaceAll('x-star-x', '*').replaceAll('x-under-x', '_').replace(/\.$/, '')
}

/** Follows aliases inside one answer: the values of the wanted type, and the names passed on the way. */
export function valuesIn(packet: Pick<DecodedPacket, 'answers'>, name: string, type: string): { values: string[]; aliases: string[]; ttl?: number; last: string } {
  const answers = packet.answers ?? []
  const aliases: string[] = []
  let last = plainName(name)
  let ttl: number | undefined
  const shorten = (record: Answer) => {
    const own = (record as { ttl?: number }).ttl
    if (own !== undefined) ttl = Math.min(ttl ?? Infinity, own)
  }
  for (let step = 0; step < 16; step += 1) {
    const wanted = answers.filter((record) => record.type === type && plainName(record.name) === last)
    if (wanted.length > 0) {
      wanted.forEach(shorten)
      return { values: wanted.map(recordText), aliases, last, ...(ttl === undefined ? {} : { ttl }) }
    }
    const alias = answers.find((record) => record.type === 'CNAME' && plainName(record.name) === last)
    if (!alias) break
    shorten(alias)
    last = plainName(String((alias as { data: unknown }).data))
    aliases.push(last)
  }
  return { values: [], aliases, last, ...(ttl === undefined ? {} : { ttl }) }
}

/** The flags of an answer, by their usual short names. */
export function flagsOf(packet: DecodedPacket): string[] {
  return [...(packet.flag_aa ? ['aa'] : []), ...(packet.flag_tc ? ['tc'] : []), ...(packet.flag_rd ? ['rd'] : []), ...(packet.flag_ra ? ['ra'] : []), ...(packet.flag_ad ? ['ad'] : []), ...(packet.flag_cd ? ['cd'] : [])]
}

/** The response code of an answer (RFC 1035, section 4.1.1). */
export const codeOf = (packet: DecodedPacket): string => (packet as unknown as { rcode?: string }).rcode ?? 'NOERROR'
