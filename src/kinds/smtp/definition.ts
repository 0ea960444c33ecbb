import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { accountFields, certificateFirst, speakSecurity, userWithPassword, withoutTls, type Account } from '../attempt/security'

export interface SmtpTarget extends Account {
  from?: string
  /** Ask whether mail for this address would be taken; nothing is sent. */
  to?: string
}

export const isMailAddress = (text: string) => /^[^\s<>@]{1,64}@[^\s<>@]{1,255}$/.test(text)
export const mailAddressTarget = (label: string, isNeeded = false) => textTarget(label, { isNeeded, most: 320, fits: isMailAddress, expected: 'a mail address' })

export const smtpDefinition = describeKind<SmtpTarget>({
  kind: 'smtp',
  name: 'a mail server (SMTP)',
  family: 'services',
  proves: 'A mail server greets, begins TLS, takes the sign-in and says whether it would take mail for an address.',
  doesNotProve: 'That mail arrives; send one and look for it to know that.',
  fields: {
    ...accountFields(25, 'starttls'),
    from: mailAddressTarget('sender'), to: mailAddressTarget('would it take mail for')
  },
  together: userWithPassword,
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port'],
  takeAddress: takeHostAndPort({ smtp: 25, smtps: 465, submission: 587 }),
  sentence: (target, part) => [
    say('Talk to the mail server '), part('host', { look: 'code' }), say(' at port '), part('port', { look: 'code', offers: ['25', '465', '587'] }), say(speakSecurity(target.security, target.unverified)),
    ...(target.user === undefined ? [] : [say(', signed in as '), part('user')]), ...(target.to === undefined ? [] : [say(', and ask whether it takes mail for '), part('to', { look: 'code' })])
  ],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ smtp: 25, smtps: 465, submission: 587 }, (scheme) => (scheme === 'smtps' ? { security: 'tls' } : {})),
  firstConditions: certificateFirst,
  offers: [
    { name: 'the certificate lasts', written: { certificate: { min: '3d', warn: '14d' } } }, { name: 'the greeting contains …', written: { banner: { has: 'ESMTP' } } },
    { name: 'the server offers …', written: { offers: { has: 'PIPELINING' } } }
  ],
  lacks: withoutTls,
  subjects: ['certificate', 'status'],
  facts: { banner: { says: 'greeting' }, offers: { says: 'list of extensions', many: 'extensions' } },
  phases: ['lookup', 'connect', 'greet', 'tls', 'login', 'wait']
})
