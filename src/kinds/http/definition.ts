import * as yup from 'yup'
import { WEB_SUBJECTS } from '../../core/conditions/subject'
import { choiceField, countField, flagField, needed, sizeField, textField } from '../../core/definitions/fields'
import type { KindDefinition } from '../../core/definitions/kind'
import { exactly } from '../../core/definitions/problems-of'
import { formatSize, parseSize } from '../../core/definitions/size'
import { refersToVariables } from '../../core/layers/variables'
import { say, type Sentence } from '../../core/sentence/sentence'
import { secretsOf } from './redact'
import { isHttpUrl } from '../../core/definitions/http-url'
import { usualMethod } from './shapes'
import { HTTP_DEFAULTS, METHODS, type HttpTarget } from './target'

const urlField = () => yup.mixed<string>().test('url', 'an address such as https://www.example.org/path, without a user name in it', isHttpUrl)
const methodField = () => yup.mixed<string>().test('method', `a method such as ${METHODS.join(', ')}`, (value) =>
  value === undefined || (typeof value === 'string' && /^[A-Z]{2,20}$/.test(value) && value !== 'CONNECT'))

/** Field names and values as RFC 9110, section 5 allows them. */
const headersField = () => yup.mixed().test('headers', 'header names with their values as text', (value) => {
  if (value === undefined) return true
  if (value === null || typeof value !== 'object' || Array.isArray(value) || Object.keys(value).length > 50) return false
  return Object.entries(value).every(([name, text]) =>
    /^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/.test(name) && typeof text === 'string' && text.length <= 8000 && !/[\r\n\0]/.test(text))
})

const schema = exactly({
  url: urlField(),
  method: methodField(),
  headers: headersField(),
  body: yup.mixed<string>().test('body', 'text of at most 1 MB', (value) => value === undefined || (typeof value === 'string' && value.length <= 1_000_000)),
  graphql: exactly({
    query: needed(textField(100_000), 'a query'), operation: textField(200),
    variables: yup.mixed().test('variables', 'an object', (value) => value === undefined || (value !== null && typeof value === 'object' && !Array.isArray(value)))
  }).default(undefined),
  soap: exactly({ envelope: needed(textField(1_000_000), 'an envelope in XML'), action: textField(1000), version: choiceField(['1.1', '1.2']) }).default(undefined),
  upload: exactly({ field: needed(textField(200), 'the name of the field'), file: needed(textField(200), 'the name of the file'), content: needed(textField(1_000_000), 'what is in it'), type: textField(200) }).default(undefined),
  auth: yup.lazy((value: unknown) => {
    if (value === undefined) return yup.mixed()
    const basic = value !== null && typeof value === 'object' && 'basic' in value
    return basic
      ? exactly({ basic: exactly({ user: needed(textField(200), 'a user name'), password: needed(textField(1000), 'a password') }) })
      : exactly({ bearer: needed(textField(8000), 'a token') })
  }),
  redirects: countField(0, 20),
  verify: flagField(),
  version: choiceField(['any', '1.1']),
  family: choiceField(['ipv4', 'ipv6']),
  most: sizeField()
}).test('one-body', 'at most one of body, graphql, soap and upload', (value) => ['body', 'graphql', 'soap', 'upload'].filter((each) => value[each] !== undefined).length <= 1)

function read(written: Record<string, unknown>): HttpTarget {
  return {
    url: String(written.url),
    method: String(written.method ?? usualMethod(written)),
    headers: (written.headers ?? {}) as Record<string, string>,
    ...(written.body === undefined ? {} : { body: String(written.body) }),
    ...(written.graphql === undefined ? {} : { graphql: written.graphql as NonNullable<HttpTarget['graphql']> }),
    ...(written.soap === undefined ? {} : { soap: { version: '1.1', ...(written.soap as { envelope: string }) } }),
    ...(written.upload === undefined ? {} : { upload: written.upload as NonNullable<HttpTarget['upload']> }),
    ...(written.auth === undefined ? {} : { auth: written.auth as HttpTarget['auth'] }),
    redirects: Number(written.redirects ?? HTTP_DEFAULTS.redirects),
    verify: written.verify !== false,
    version: written.version === '1.1' ? '1.1' : 'any',
    ...(written.family === undefined ? {} : { family: written.family === 'ipv6' ? 6 : 4 }),
    most: written.most === undefined ? HTTP_DEFAULTS.most : parseSize(String(written.most))!
  }
}

