import type { ConditionFinding } from '../observation'
import { speakMilliseconds, speakLength } from '../definitions/duration'
import { speakSize } from '../definitions/size'
import { statusFits } from '../definitions/status-set'
import type { Answer, Condition, ConditionTest, FactTest, Limits, TextTest } from './condition'
import { judgeLimits, type LimitOutcome } from './limits'
import { fitsSelector } from '../numbers/sample'
import type { Numbers } from '../numbers/points'
import { judgeSeries, ratesOf } from '../numbers/series'
import { jsonValues } from './json-path'
import { speakReading } from './unit'
import { parseXml, XML_LIMIT, xmlValues } from './x-path'

type Judged = { outcome: LimitOutcome; found: string }

/** The largest JSON body that conditions look into, in characters; a larger one fails the condition in words. */
export const JSON_LIMIT = 4_000_000
/** The longest text a pattern is run over, in characters, so that no pattern can hold up the probe for long. */
export const PATTERN_LIMIT = 500_000

/**
 * Judges conditions on one answer, in their order. JSON is parsed once.
 * @param parseJson lets a caller share an already parsed body; it throws as JSON.parse does
 */
export function judgeConditions(conditions: Condition[], answer: Answer): ConditionFinding[] {
  let parsed: { value: unknown } | { error: string } | undefined
  const json = () => (parsed ??= parseBody(answer.body))
  let document: ReturnType<typeof readXml> | undefined
  const xml = () => (document ??= readXml(answer.body))
  return conditions.map((condition, index) => {
    const judged = judgeTest(condition.test, answer, json, xml)
    const turned = condition.not ? turnRound(judged) : judged
    const outcome = turned.outcome === 'failed' && condition.softly ? 'warned' : turned.outcome
    return { index, outcome, found: turned.found }
  })
}

function turnRound(judged: Judged): Judged {
  return { outcome: judged.outcome === 'failed' ? 'held' : 'failed', found: judged.found }
}

function parseBody(body: string): { value: unknown } | { error: string } {
  if (body.length > JSON_LIMIT) return { error: `the JSON is larger than ${speakSize(JSON_LIMIT)}` }
  try {
    return { value: JSON.parse(body) }
  } catch {
    return { error: body.trim() === '' ? 'the body is empty' : 'the body is not JSON' }
  }
}

function judgeTest(test: ConditionTest, answer: Answer, json: () => { value: unknown } | { error: string }, xml: () => ReturnType<typeof readXml>): Judged {
  switch (test.on) {
    case 'status':
      if (answer.status === undefined) return { outcome: 'failed', found: 'there is no status' }
      return { outcome: statusFits(test.set, answer.status) ? 'held' : 'failed', found: `the status is ${answer.status}` }
    case 'text':
      return answer.body.includes(test.text)
        ? { outcome: 'held', found: `“${shorten(test.text)}” is there` }
        : { outcome: 'failed', found: `“${shorten(test.text)}” is not in the ${speakSize(answer.bytes)} of the answer` }
    case 'pattern':
      return judgePattern(test.pattern, answer.body)
    case 'header':
      return judgeHeader(test, answer.headers)
    case 'json':
      return judgeJson(test, json())
    case 'xml':
      return judgeXml(test, xml())
    case 'certificate':
      if (answer.certificateLeft === undefined) return { outcome: 'failed', found: 'there is no certificate' }
      return {
        outcome: judgeLimits(test.left, answer.certificateLeft),
        found: answer.certificateLeft < 0
          ? `the certificate ended ${speakLength(-answer.certificateLeft)} ago`
          : `the certificate lasts ${speakLength(answer.certificateLeft)}`
      }
    case 'size':
      return { outcome: judgeLimits(test.bytes, answer.bytes), found: `the body has ${speakSize(answer.bytes)}` }
    case 'phase': {
      const time = answer.times[test.phase]
      if (time === undefined) return { outcome: 'held', found: `there was no ${test.phase}` }
      return { outcome: judgeLimits(test.time, time), found: `${test.phase} took ${speakMilliseconds(time)}` }
    }
    case 'reading': {
      const value = answer.readings?.[test.name]
      if (value === undefined) return { outcome: 'failed', found: `the ${test.says} is not known` }
      return { outcome: judgeLimits(test.limits, value), found: `the ${test.says} is ${speakReading(test.unit, value)}` }
    }
    case 'metric':
      return judgeMetric(test, answer.numbers)
    case 'fact':
      return judgeFact(test, answer.facts?.[test.name] ?? [])
  }
}

