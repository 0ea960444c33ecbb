import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { countTarget, hostTarget, portTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { patternTarget } from '../tcp/definition'

export interface UdpTarget {
  host: string
  port: number
  /** What is sent, as text with \xNN … */
  send?: string
  /** … or as hexadecimal digits. */
  hex?: string
  expect?: string
  /** How often the question is sent again while no answer comes. */
  again: number
}

const isHex = (text: string) => /^(?:[0-9a-fA-F]{2}\s?)+$/.test(text.trim())

export const udpDefinition = describeKind<UdpTarget>({
  kind: 'udp',
  name: 'a UDP question',
  family: 'network',
  proves: 'A datagram server answers a question, as game, voice and sensor servers do, and says what it should.',
  doesNotProve: 'More than the one question and its answer; a lost packet looks like silence.',
  fields: {
    host: hostTarget(), port: portTarget(7777), send: textTarget('send', { most: 1200 }), hex: textTarget('send these bytes (hexadecimal)', { most: 2800, fits: isHex, expected: 'bytes such as ff ff 01 0a' }),
    expect: patternTarget('expect (a pattern)'), again: countTarget('ask again at most', 0, 5, 1)
  },
  together: (schema) => schema.test('one-question', 'send or hex, not both', ({ send, hex }) => send === undefined || hex === undefined),
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port'],
  takeAddress: takeHostAndPort({ udp: 0 }),
  sentence: (target, part) => [
    say('Ask '), part('host', { look: 'code' }), say(' at UDP port '), part('port', { look: 'code' }),
    ...(target.send !== undefined ? [say(' '), part('send', { look: 'code' })] : target.hex !== undefined ? [say(' the bytes '), part('hex', { look: 'code' })] : []),
    ...(target.expect === undefined ? [] : [say(', expect '), part('expect', { look: 'code' })])
  ],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: (text) => {
    const found = guessByScheme({ udp: 0 })(text)
    return found?.written.port === undefined ? undefined : found
  },
  requests: () => 1,
  subjects: ['text', 'pattern', 'size'],
  phases: ['lookup', 'wait']
})
