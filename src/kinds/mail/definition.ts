import { describeKind } from '../../core/definitions/describe-kind'
import { hostAndPort } from '../../core/definitions/host-and-port'
import { hostTarget, portTarget, secretTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { MINUTE } from '../../core/units'
import { securityTarget, unverifiedTarget, type Security } from '../attempt/security'
import { mailAddressTarget } from '../smtp/definition'

/** A message is handed to one server and looked for at another. */
export interface MailTarget {
  to: string
  from: string
  through: string
  port: number
  security: Security
  user?: string
  password?: string
  mailbox: string
  mailboxPort: number
  mailboxSecurity: Security
  mailboxUser: string
  mailboxPassword: string
  folder: string
  unverified: boolean
}

export const mailDefinition = describeKind<MailTarget>({
  kind: 'mail',
  name: 'a mail round trip',
  family: 'services',
  proves: 'A message that is handed to one server arrives in a mailbox: how long each stage takes. It is deleted afterwards.',
  doesNotProve: 'That mail from elsewhere arrives, or that other people’s servers take yours.',
  fields: {
    to: mailAddressTarget('address it is sent to', true), from: mailAddressTarget('sender', true), through: hostTarget('server it is sent through'), port: portTarget(587), security: securityTarget('starttls'),
    user: textTarget('user for sending'), password: secretTarget('password for sending'), mailbox: hostTarget('server of the mailbox'), mailboxPort: portTarget(993), mailboxSecurity: securityTarget('tls'),
    mailboxUser: textTarget('user of the mailbox', { isNeeded: true }), mailboxPassword: { ...secretTarget('password of the mailbox'), isNeeded: true }, folder: textTarget('folder', { most: 200, otherwise: 'INBOX' }), unverified: unverifiedTarget()
  },
  together: (schema) => schema.test('user-and-password', 'a user and a password for sending, or neither', ({ user, password }) => (user === undefined) === (password === undefined)),
  blank: { to: 'someone@address.invalid', from: 'hemeron@address.invalid', through: 'address.invalid', mailbox: 'address.invalid', mailboxUser: 'someone', mailboxPassword: '${MAILBOX_PASSWORD}' },
  addressField: 'through',
  inSentence: ['to', 'through', 'mailbox'],
  takeAddress: (target, text) => {
    const found = hostAndPort(text, { smtp: 25, smtps: 465, submission: 587 })
    return found ? { ...target, through: found.host, ...(target.mailbox === 'address.invalid' ? { mailbox: found.host } : {}), ...(found.port === undefined ? {} : { port: found.port }) } : { expected: 'a host, or a host and a port' }
  },
  sentence: (_target, part) => [
    say('Send a message to '), part('to', { look: 'code' }), say(' through '), part('through', { look: 'code' }), say(', find it at '), part('mailbox', { look: 'code' }), say(' and delete it')
  ],
  address: (target) => `${target.to} through ${target.through}`,
  guess: () => undefined,
  shortest: MINUTE,
  firstConditions: () => [{ phase: 'wait', max: '60s', warn: '20s' }],
  offers: [{ name: 'it arrives in time', written: { phase: 'wait', max: '60s', warn: '20s' } }],
  readings: { arrival: { unit: 'time', says: 'time until it arrived' } },
  phases: ['lookup', 'connect', 'greet', 'tls', 'login', 'send', 'wait', 'receive', 'remove']
})
