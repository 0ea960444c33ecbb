import { describeKind } from '../../core/definitions/describe-kind'
import { textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'

export interface ContainerTarget {
  container: string
  /** Where the engine answers: `http://host:2375`, `https://host:2376` or `unix:///path/to/socket`. */
  engine: string
}

const isEngine = (text: string) => URL.canParse(text) && ['http:', 'https:', 'unix:'].includes(new URL(text).protocol)

export const containerDefinition = describeKind<ContainerTarget>({
  kind: 'container',
  name: 'a container',
  family: 'services',
  proves: 'A container engine says that a container runs and is healthy, how often it was restarted and since when it runs.',
  doesNotProve: 'That what runs in it does its work, unless its own health check says so.',
  fields: {
    container: textTarget('name of the container', { isNeeded: true, most: 200, fits: (text) => /^[a-zA-Z0-9][a-zA-Z0-9_.-]*$/.test(text), expected: 'the name or the id of a container' }),
    engine: textTarget('engine', { isNeeded: true, most: 300, fits: isEngine, expected: 'an address such as http://192.0.2.10:2375 or unix:///run/engine.sock' })
  },
  blank: { container: 'app', engine: 'http://address.invalid:2375' },
  addressField: 'engine',
  inSentence: ['container', 'engine'],
  takeAddress: (target, text) => {
    const engine = text.startsWith('/') ? `unix://${text}` : /^[a-z]+:\/\//i.test(text) ? text : `http://${/:\d+$/.test(text) ? text : `${text}:2375`}`
    return isEngine(engine) ? { ...target, engine } : { expected: 'an address such as http://192.0.2.10:2375 or unix:///run/engine.sock' }
  },
  sentence: (_target, part) => [say('Ask the container engine at '), part('engine', { look: 'code' }), say(' about '), part('container', { look: 'code' })],
  address: (target) => `${target.container} at ${target.engine}`,
  guess: () => undefined,
  offers: [
    { name: 'it was not restarted often', written: { restarts: { max: 5, warn: 0 } } }, { name: 'its state is …', written: { state: { is: 'running' } } }, { name: 'it runs for so long', written: { uptime: { min: '60s' } } },
    { name: 'it runs this image', written: { image: { has: 'example/app:' } } }
  ],
  subjects: ['json', 'text'],
  readings: { restarts: { unit: 'number', says: 'number of restarts' }, uptime: { unit: 'time', says: 'time since it was started' } },
  facts: { state: { says: 'state' }, health: { says: 'health' }, image: { says: 'image' } },
  phases: ['lookup', 'connect', 'tls', 'wait', 'receive']
})
