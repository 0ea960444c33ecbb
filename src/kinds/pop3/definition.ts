import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { say } from '../../core/sentence/sentence'
import { accountFields, certificateFirst, speakSecurity, userWithPassword, withoutTls, type Account } from '../attempt/security'

export type Pop3Target = Account

export const pop3Definition = describeKind<Pop3Target>({
  kind: 'pop3',
  name: 'a mailbox (POP3)',
  family: 'services',
  proves: 'A mailbox server greets over TLS and takes the sign-in; how many messages wait, and their size.',
  doesNotProve: 'That new mail arrives in it.',
  fields: { ...accountFields(995, 'tls') },
  together: userWithPassword,
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port'],
  takeAddress: takeHostAndPort({ pop3: 110, pop3s: 995 }),
  sentence: (target, part) => [
    say('Talk to the POP3 server '), part('host', { look: 'code' }), say(' at port '), part('port', { look: 'code', offers: ['995', '110'] }), say(speakSecurity(target.security, target.unverified)),
    ...(target.user === undefined ? [] : [say(', signed in as '), part('user')])
  ],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ pop3: 110, pop3s: 995 }, (scheme) => (scheme === 'pop3' ? { security: 'starttls' } : {})),
  firstConditions: certificateFirst,
  offers: [{ name: 'the certificate lasts', written: { certificate: { min: '3d', warn: '14d' } } }, { name: 'so many messages wait', written: { messages: { max: 1000, warn: 500 } } }],
  lacks: withoutTls,
  subjects: ['certificate'],
  readings: { messages: { unit: 'number', says: 'number of messages' }, held: { unit: 'size', says: 'size of all messages' } },
  facts: { banner: { says: 'greeting' } },
  phases: ['lookup', 'connect', 'greet', 'tls', 'login', 'wait']
})
