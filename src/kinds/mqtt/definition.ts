import { describeKind } from '../../core/definitions/describe-kind'
import { formatHostAndPort, guessByScheme, takeHostAndPort } from '../../core/definitions/host-and-port'
import { secretTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { endpointFields, lacksWithoutTls, type Endpoint } from '../attempt/security'
import { patternTarget } from '../tcp/definition'

export interface MqttTarget extends Endpoint {
  user?: string
  password?: string
  topic: string
  /** Published to the topic, and must come back. Without it, a message that others send is waited for. */
  message?: string
  expect?: string
}

export const mqttDefinition = describeKind<MqttTarget>({
  kind: 'mqtt',
  name: 'a message broker (MQTT)',
  family: 'services',
  proves: 'A broker takes the sign-in and a subscription, and a message that is published comes back; or one that others send arrives.',
  doesNotProve: 'That every subscriber gets every message.',
  fields: {
    ...endpointFields(1883), user: textTarget('user'), password: secretTarget(),
    topic: textTarget('topic', { most: 1000, otherwise: 'hemeron/check', fits: (text) => !text.includes('\0'), expected: 'a topic such as sensors/tide' }), message: textTarget('publish', { most: 10_000 }), expect: patternTarget('expect (a pattern)')
  },
  together: (schema) => schema.test('plain-topic', 'a topic without + and # when something is published to it', ({ topic, message }) => message === undefined || !/[+#]/.test(String(topic ?? ''))),
  blank: { host: 'address.invalid', message: 'hello' },
  addressField: 'host',
  inSentence: ['host', 'port', 'topic'],
  takeAddress: takeHostAndPort({ mqtt: 1883, mqtts: 8883 }),
  sentence: (target, part) => [
    ...(target.message === undefined ? [say('Wait for a message on ')] : [say('Publish '), part('message', { look: 'code' }), say(' to ')]), part('topic', { look: 'code' }), say(' at the broker '), part('host', { look: 'code' }), say(' port '), part('port', { look: 'code' }),
    ...(target.message === undefined ? [] : [say(' and see it come back')]), ...(target.expect === undefined ? [] : [say(', expect '), part('expect', { look: 'code' })])
  ],
  address: (target) => `${formatHostAndPort(target.host, target.port)} ${target.topic}`,
  guess: guessByScheme({ mqtt: 1883, mqtts: 8883 }, (scheme) => ({ message: 'hello', ...(scheme === 'mqtts' ? { tls: true } : {}) })),
  subjects: ['json', 'text', 'pattern', 'size', 'certificate'],
  lacks: lacksWithoutTls,
  phases: ['lookup', 'connect', 'tls', 'login', 'send', 'wait']
})