function write(target: HttpTarget): Record<string, unknown> {
  return {
    url: target.url,
    ...(target.method === usualMethod(target) ? {} : { method: target.method }),
    ...(Object.keys(target.headers).length === 0 ? {} : { headers: target.headers }),
    ...(target.body === undefined ? {} : { body: target.body }),
    ...(target.graphql === undefined ? {} : { graphql: target.graphql }),
    ...(target.soap === undefined ? {} : { soap: target.soap }),
    ...(target.upload === undefined ? {} : { upload: target.upload }),
    ...(target.auth === undefined ? {} : { auth: target.auth }),
    ...(target.redirects === HTTP_DEFAULTS.redirects ? {} : { redirects: target.redirects }),
    ...(target.verify ? {} : { verify: false }),
    ...(target.version === 'any' ? {} : { version: target.version }),
    ...(target.family === undefined ? {} : { family: `ipv${target.family}` }),
    ...(target.most === HTTP_DEFAULTS.most ? {} : { most: formatSize(target.most) })
  }
}

function sentence(target: HttpTarget): Sentence {
  const pieces: Sentence = [
    { text: target.method === 'GET' ? 'Fetch' : `Send ${target.method} to`, part: 'http.method', label: 'method', offers: ['Fetch', ...METHODS.slice(1).map((method) => `Send ${method} to`)] },
    say(' '),
    { text: target.url, part: 'http.url', label: 'address', look: 'code' }
  ]
  const details = [
    ...(Object.keys(target.headers).length > 0 ? [`with ${Object.keys(target.headers).length === 1 ? `the header ${Object.keys(target.headers)[0]}` : `${Object.keys(target.headers).length} headers`}`] : []),
    ...(target.body === undefined ? [] : ['with a body']),
    ...(target.graphql === undefined ? [] : [`with the GraphQL ${target.graphql.operation ?? 'query'}`]),
    ...(target.soap === undefined ? [] : ['with a SOAP envelope']),
    ...(target.upload === undefined ? [] : [`with the file ${target.upload.file}`]),
    ...(target.auth === undefined ? [] : ['basic' in target.auth ? `signed in as ${target.auth.basic.user}` : 'with a token']),
    ...(target.redirects === 0 ? ['following no redirect'] : []),
    ...(target.verify ? [] : ['without verifying TLS']),
    ...(target.version === '1.1' ? ['over HTTP/1.1'] : []),
    ...(target.family === undefined ? [] : [`over IPv${target.family}`])
  ]
  for (const detail of details) pieces.push(say(', '), { text: detail, part: 'http.more', label: 'request' })
  return pieces
}

