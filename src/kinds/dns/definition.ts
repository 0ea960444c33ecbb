import { describeKind } from '../../core/definitions/describe-kind'
import { hostAndPort } from '../../core/definitions/host-and-port'
import { choiceTarget, flagTarget, isHost, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

export const RECORD_TYPES = ['A', 'AAAA', 'CNAME', 'MX', 'NS', 'SOA', 'TXT', 'SRV', 'CAA', 'PTR'] as const
export type RecordType = (typeof RECORD_TYPES)[number]

export interface DnsTarget {
  name: string
  type: RecordType
  /** Who is asked: a host or address, with a port where it is not the usual one; the location's own resolver without it. */
  resolver?: string
  over: 'udp' | 'tcp' | 'tls'
  /** Ask the servers of every zone from the root on, instead of a resolver. */
  walk: boolean
  /** Ask for DNSSEC: the flag AD in the answer then says that the resolver has validated it. */
  dnssec: boolean
}

const isName = (text: string) => text === '.' || (text.length <= 253 && text.split('.').every((label, index, labels) => (label.length > 0 && label.length <= 63 && /^[\p{L}\p{N}_*-]+$/u.test(label)) || (label === '' && index === labels.length - 1)))

export const dnsDefinition = describeKind<DnsTarget>({
  kind: 'dns',
  name: 'DNS records',
  family: 'network',
  proves: 'A name resolves to what it should, from a resolver or step by step from the root, with the time and the answer of every server asked.',
  doesNotProve: 'That anything works at the addresses a name leads to; nor what other resolvers still remember.',
  fields: {
    name: textTarget('name', { isNeeded: true, most: 253, fits: isName, expected: 'a name such as www.example.org' }),
    type: choiceTarget('record type', RECORD_TYPES, 'A'),
    resolver: textTarget('resolver', { most: 260, fits: (text) => hostAndPort(text) !== undefined, expected: 'a resolver such as 192.0.2.53 or ns1.example.org:5353' }),
    over: choiceTarget('over', ['udp', 'tcp', 'tls'], 'udp'), walk: flagTarget('step by step from the root'), dnssec: flagTarget('ask for DNSSEC')
  },
  together: (schema) => schema.test('walk-alone', 'no resolver and over udp when it goes step by step from the root', ({ walk, resolver, over }) => walk !== true || (resolver === undefined && (over === undefined || over === 'udp'))),
  blank: { name: 'address.invalid' },
  addressField: 'name',
  inSentence: ['name', 'type'],
  sentence: (target, part) => [
    ...(target.walk ? [say('Ask, '), { text: 'step by step from the root', part: 'dns.more', label: 'how it asks' }, say(', ')]
      : target.resolver === undefined ? [say('Ask '), { text: 'the location’s resolver', part: 'dns.more', label: 'how it asks' }, say(' ')]
        : [say('Ask '), part('resolver', { look: 'code' }), say(' ')]),
    ...(target.over === 'udp' ? [] : [say('over '), part('over', { text: target.over.toUpperCase() }), say(' ')]),
    say('for the '), part('type'), say(' records of '), part('name', { look: 'code' }), ...(target.dnssec ? [say(', '), { text: 'validated', part: 'dns.more', label: 'DNSSEC' }] : [])
  ],
  address: (target) => `${target.name} ${target.type}`,
  guess: (text) => {
    const [, scheme, name = '', type] = /^(dns:\/\/|dns:|)([^\s/?]+)(?:\s+([A-Za-z]+)|\?type=([A-Za-z]+))?$/i.exec(text.trim()) ?? []
    const known = RECORD_TYPES.find((each) => each === type?.toUpperCase())
    if ((scheme === '' && known === undefined) || !isHost(name) || (type !== undefined && known === undefined)) return undefined
    return { written: { name, ...(known === undefined || known === 'A' ? {} : { type: known }) }, address: `${name} ${known ?? 'A'}`, name: `${known ?? 'A'} of ${name}` }
  },
  requests: (target) => (target.walk ? 8 : 1),
  firstConditions: () => [{ values: { count: { min: 1 } } }],
  offers: [
    { name: 'the values are exactly …', written: { values: { is: '192.0.2.10' } } },
    { name: 'one value contains …', written: { values: { has: '192.0.2.' } } },
    { name: 'there are so many values', written: { values: { count: { min: 1 } } } },
    { name: 'the time to live is long enough', written: { ttl: { min: '60s', max: '1d' } } },
    { name: 'the flags contain …', written: { flags: { has: 'ad' } } },
    { name: 'all servers of the zone say the same', written: { disagreeing: { max: 0 } } }
  ],
  readings: {
    ttl: { unit: 'time', says: 'shortest time to live' }, steps: { unit: 'number', says: 'number of steps from the root' },
    disagreeing: { unit: 'number', says: 'number of servers that answer otherwise' }, silent: { unit: 'number', says: 'number of servers that do not answer' }
  },
  telling: [],
  facts: { values: { says: 'value' }, flags: { says: 'list of flags', many: 'flags' }, aliases: { says: 'chain of aliases', many: 'aliases' } },
  subjects: ['text', 'pattern'],
  phases: ['lookup', 'connect', 'tls', 'wait']
})
