import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { flagTarget, secretTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { accountFields, certificateFirst, speakSecurity, withoutTls, type Security } from '../attempt/security'

export interface FtpTarget {
  host: string
  port: number
  security: Security
  unverified: boolean
  user: string
  password: string
  folder: string
  /** A file of the folder that is fetched. */
  file?: string
  /** Put a file into the folder, fetch it, compare it and delete it. */
  put: boolean
}

const isName = (text: string) => !/[\r\n\0]/.test(text) && text !== '' && text.length <= 500

export const ftpDefinition = describeKind<FtpTarget>({
  kind: 'ftp',
  name: 'a file server (FTP)',
  family: 'services',
  proves: 'A file server takes the sign-in, lists a folder, gives a file and takes one, which comes back as it went.',
  doesNotProve: 'That files are what they should be, unless their content is judged.',
  fields: {
    ...accountFields(21, 'starttls'), user: textTarget('user', { otherwise: 'anonymous' }), password: { ...secretTarget(), otherwise: 'anonymous' },
    folder: textTarget('folder', { otherwise: '/', fits: isName, expected: 'a folder' }), file: textTarget('file to fetch', { fits: isName, expected: 'the name of a file' }), put: flagTarget('put a file, compare and delete it')
  },
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port', 'folder', 'file'],
  takeAddress: takeHostAndPort({ ftp: 21, ftps: 990 }),
  sentence: (target, part) => [
    say('Sign in to the file server '), part('host', { look: 'code' }), say(' at port '), part('port', { look: 'code', offers: ['21', '990'] }), say(`${speakSecurity(target.security, target.unverified)}, list `), part('folder', { look: 'code' }),
    ...(target.file === undefined ? [] : [say(', fetch '), part('file', { look: 'code' })]), ...(target.put ? [say(', put a file, compare and delete it')] : [])
  ],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ ftp: 21, ftps: 990 }, (scheme) => (scheme === 'ftps' ? { security: 'tls' } : {})),
  firstConditions: certificateFirst,
  offers: [{ name: 'a file is in the folder', written: { files: { has: 'manifest' } } }, { name: 'so many files are in the folder', written: { files: { count: { min: 1 } } } }],
  subjects: ['text', 'pattern', 'size', 'certificate'],
  lacks: withoutTls,
  facts: { files: { says: 'list of files', many: 'files' } },
  phases: ['lookup', 'connect', 'greet', 'tls', 'login', 'wait', 'receive', 'send', 'remove']
})