/** Judges the number that does worst among those a name and its labels fit. */
function judgeMetric({ name, unit, rate, limits, for: time, margin }: Extract<ConditionTest, { on: 'metric' }>, numbers: Numbers | undefined): Judged {
  const fits = fitsSelector(name)
  const keys = (numbers?.latest ?? []).map(([key]) => key).filter(fits)
  if (!numbers || keys.length === 0) return { outcome: 'failed', found: `there is no number ${name}` }
  const judged = keys.map((key) => {
    const points = rate ? ratesOf(numbers.series[key] ?? []) : numbers.series[key] ?? []
    const value = points.at(-1)?.[1]
    const { outcome, beyondSince } = judgeSeries({ limits, for: time, margin }, points)
    const lasts = beyondSince === undefined || time === 0 ? '' : ` and has passed the limit for ${speakLength(points.at(-1)![0] - beyondSince)}`
    return { outcome, value, found: value === undefined ? `how fast ${key} grows is not known yet` : `${key} ${rate ? 'grows by' : 'is'} ${speakReading(unit, value)}${rate ? ' a second' : ''}${lasts}` }
  })
  const severity = { failed: 2, warned: 1, held: 0 }
  const isUpper = limits.max !== undefined || limits.warnMax !== undefined
  const worst = judged.reduce((a, b) => {
    if (severity[a.outcome] !== severity[b.outcome]) return severity[b.outcome] > severity[a.outcome] ? b : a
    return (isUpper ? (b.value ?? -Infinity) > (a.value ?? -Infinity) : (b.value ?? Infinity) < (a.value ?? Infinity)) ? b : a
  })
  return { outcome: worst.outcome, found: worst.found }
}

function judgeFact({ test, count, says }: Extract<ConditionTest, { on: 'fact' }>, values: string[]): Judged {
  const found = values.length === 0 ? `there is no ${says}` : `the ${says} is ${shorten(values.join(', '))}`
  if (count) return { outcome: judgeLimits(count, values.length), found: `${found}${values.length > 1 ? `: ${values.length} values` : ''}` }
  return { outcome: fitsFactTest(test, values) ? 'held' : 'failed', found }
}

function fitsFactTest({ is, has, matches }: FactTest, values: string[]): boolean {
  if (is !== undefined) return is.length === new Set(values).size && is.every((each) => values.includes(each))
  if (has !== undefined) return values.some((value) => value.includes(has))
  const pattern = new RegExp(matches ?? '', 'u')
  return values.some((value) => pattern.test(value.slice(0, PATTERN_LIMIT)))
}

function judgePattern(pattern: string, body: string): Judged {
  const match = new RegExp(pattern, 'u').exec(body.slice(0, PATTERN_LIMIT))
  return match
    ? { outcome: 'held', found: `it matches “${shorten(match[0])}”` }
    : { outcome: 'failed', found: 'nothing in the answer matches' }
}

function judgeHeader(test: Extract<ConditionTest, { on: 'header' }>, headers: [string, string][]): Judged {
  const values = headers.filter(([name]) => name.toLowerCase() === test.name.toLowerCase()).map(([, value]) => value)
  if (values.length === 0) return { outcome: 'failed', found: `there is no ${test.name} header` }
  const fits = values.some((value) => fitsTextTest(test.test, value))
  return { outcome: fits ? 'held' : 'failed', found: `${test.name} is “${shorten(values.join(', '))}”` }
}

