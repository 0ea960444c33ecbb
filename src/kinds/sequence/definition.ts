import * as yup from 'yup'
import { conditionSchema } from '../../core/conditions/condition-schema'
import { STEP_SUBJECTS, WEB_SUBJECTS } from '../../core/conditions/subject'
import { flagField, needed, patternField, textField } from '../../core/definitions/fields'
import type { KindDefinition } from '../../core/definitions/kind'
import { exactly } from '../../core/definitions/problems-of'
import { jsonPathProblem } from '../../core/conditions/json-path'
import { xPathProblem } from '../../core/conditions/x-path'
import { refersToVariables } from '../../core/layers/variables'
import { say } from '../../core/sentence/sentence'
import { namesIn } from '../../core/sequence/template'
import { secretsInHeaders } from '../http/redact'
import { TAKEN_FROM, type SequenceTarget, type Step, type Taking } from './target'

const STEPS_MOST = 30

const isPlaceable = (text: unknown): text is string => {
  if (typeof text !== 'string') return false
  try {
    namesIn(text)
    return true
  } catch {
    return false
  }
}
const isStepUrl = (value: unknown) => isPlaceable(value) && value.length <= 4000 && (/^(https?:\/\/|\$\{|\{=)/.test(value)) && !/[\s<>"]/.test(value.replace(/\{=[^{}]*\}/g, 'x'))
const placed = (most: number, what: string) => yup.mixed<string>().test('placed', `${what} of at most ${most} characters, with places such as {=token} or {=base64(token)}`, (value) => value === undefined || (isPlaceable(value) && value.length <= most))

const takeSchema = yup.array(yup.lazy((value: unknown) => {
  const from = value !== null && typeof value === 'object' ? TAKEN_FROM.filter((each) => each in value) : []
  const fits: Record<Taking['from'], yup.Schema> = {
    json: yup.mixed<string>().test('jsonpath', 'a JSONPath (RFC 9535)', (path) => typeof path === 'string' && jsonPathProblem(path) === undefined),
    xml: yup.mixed<string>().test('xpath', 'an XPath 1.0', (path) => typeof path === 'string' && xPathProblem(path) === undefined), pattern: patternField(), header: textField(200), cookie: textField(200)
  }
  if (from.length !== 1) return yup.mixed().test('from', `a name (as) and one of ${TAKEN_FROM.join(', ')}`, () => false)
  return exactly({ as: needed(yup.mixed<string>().test('name', 'a name of letters, digits and _', (name) => typeof name === 'string' && /^[A-Za-z_]\w{0,63}$/.test(name)), 'a name'), [from[0]!]: fits[from[0]!] })
}) as never).max(20, 'at most 20 values')

const stepSchema = exactly({
  name: textField(200), url: needed(yup.mixed<string>().test('url', 'an address such as https://www.example.org/path', (value) => value === undefined || isStepUrl(value)), 'an address'),
  method: yup.mixed<string>().test('method', 'a method such as GET or POST', (value) => value === undefined || (typeof value === 'string' && /^[A-Z]{2,20}$/.test(value) && value !== 'CONNECT')),
  headers: yup.mixed().test('headers', 'header names with their values as text', (value) => value === undefined || (value !== null && typeof value === 'object' && !Array.isArray(value) &&
    Object.entries(value).every(([name, text]) => /^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/.test(name) && isPlaceable(text) && !/[\r\n]/.test(text)))),
  body: placed(1_000_000, 'text'), follow: flagField(), take: takeSchema, pass: yup.array(conditionSchema(STEP_SUBJECTS) as never).max(20, 'at most 20 conditions')
})

const stepsField = () => yup.array(stepSchema).max(STEPS_MOST, `at most ${STEPS_MOST} requests`).typeError('a list of requests')

/** A name that no earlier request takes would only be found out while it runs. */
function unknownNames(written: { before?: unknown; steps?: unknown; after?: unknown }): string[] {
  const known = new Set<string>()
  const unknown: string[] = []
  for (const list of [written.before, written.steps, written.after]) {
    for (const step of Array.isArray(list) ? list as Record<string, unknown>[] : []) {
      if (step === null || typeof step !== 'object') continue
      const texts = [step.url, step.body, ...Object.values((step.headers ?? {}) as object)].filter(isPlaceable)
      unknown.push(...texts.flatMap(namesIn).filter((name) => !known.has(name)))
      for (const take of Array.isArray(step.take) ? step.take as { as?: string }[] : []) if (take?.as) known.add(take.as)
    }
  }
  return unknown
}

const schema = exactly({ before: stepsField(), steps: needed(stepsField().min(1, 'at least one request') as never, 'a list of requests') as never, after: stepsField(), verify: flagField() })
  .test('known-names', 'only names that an earlier request takes', (value) => unknownNames(value as never).length === 0)

type Written = Record<string, unknown>

const readStep = (written: Written, index: number): Step => ({
  name: String(written.name ?? `request ${index + 1}`), url: String(written.url), method: String(written.method ?? (written.body === undefined ? 'GET' : 'POST')), headers: (written.headers ?? {}) as Record<string, string>,
  ...(written.body === undefined ? {} : { body: String(written.body) }), follow: written.follow !== false,
  take: ((written.take ?? []) as Written[]).map((each) => { const from = TAKEN_FROM.find((place) => each[place] !== undefined)!; return { as: String(each.as), from, at: String(each[from]) } }),
  pass: (written.pass ?? []) as Written[]
})
const readSteps = (written: unknown) => ((written ?? []) as Written[]).map(readStep)

const writeStep = (step: Step, index: number): Written => ({
  ...(step.name === `request ${index + 1}` ? {} : { name: step.name }), url: step.url, ...(step.method === (step.body === undefined ? 'GET' : 'POST') ? {} : { method: step.method }),
  ...(Object.keys(step.headers).length > 0 ? { headers: step.headers } : {}), ...(step.body === undefined ? {} : { body: step.body }), ...(step.follow ? {} : { follow: false }),
  ...(step.take.length > 0 ? { take: step.take.map(({ as, from, at }) => ({ as, [from]: at })) } : {}), ...(step.pass.length > 0 ? { pass: step.pass } : {})
})
const list = (name: string, steps: Step[]) => (steps.length > 0 ? { [name]: steps.map(writeStep) } : {})

const requestsIn = ({ before, steps, after }: SequenceTarget) => before.length + steps.length + after.length

const stepJson = {
  type: 'object', required: ['url'], properties: {
    name: { type: 'string' }, url: { type: 'string' }, method: { type: 'string' }, headers: { type: 'object', additionalProperties: { type: 'string' } }, body: { type: 'string' }, follow: { type: 'boolean' },
    take: { type: 'array', items: { type: 'object', required: ['as'], properties: Object.fromEntries(['as', ...TAKEN_FROM].map((name) => [name, { type: 'string' }])) } }, pass: { type: 'array', items: { type: 'object' } }
  }
}

/** HTTP requests one after another, passing values on. */
export const sequenceDefinition: KindDefinition<SequenceTarget> = {
  kind: 'sequence',
  name: 'a sequence of requests',
  family: 'web',
  proves: 'Several requests in a row succeed, each with what the ones before gave: signing in, asking, ordering; with the time of each and of all.',
  doesNotProve: 'That it works in a browser, where scripts run and people click.',
  schema,
  jsonSchema: { type: 'object', additionalProperties: false, required: ['steps'], description: 'HTTP requests one after another', properties: { before: { title: 'preparation', type: 'array', items: stepJson }, steps: { title: 'requests', type: 'array', items: stepJson }, after: { title: 'clean-up, also after a failure', type: 'array', items: stepJson }, verify: { type: 'boolean' } } },
  read: (written) => ({ before: readSteps(written.before), steps: readSteps(written.steps), after: readSteps(written.after), unverified: written.verify === false }),
  write: ({ before, steps, after, unverified }) => ({ ...list('before', before), ...list('steps', steps), ...list('after', after), ...(unverified ? { verify: false } : {}) }),
  blank: { steps: [{ url: 'https://address.invalid/' }] },
  steps: ({ before, steps }) => [...before, ...steps].map((each) => each.name),
  sentence: (target) => [
    say('Send '), { text: `${target.steps.length} ${target.steps.length === 1 ? 'request' : 'requests'} one after another`, part: 'sequence.more', label: 'requests' }, say(', beginning with '),
    { text: target.steps[0]?.url ?? '', part: 'sequence.url', label: 'first address', look: 'code' },
    ...(target.before.length > 0 ? [say(', after '), { text: `${target.before.length} to prepare`, part: 'sequence.more', label: 'preparation' }] : []), ...(target.after.length > 0 ? [say(', and '), { text: `${target.after.length} to clean up`, part: 'sequence.more', label: 'clean-up' }] : [])
  ],
  readPart: (target, path, text) => {
    if (path === 'sequence.more') return target
    if (path !== 'sequence.url') return undefined
    const typed = text.trim()
    const url = /^(https?:\/\/|\$\{|\{=)/i.test(typed) ? typed : `https://${typed}`
    const isFine = isStepUrl(url) && (refersToVariables(url) || url.includes('{=') || URL.canParse(url))
    return isFine ? { ...target, steps: target.steps.map((step, index) => (index === 0 ? { ...step, url } : step)) } : { expected: 'an address such as https://www.example.org/path' }
  },
  addressPart: 'sequence.url',
  address: (target) => target.steps[0]?.url ?? '',
  guess: () => undefined,
  form: [],
  requests: requestsIn,
  firstConditions: () => [{ status: '200-299' }],
  offers: [{ name: 'the slowest request is quick enough', written: { slowest: { max: '2s', warn: '900ms' } } }],
  subjects: WEB_SUBJECTS,
  readings: { slowest: { unit: 'time', says: 'time of the slowest request' }, done: { unit: 'number', says: 'number of requests that passed' } },
  facts: {},
  phases: ['lookup', 'connect', 'tls', 'wait', 'receive'],
  secretsOf: ({ before, steps, after }) => [...before, ...steps, ...after].flatMap(({ headers }) => secretsInHeaders(headers))
}
