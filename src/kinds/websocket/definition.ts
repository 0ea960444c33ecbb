import type * as yup from 'yup'
import { describeKind } from '../../core/definitions/describe-kind'
import { flagTarget, secretTarget, textTarget } from '../../core/definitions/target-fields'
import { say } from '../../core/sentence/sentence'
import { patternTarget } from '../tcp/definition'

export interface WebsocketTarget {
  url: string
  /** The subprotocol to ask for (RFC 6455, section 1.9). */
  protocol?: string
  origin?: string
  token?: string
  send?: string
  expect?: string
  unverified: boolean
}

const isUrl = (text: string) => URL.canParse(text) && /^wss?:$/.test(new URL(text).protocol) && new URL(text).username === ''

export const websocketDefinition = describeKind<WebsocketTarget>({
  kind: 'websocket',
  name: 'a WebSocket',
  family: 'web',
  proves: 'A WebSocket opens, answers a message as expected and closes in order.',
  doesNotProve: 'That messages keep coming for hours.',
  fields: {
    url: textTarget('address', { isNeeded: true, most: 2000, fits: isUrl, expected: 'an address such as wss://www.example.org/live' }),
    protocol: textTarget('subprotocol', { most: 100, fits: (text) => /^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/.test(text), expected: 'the name of a subprotocol' }), origin: textTarget('origin', { most: 300 }), token: secretTarget('bearer token'),
    send: textTarget('send', { most: 100_000, as: 'lines' }), expect: patternTarget('expect (a pattern)'), unverified: flagTarget('take any certificate')
  },
  together: (schema) => schema.test('https', 'a certificate to verify only with wss', (value) => value.unverified !== true || String(value.url ?? '').startsWith('wss:') || String(value.url ?? '').includes('${')) as yup.Schema,
  blank: { url: 'wss://address.invalid/' },
  addressField: 'url',
  inSentence: ['url'],
  sentence: (target, part) => [
    say('Open the WebSocket '), part('url', { look: 'code' }), ...(target.send === undefined ? [] : [say(', send '), part('send', { look: 'code', text: target.send.slice(0, 60) })]),
    ...(target.expect === undefined ? [] : [say(', expect '), part('expect', { look: 'code' })]), say(' and close it')
  ],
  takeAddress: (target, text) => {
    const url = /^wss?:\/\//i.test(text) ? text : `wss://${text.replace(/^https?:\/\//i, '')}`
    return isUrl(url) ? { ...target, url } : { expected: 'an address such as wss://www.example.org/live' }
  },
  address: (target) => target.url,
  guess: (text) => (isUrl(text) ? { written: { url: text }, address: text, name: `${new URL(text).host}${new URL(text).pathname === '/' ? '' : new URL(text).pathname}` } : undefined),
  firstConditions: (target) => (target.url.startsWith('wss:') ? [{ certificate: { min: '3d', warn: '14d' } }] : []),
  offers: [],
  lacks: ({ url }) => (String(url).startsWith('ws:') ? ['certificate'] : []),
  subjects: ['text', 'pattern', 'json', 'size', 'certificate', 'header'],
  phases: ['lookup', 'connect', 'tls', 'greet', 'wait']
})
