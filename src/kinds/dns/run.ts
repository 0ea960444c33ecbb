import type { DecodedPacket } from 'dns-packet'
import { hostAndPort } from '../../core/definitions/host-and-port'
import { runnerOf, type Brought, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { askResolver } from './ask'
import { dnsDefinition, type DnsTarget } from './definition'
import { codeOf, flagsOf, plainName, recordText, valuesIn } from './records'
import { walk } from './walk'

export const dnsRunner = runnerOf(dnsDefinition, async (target, trying) => {
  const question = { name: target.name, type: target.type, recursive: !target.walk, dnssec: target.dnssec }
  if (target.walk) {
    const { packet, aliases, took, steps, disagreeing, silent } = await walk(trying, question)
    Object.assign(trying.readings, { steps, disagreeing, silent })
    return { ...judged(packet, target, aliases.at(-1) ?? target.name, aliases, trying), took }
  }
  const { host, port } = target.resolver === undefined ? { host: trying.link.resolver(), port: undefined } : hostAndPort(target.resolver)!
  const packet = await askResolver(trying, host, port, target.over, question)
  return judged(packet, target, target.name, [], trying)
})

/** What an answer says; throws TryFailure when it is none. */
function judged(packet: DecodedPacket, { name, type }: DnsTarget, last: string, before: string[], trying: Trying): Brought {
  const code = codeOf(packet)
  const { values, aliases, ttl } = valuesIn(packet, last, type)
  const chain = [...new Set([...before, ...aliases])]
  trying.noted.protocol = 'DNS'
  trying.evidence.facts = [['answer', code], ['flags', flagsOf(packet).join(' ') || 'none'], ...chain.map((alias): [string, string] => ['alias', alias])]
  trying.evidence.tables = [...(trying.evidence.tables ?? []), {
    title: 'Records', columns: [{ name: 'name', as: 'code' }, { name: 'type' }, { name: 'seconds to live', as: 'number' }, { name: 'value', as: 'code' }],
    rows: (packet.answers ?? []).filter((record) => record.type !== 'OPT').slice(0, 60).map((record) => [plainName(record.name), record.type, (record as { ttl?: number }).ttl ?? null, recordText(record)])
  }]
  switch (code) {
    case 'NOERROR': break
    case 'NXDOMAIN': throw new TryFailure('name-not-found', `${name} does not exist (NXDOMAIN)`)
    case 'SERVFAIL': throw new TryFailure('server-failed', `the server could not find out about ${name} (SERVFAIL)`)
    case 'REFUSED': throw new TryFailure('server-refused', `the server refuses to answer about ${name} (REFUSED)`)
    default: throw new TryFailure('server-failed', `the server answers ${code}`)
  }
  if (values.length === 0) throw new TryFailure('no-record', `${name} exists, but has no ${type} record`)
  const text = values.join('\n')
  return { body: text, readings: { ...trying.readings, ...(ttl === undefined ? {} : { ttl: ttl * 1000 }) }, facts: { values, flags: flagsOf(packet), aliases: chain } }
}
