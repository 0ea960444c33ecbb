import { describeKind } from '../../core/definitions/describe-kind'
import { guessByScheme } from '../../core/definitions/host-and-port'
import { choiceTarget, countTarget, durationTarget, hostTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

export interface PingTarget {
  host: string
  count: number
  /** Bytes of payload. */
  size: number
  /** The pause between two packets, in milliseconds. */
  apart: number
  family?: 'ipv4' | 'ipv6'
}

export const pingDefinition = describeKind<PingTarget>({
  kind: 'ping',
  name: 'an echo (ping)',
  family: 'network',
  proves: 'The machine is on and the way to it carries packets: how many are lost, and how long they take.',
  doesNotProve: 'That anything on the machine works. Some networks drop these packets on purpose.',
  fields: {
    host: hostTarget(), count: countTarget('packets', 1, 20, 5), size: countTarget('bytes in each packet', 12, 1400, 56),
    apart: durationTarget('pause between packets', 10, 5000, 200), family: choiceTarget('address family', ['ipv4', 'ipv6'])
  },
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'count'],
  sentence: (target, part) => [say('Ping '), part('host', { look: 'code' }), say(' with '), part('count', { offers: ['3', '5', '10', '20'] }), say(target.count === 1 ? ' packet' : ' packets')],
  address: (target) => target.host,
  guess: guessByScheme({ ping: 0, icmp: 0 }),
  requests: (target) => target.count,
  firstConditions: () => [{ loss: { max: '60%', warn: '20%' } }],
  offers: [
    { name: 'few packets are lost', written: { loss: { max: '60%', warn: '20%' } } },
    { name: 'round trips take about the same time', written: { jitter: { max: '100ms', warn: '30ms' } } },
    { name: 'the median round trip is short', written: { median: { max: '300ms', warn: '150ms' } } }
  ],
  readings: {
    loss: { unit: 'share', says: 'loss of packets' }, fastest: { unit: 'time', says: 'fastest round trip' }, median: { unit: 'time', says: 'median round trip' },
    slowest: { unit: 'time', says: 'slowest round trip' }, jitter: { unit: 'time', says: 'jitter' }
  },
  telling: ['loss', 'jitter'],
  phases: ['lookup']
})
