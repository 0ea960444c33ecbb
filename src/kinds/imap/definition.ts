import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { hostTarget, portTarget, secretTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { securityTarget, speakSecurity, unverifiedTarget, type Security } from '../attempt/security'

export interface ImapTarget {
  host: string
  port: number
  security: Security
  unverified: boolean
  user?: string
  password?: string
  folder: string
}

export const imapDefinition = describeKind<ImapTarget>({
  kind: 'imap',
  name: 'a mailbox (IMAP)',
  family: 'services',
  proves: 'A mailbox server greets over TLS, takes the sign-in and opens a folder; how many messages lie in it.',
  doesNotProve: 'That new mail arrives in it.',
  fields: {
    host: hostTarget(), port: portTarget(993), security: securityTarget('tls'), unverified: unverifiedTarget(), user: textTarget('user'), password: secretTarget(), folder: textTarget('folder', { most: 200, otherwise: 'INBOX' })
  },
  together: (schema) => schema.test('user-and-password', 'a user and a password, or neither', ({ user, password }) => (user === undefined) === (password === undefined)),
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
  firstConditions: (target) => (target.security === 'none' ? [] : [{ certificate: { min: '3d', warn: '14d' } }]),
  offers: [{ name: 'the certificate lasts', written: { certificate: { min: '3d', warn: '14d' } } }, { name: 'so many messages lie there', written: { messages: { max: 1000, warn: 500 } } }],
  lacks: ({ security }) => (security === 'none' ? ['certificate'] : []),
  subjects: ['certificate'],
  readings: { messages: { unit: 'number', says: 'number of messages' } },
  facts: { banner: { says: 'greeting' } },
  phases: ['lookup', 'connect', 'greet', 'tls', 'login', 'wait']
})
