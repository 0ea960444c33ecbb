import { describeKind } from '../../core/definitions/describe-kind'
import { guessByScheme } from '../../core/definitions/host-and-port'
import { choiceTarget, countTarget, hostTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

export interface PathTarget {
  host: string
  protocol: 'udp' | 'icmp' | 'tcp'
  port?: number
  /** How many steps at most. */
  hops: number
  /** Questions to each step. */
  tries: number
}

export const pathDefinition = describeKind<PathTarget>({
  kind: 'path',
  name: 'the path',
  family: 'network',
  proves: 'Which routers packets pass on their way to the target, with the loss and the round trip to each, and whether the way has changed.',
  doesNotProve: 'How packets come back, nor what routers do that answer no questions about themselves.',
  fields: {
    host: hostTarget(), protocol: choiceTarget('protocol', ['udp', 'icmp', 'tcp'], 'udp'), port: countTarget('port', 1, 65_535),
    hops: countTarget('steps at most', 1, 64, 30), tries: countTarget('questions to each step', 1, 10, 3)
  },
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'protocol'],
  sentence: (target, part) => [
    say('Follow the path to '), part('host', { look: 'code' }), say(' with '), part('protocol', { text: target.protocol.toUpperCase(), offers: ['UDP', 'ICMP', 'TCP'] }),
    ...(target.port === undefined ? [] : [say(' to port '), part('port', { look: 'code' })])
  ],
  address: (target) => target.host,
  guess: guessByScheme({ path: 0 }),
  requests: (target) => target.tries * 12,
  firstConditions: () => [{ loss: { max: '80%', warn: '20%' } }, { changes: { warn: { max: 0 } } }],
  offers: [
    { name: 'few packets are lost on the way', written: { loss: { max: '80%', warn: '20%' } } },
    { name: 'the way does not change', written: { changes: { warn: { max: 0 } } } },
    { name: 'the way is short', written: { hops: { max: 20 } } },
    { name: 'the way leads over an address', written: { routers: { has: '192.0.2.1' } } }
  ],
  readings: {
    hops: { unit: 'number', says: 'number of steps' }, loss: { unit: 'share', says: 'loss at the target' },
    changes: { unit: 'number', says: 'number of changed steps' }
  },
  facts: { routers: { says: 'list of routers', many: 'routers' } },
  phases: ['lookup']
})
