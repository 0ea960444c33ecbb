import { describeKind } from '../../core/definitions/describe-kind'
import { durationTarget, flagTarget, isHost, secretTarget, textTarget } from '../../core/definitions/target-fields'
import { refersToVariables } from '../../core/layers/variables'
import { say } from '../../core/sentence/sentence'
import { DAY, MINUTE } from '../../core/units'

export interface NumbersTarget {
  /** Where an exposition is fetched; without it the numbers are pushed here. */
  scrape?: string
  token?: string
  verify: boolean
  /** The host that pushes: asked by ping when its numbers stop coming. */
  host?: string
  /** After so long without a push the numbers have stopped. */
  silent: number
}

const isWebAddress = (text: string) => URL.canParse(text) && /^https?:$/.test(new URL(text).protocol)

export const numbersDefinition = describeKind<NumbersTarget>({
  kind: 'numbers',
  name: 'numbers of a host or a service',
  family: 'inside',
  proves: 'Numbers such as processor, memory, disk or queue lengths come in, and are within their limits.',
  doesNotProve: 'That visitors are served; and numbers that stop coming may mean a silent script as well as a dead host, so that a ping beside it tells the two apart.',
  fields: {
    scrape: textTarget('address to fetch numbers from', { most: 2000, fits: (text) => refersToVariables(text) || isWebAddress(text), expected: 'an address such as https://db.example.org/metrics' }),
    token: secretTarget('bearer token'), verify: flagTarget('verify the certificate', true),
    host: textTarget('host to ping when numbers stop', { fits: isHost, expected: 'a host such as www.example.org or 192.0.2.1' }), silent: durationTarget('numbers have stopped after', 10_000, 7 * DAY, 5 * MINUTE)
  },
  blank: {},
  addressField: 'scrape',
  inSentence: [],
  takeAddress: (target, text) => {
    if (text === '') return { verify: target.verify, silent: target.silent, ...(target.token === undefined ? {} : { token: target.token }), ...(target.host === undefined ? {} : { host: target.host }) }
    return isWebAddress(text) ? { ...target, scrape: text } : { expected: 'an address such as https://db.example.org/metrics, or nothing for numbers that are pushed here' }
  },
  sentence: (target, part) => (target.scrape === undefined
    ? [say('Take the numbers that are pushed here; they have stopped after '), part('silent', { offers: ['2 min', '5 min', '15 min'] }), ...(target.host === undefined ? [] : [say(', when '), part('host', { look: 'code' }), say(' is asked by ping')])]
    : [say('Fetch numbers from '), part('scrape', { look: 'code' })]),
  address: (target) => target.scrape ?? (target.host === undefined ? 'numbers pushed here' : `numbers pushed by ${target.host}`),
  guess: () => undefined,
  requests: (target) => (target.scrape === undefined ? 0 : 1),
  offers: [
    { name: 'the processor is not busy', written: { metric: 'cpu.busy', value: { max: '95%', warn: '85%' }, for: '10m', margin: '5%' } },
    { name: 'memory is left', written: { metric: 'memory.used', value: { max: '95%', warn: '90%' }, for: '5m', margin: '3%' } },
    { name: 'no disk is full', written: { metric: 'disk.used', value: { max: '95%', warn: '85%' }, margin: '2%' } },
    { name: 'a line is not full', written: { metric: 'net.received', value: { max: '100MB' }, for: '5m', margin: '10%' } },
    { name: 'the load per core', written: { metric: 'load.core', value: { max: 4, warn: 2 }, for: '15m', margin: '10%' } },
    { name: 'a counter does not grow fast', written: { metric: 'errors_total', rate: true, value: { max: 1 }, for: '5m' } }
  ],
  subjects: ['metric'],
  readings: { numbers: { unit: 'number', says: 'count of numbers' }, age: { unit: 'time', says: 'age of the numbers' } },
  telling: [],
  phases: ['lookup', 'connect', 'tls', 'wait', 'receive'],
  inside: (target) => target.scrape === undefined,
  takes: (target) => (target.scrape === undefined ? 'numbers' : undefined)
})
