import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { countTarget, secretTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { endpointFields, lacksWithoutTls, type Endpoint } from '../attempt/security'

/** Commands that change nothing. */
export const READING = ['PING', 'GET', 'EXISTS', 'TTL', 'TYPE', 'STRLEN', 'LLEN', 'SCARD', 'ZCARD', 'HLEN', 'HGET', 'XLEN', 'DBSIZE', 'INFO', 'LRANGE', 'ZCOUNT', 'ROLE', 'TIME'] as const

export interface RedisTarget extends Endpoint {
  user?: string
  password?: string
  database: number
  command: string
}

const isReading = (text: string) => READING.includes(text.trim().split(/\s+/)[0]!.toUpperCase() as 'PING')

export const redisDefinition = describeKind<RedisTarget>({
  kind: 'redis',
  name: 'Redis',
  family: 'services',
  proves: 'Redis takes the sign-in and answers a command that reads; the value can be judged.',
  doesNotProve: 'That it takes new values, or that replicas keep up.',
  fields: {
    ...endpointFields(6379), user: textTarget('user'), password: secretTarget(), database: countTarget('database', 0, 100_000, 0),
    command: textTarget('command', { most: 500, otherwise: 'PING', fits: isReading, expected: `a command that only reads: ${READING.join(', ')}` })
  },
  blank: { host: 'address.invalid' },
  addressField: 'host',
  inSentence: ['host', 'port', 'command'],
  takeAddress: takeHostAndPort({ redis: 6379, rediss: 6379 }),
  sentence: (_target, part) => [say('Ask Redis at '), part('host', { look: 'code' }), say(' port '), part('port', { look: 'code' }), say(' for '), part('command', { look: 'code', offers: ['PING', 'DBSIZE', 'LLEN queue', 'GET key'] })],
  address: (target) => formatHostAndPort(target.host, target.port),
  guess: guessByScheme({ redis: 6379, rediss: 6379 }, (scheme) => (scheme === 'rediss' ? { tls: true } : {})),
  offers: [{ name: 'the value is …', written: { value: { is: 'PONG' } } }, { name: 'the number lies within limits', written: { number: { max: 100, warn: 50 } } }],
  subjects: ['text', 'pattern', 'certificate'],
  lacks: lacksWithoutTls,
  readings: { number: { unit: 'number', says: 'number' } },
  facts: { value: { says: 'value' } },
  phases: ['lookup', 'connect', 'tls', 'login', 'wait']
})
