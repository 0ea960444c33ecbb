import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { choiceTarget, hostTarget, portTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

/** Protocols in which TLS begins after a few words (RFC 3207, RFC 9051 section 6.2.1, RFC 2595 section 4, RFC 4217). */
export const UPGRADES = ['smtp', 'imap', 'pop3', 'ftp'] as const

export interface CertificateTarget {
  host: string
  port: number
  /** Begin TLS the way this protocol does; at once without it. */
  starttls?: (typeof UPGRADES)[number]
  /** The name to ask for and to find in the certificate, when it is not the host's. */
  name?: string
}

export const certificateDefinition = describeKind<CertificateTarget>({
  kind: 'certificate',
  name: 'a TLS certificate',
  family: 'network',
  proves: 'The certificate at a port is trusted, for the right name and valid long enough, with its whole chain, key, protocol and cipher.',
  doesNotProve: 'That the service behind it works; nor that it was not revoked, where the server sends no stapled answer.',
  fields: {
    host: hostTarget(), port: portTarget(443), starttls: choiceTarget('TLS begins after words of', UPGRADES), name: textTarget('name to ask for', { most: 253 })
  },
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port'],
  takeAddress: takeHostAndPort({ tls: 443, https: 443 }),
  sentence: (target, part) => [
    say('Read the certificate of '), part('host', { look: 'code' }), say(' at port '), part('port', { look: 'code' }),
    ...(target.starttls ? [say(', after '), part('starttls', { text: target.starttls.toUpperCase() }), say(' words')] : []), ...(target.name === undefined ? [] : [say(', for '), part('name', { look: 'code' })])
  ],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ tls: 443 }),
  firstConditions: () => [{ certificate: { min: '3d', warn: '14d' } }],
  offers: [
    { name: 'the certificate lasts', written: { certificate: { min: '3d', warn: '14d' } } },
    { name: 'every certificate of the chain lasts', written: { chain: { min: '3d', warn: '14d' } } },
    { name: 'the key is long enough', written: { bits: { min: 256 } } },
    { name: 'the protocol is …', written: { protocol: { matches: '^TLSv1\\.[23]$' } } },
    { name: 'a name is in the certificate', written: { names: { has: 'www.example.org' } } },
    { name: 'it is issued by …', written: { issuer: { has: 'Example Authority' } } },
    { name: 'a stapled answer says it is good', written: { stapled: { is: 'good' } } }
  ],
  subjects: ['certificate'],
  readings: {
    chain: { unit: 'time', says: 'time until the first certificate of the chain ends' }, bits: { unit: 'number', says: 'length of the key in bits' }, length: { unit: 'number', says: 'number of certificates sent' }
  },
  telling: ['chain'],
  facts: {
    names: { says: 'list of names', many: 'names' }, issuer: { says: 'issuer' }, protocol: { says: 'protocol' }, cipher: { says: 'cipher' }, key: { says: 'kind of key' }, stapled: { says: 'stapled answer' }, fingerprint: { says: 'fingerprint' }
  },
  phases: ['lookup', 'connect', 'greet', 'tls']
})