function readPart(target: HttpTarget, path: string, text: string): HttpTarget | { expected: string } | undefined {
  if (path === 'http.url') {
    const typed = text.trim()
    const url = /^(https?:\/\/|\$\{)/i.test(typed) ? typed : `https://${typed}`
    return refersToVariables(url) || isHttpUrl(url) ? { ...target, url } : { expected: 'an address such as https://www.example.org/path' }
  }
  if (path === 'http.method') {
    const method = /fetch/i.test(text) ? 'GET' : /\b([A-Za-z]{2,20})\b(?:\s+to)?$/.exec(text.trim().replace(/^send\s+/i, '').replace(/\s+to$/i, ''))?.[1]?.toUpperCase()
    return method ? { ...target, method } : { expected: 'Fetch, or a method such as POST' }
  }
  return path === 'http.more' ? target : undefined
}

/** A web address, or a host as people write it without a scheme. */
function guess(text: string): ReturnType<KindDefinition['guess']> {
  const hasScheme = /^https?:\/\//i.test(text)
  if (!hasScheme && !/^(?:[\p{L}\p{N}](?:[\p{L}\p{N}-]*[\p{L}\p{N}])?\.)+\p{L}[\p{L}\p{N}-]*(?::\d{1,5})?(?:[/?#]|$)/u.test(text) && !/^\d{1,3}(?:\.\d{1,3}){3}(?::\d{1,5})?(?:[/?#]|$)/.test(text)) return undefined
  const url = hasScheme ? text : `https://${text}`
  if (!isHttpUrl(url)) return undefined
  const { host, pathname, port } = new URL(url)
  // a bare port that web servers do not usually have, and playlists, belong to kinds that know them better
  if ((!hasScheme && port !== '' && !/^(80|3000|8\d{3})$/.test(port)) || /\.m3u8$/i.test(pathname)) return undefined
  return { written: { url }, address: url, name: `${host}${pathname === '/' ? '' : pathname}` }
}

/** One HTTP(S) request. */
export const httpDefinition: KindDefinition<HttpTarget> = {
  kind: 'http',
  name: 'one HTTP request',
  family: 'web',
  proves: 'The address answers one request as described: status, content, certificate and time.',
  doesNotProve: 'That a page looks right or works in a browser, or that several steps in a row succeed.',
  schema,
  jsonSchema: {
    type: 'object', required: ['url'], additionalProperties: false, description: 'One HTTP(S) request',
    properties: {
      url: { type: 'string', format: 'uri' }, method: { type: 'string' }, headers: { type: 'object', additionalProperties: { type: 'string' } }, body: { type: 'string' },
      graphql: { type: 'object', description: 'POST a query; errors in the answer are failures', required: ['query'], properties: { query: { type: 'string' }, variables: { type: 'object' }, operation: { type: 'string' } } },
      soap: { type: 'object', description: 'POST an envelope; a fault in the answer is a failure', required: ['envelope'], properties: { envelope: { type: 'string' }, action: { type: 'string' }, version: { type: 'string', enum: ['1.1', '1.2'] } } },
      upload: { type: 'object', description: 'POST a file as a form does', required: ['field', 'file', 'content'], properties: { field: { type: 'string' }, file: { type: 'string' }, content: { type: 'string' }, type: { type: 'string' } } },
      auth: { type: 'object', description: '{ basic: { user, password } } or { bearer }' }, redirects: { type: 'integer', minimum: 0, maximum: 20 }, verify: { type: 'boolean' },
      version: { type: 'string', enum: ['any', '1.1'] }, family: { type: 'string', enum: ['ipv4', 'ipv6'] }, most: { type: 'string', examples: ['5MB'] }
    }
  },
  blank: { url: 'https://address.invalid/' },
  addressPart: 'http.url',
  form: [],
  offers: [
    { name: 'few packets beside it are lost', written: { loss: { max: '50%', warn: '20%' } } },
    { name: 'the round trip beside it is short', written: { rtt: { max: '500ms', warn: '250ms' } } },
    { name: 'the way to its address does not change', written: { changes: { warn: { max: 0 } } } },
    { name: 'the way to its address is short', written: { hops: { max: 20 } } },
    { name: 'its name is found quickly from the root', written: { resolution: { max: '5s', warn: '1s' } } }
  ],
  subjects: WEB_SUBJECTS,
  readings: {
    loss: { unit: 'share', says: 'loss of packets beside it' }, rtt: { unit: 'time', says: 'round trip of packets beside it' }, resolution: { unit: 'time', says: 'resolution of its name from the root' },
    hops: { unit: 'number', says: 'number of steps on the way to its address' }, changes: { unit: 'number', says: 'number of changed steps on the way to its address' }
  },
  measuresLine: true,
  telling: [],
  facts: {},
  phases: ['lookup', 'connect', 'tls', 'wait', 'receive'],
  secretsOf,
  read,
  write,
  sentence,
  readPart,
  address: (target) => target.url,
  guess,
  requests: () => 1,
  firstConditions: (target) => [
    { status: '200-299' },
    ...(target.url.startsWith('https:') ? [{ certificate: { min: '3d', warn: '14d' } }] : [])
  ]
}
