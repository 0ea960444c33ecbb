import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { hostTarget, portTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

export interface NtpTarget {
  host: string
  port: number
}

export const ntpDefinition = describeKind<NtpTarget>({
  kind: 'ntp',
  name: 'the time (NTP)',
  family: 'services',
  proves: 'A time server answers, is synchronised, and how far its clock is from that of the location.',
  doesNotProve: 'Which of the two clocks is right; a location’s own clock may be wrong.',
  fields: { host: hostTarget(), port: portTarget(123) },
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port'],
  takeAddress: takeHostAndPort({ ntp: 123 }),
  sentence: (target, part) => [say('Ask '), part('host', { look: 'code' }), ...(target.port === 123 ? [] : [say(' at port '), part('port', { look: 'code' })]), say(' for the time')],
  address: (target) => (target.port === 123 ? target.host : formatHostAndPort(target.host, target.port)),
  guess: guessByScheme({ ntp: 123 }),
  firstConditions: () => [{ distance: { max: '500ms', warn: '100ms' } }, { stratum: { max: 15, warn: 4 } }],
  offers: [
    { name: 'the clocks agree', written: { distance: { max: '500ms', warn: '100ms' } } }, { name: 'it is close to a source of time', written: { stratum: { max: 15, warn: 4 } } },
    { name: 'the way to its source is short', written: { root: { max: '1s', warn: '200ms' } } }
  ],
  readings: {
    distance: { unit: 'time', says: 'distance of the two clocks' }, offset: { unit: 'number', says: 'offset in milliseconds' }, stratum: { unit: 'number', says: 'stratum' },
    delay: { unit: 'time', says: 'round trip' }, root: { unit: 'time', says: 'root delay' }, dispersion: { unit: 'time', says: 'root dispersion' }
  },
  telling: ['distance', 'stratum'],
  facts: { source: { says: 'source of time' } },
  phases: ['lookup', 'wait']
})
