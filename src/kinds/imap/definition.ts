import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { accountFields, certificateFirst, speakSecurity, userWithPassword, withoutTls, type Account } from '../attempt/security'

export interface ImapTarget extends Account {
  folder: string
}

export const imapDefinition = describeKind<ImapTarget>({
  kind: 'imap',
  name: 'a mailbox (IMAP)',
  family: 'services',
  proves: 'A mailbox server greets over TLS, takes the sign-in and opens a folder; how many messages lie in it.',
  doesNotProve: 'That new mail arrives in it.',
  fields: {
    ...accountFields(993, 'tls'), folder: textTarget('folder', { most: 200, otherwise: 'INBOX' })
  },
  together: userWithPassword,
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port'],
  takeAddress: takeHostAndPort({ imap: 143, imaps: 993 }),
  sentence: (target, part) => [
    say('Talk to the mailbox server '), part('host', { look: 'code' }), say(' at port '), part('port', { look: 'code', offers: ['993', '143'] }), say(speakSecurity(target.security, target.unverified)),
    ...(target.user === undefined ? [] : [say(', signed in as '), part('user'), say(', and open '), part('folder', { look: 'code' })])
  ],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ imap: 143, imaps: 993 }, (scheme) => (scheme === 'imap' ? { security: 'starttls' } : {})),
  firstConditions: certificateFirst,
  offers: [{ name: 'the certificate lasts', written: { certificate: { min: '3d', warn: '14d' } } }, { name: 'so many messages lie there', written: { messages: { max: 1000, warn: 500 } } }],
  lacks: withoutTls,
  subjects: ['certificate'],
  readings: { messages: { unit: 'number', says: 'number of messages' } },
  facts: { banner: { says: 'greeting' } },
  phases: ['lookup', 'connect', 'greet', 'tls', 'login', 'wait']
})
