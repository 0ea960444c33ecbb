import { describeKind } from '../../core/definitions/describe-kind'
import { patternField } from '../../core/definitions/fields'
import { formatHostAndPort, guessByScheme, hostAndPort, takeHostAndPort } from '../../core/definitions/host-and-port'
import { textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { endpointFields, lacksWithoutTls, type Endpoint } from '../attempt/security'

export interface TcpTarget extends Endpoint {
  /** What is said after connecting, with \r\n and \xNN. */
  send?: string
  /** What must come: a regular expression over everything that has come so far. */
  expect?: string
}

export const isPattern = (text: string) => patternField().isValidSync(text)
export const patternTarget = (label: string) => textTarget(label, { expected: 'an ECMAScript regular expression', fits: isPattern })

export const tcpDefinition = describeKind<TcpTarget>({
  kind: 'tcp',
  name: 'a TCP port',
  family: 'network',
  proves: 'Something listens at the port and takes connections; with a text to expect, that it says what it should.',
  doesNotProve: 'That the service behind the port does its work, unless it is asked for something.',
  fields: {
    ...endpointFields(443),
    send: textTarget('send', { most: 4000 }), expect: patternTarget('expect (a pattern)')
  },
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port'],
  takeAddress: takeHostAndPort({ tcp: 0 }),
  sentence: (target, part) => [
    say('Connect to '), part('host', { look: 'code' }), say(' at port '), part('port', { look: 'code' }),
    ...(target.tls ? [say(', '), { text: target.unverified ? 'over TLS with any certificate' : 'over TLS', part: 'tcp.more', label: 'connection' }] : []),
    ...(target.send === undefined ? [] : [say(', send '), part('send', { look: 'code' })]),
    ...(target.expect === undefined ? [] : [say(', expect '), part('expect', { look: 'code' })])
  ],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: (text) => {
    const byScheme = guessByScheme({ tcp: 0 })(text)
    if (byScheme) return byScheme.written.port === undefined ? undefined : byScheme
    const plain = hostAndPort(text)
    return plain?.port === undefined ? undefined : { written: { host: plain.host, port: plain.port }, address: formatHostAndPort(plain.host, plain.port), name: `${plain.host}:${plain.port}` }
  },
  subjects: ['text', 'pattern', 'size', 'certificate'],
  lacks: lacksWithoutTls,
  phases: ['lookup', 'connect', 'tls', 'wait', 'receive']
})