function judgeJson(test: Extract<ConditionTest, { on: 'json' }>, body: { value: unknown } | { error: string }): Judged {
  if ('error' in body) return { outcome: 'failed', found: body.error }
  const nodes = jsonValues(test.path, body.value)
  if (test.count) return judgeCount(test.path, test.count, nodes)
  if (nodes.length === 0) return { outcome: 'failed', found: `${test.path} is not there` }
  const first = nodes[0]
  const found = `${test.path} is ${shorten(JSON.stringify(first) ?? 'nothing')}`
  if (test.value) {
    if (typeof first !== 'number') return { outcome: 'failed', found: `${found}, not a number` }
    return { outcome: judgeLimits(test.value, first), found }
  }
  return { outcome: nodes.some((node) => fitsTextTest(test.test, node)) ? 'held' : 'failed', found }
}

function readXml(body: string): { document: ReturnType<typeof parseXml> } | { error: string } {
  if (body.length > XML_LIMIT) return { error: `the XML is larger than ${speakSize(XML_LIMIT)}` }
  try {
    return { document: parseXml(body) }
  } catch {
    return { error: body.trim() === '' ? 'the body is empty' : 'the body is not XML' }
  }
}

function judgeXml(test: Extract<ConditionTest, { on: 'xml' }>, body: ReturnType<typeof readXml>): Judged {
  if ('error' in body) return { outcome: 'failed', found: body.error }
  let values: (string | number | boolean)[]
  try {
    values = xmlValues(test.path, body.document)
  } catch (error) {
    return { outcome: 'failed', found: `${test.path} cannot be asked of this document: ${error instanceof Error ? error.message : 'unknown'}` }
  }
  if (test.count) return { outcome: judgeLimits(test.count, values.length), found: `${test.path} has ${values.length} ${values.length === 1 ? 'item' : 'items'}` }
  const first = values[0]
  if (first === undefined) return { outcome: 'failed', found: `${test.path} is not there` }
  const found = `${test.path} is “${shorten(String(first))}”`
  if (test.value) {
    const number = Number(first)
    if (String(first).trim() === '' || Number.isNaN(number)) return { outcome: 'failed', found: `${found}, not a number` }
    return { outcome: judgeLimits(test.value, number), found }
  }
  const isAlone = test.test.is === undefined && test.test.has === undefined && test.test.matches === undefined
  if (isAlone && first === false) return { outcome: 'failed', found: `${test.path} does not hold` }
  return { outcome: values.some((value) => fitsTextTest(test.test.is === undefined ? test.test : { is: String(test.test.is) }, String(value))) ? 'held' : 'failed', found }
}

/** Counts the items of an array, the members of an object, or the places a path with wildcards finds. */
function judgeCount(path: string, limits: Limits, nodes: unknown[]): Judged {
  if (nodes.length === 0) return { outcome: judgeLimits(limits, 0), found: `${path} is not there` }
  const only = nodes.length === 1 ? nodes[0] : undefined
  const count = Array.isArray(only) ? only.length
    : only !== null && typeof only === 'object' ? Object.keys(only).length
      : nodes.length
  return { outcome: judgeLimits(limits, count), found: `${path} has ${count} ${count === 1 ? 'item' : 'items'}` }
}

function fitsTextTest(test: TextTest, value: unknown): boolean {
  if (test.is !== undefined) return value === test.is || (typeof value === 'string' && value === String(test.is))
  const text = typeof value === 'string' ? value : JSON.stringify(value) ?? ''
  if (test.has !== undefined) return text.includes(test.has)
  if (test.matches !== undefined) return new RegExp(test.matches, 'u').test(text.slice(0, PATTERN_LIMIT))
  return true
}

function shorten(text: string): string {
  return text.length > 60 ? `${text.slice(0, 57)}…` : text
}
