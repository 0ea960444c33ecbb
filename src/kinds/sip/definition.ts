import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { choiceTarget, flagTarget, hostTarget, portTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

export interface SipTarget {
  host: string
  port: number
  over: 'udp' | 'tcp' | 'tls'
  /** The user part of the address that is asked about. */
  user?: string
  unverified: boolean
}

export const sipDefinition = describeKind<SipTarget>({
  kind: 'sip',
  name: 'a phone server (SIP)',
  family: 'services',
  proves: 'A SIP server answers OPTIONS: it is up, and says what it takes.',
  doesNotProve: 'That a call goes through, or how it sounds.',
  fields: {
    host: hostTarget(), port: portTarget(5060), over: choiceTarget('over', ['udp', 'tcp', 'tls'], 'udp'), user: textTarget('user', { most: 100, fits: (text) => /^[A-Za-z0-9_.!~*'()&=+$,;?/-]+$/.test(text), expected: 'the user part of a SIP address' }), unverified: flagTarget('take any certificate')
  },
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port', 'over'],
  takeAddress: takeHostAndPort({ sip: 5060, sips: 5061 }),
  sentence: (target, part) => [say('Ask the SIP server '), part('host', { look: 'code' }), say(' at port '), part('port', { look: 'code' }), say(' over '), part('over', { text: target.over.toUpperCase(), offers: ['UDP', 'TCP', 'TLS'] }), say(' what it takes')],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ sip: 5060, sips: 5061 }, (scheme) => (scheme === 'sips' ? { over: 'tls' } : {})),
  firstConditions: () => [{ status: '200-299' }],
  offers: [{ name: 'the server takes a method', written: { methods: { has: 'INVITE' } } }, { name: 'the server is …', written: { server: { has: 'Example PBX' } } }],
  subjects: ['status', 'header', 'certificate'],
  lacks: ({ over }) => (over === 'tls' ? [] : ['certificate']),
  facts: { methods: { says: 'list of methods', many: 'methods' }, server: { says: 'name of the server' } },
  phases: ['lookup', 'connect', 'tls', 'wait']
})
