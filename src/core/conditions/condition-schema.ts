import * as yup from 'yup'
import { choiceField, countField, durationField, flagField, numberField, patternField, shareField, sizeField, statusField, textField } from '../definitions/fields'
import { exactly } from '../definitions/problems-of'
import { DAY, HOUR } from '../units'
import { PHASES } from '../observation'
import { readKey } from '../numbers/sample'
import { isAmount, unitOfLimits } from './amount'
import { jsonPathProblem } from './json-path'
import { xPathProblem } from './x-path'
import { COMMON_SUBJECTS, subjectIn, type CommonSubject, type Reading, type Subjects, type Unit } from './subject'

const manner = { not: flagField(), softly: flagField() }

/** `{ min, max, warn }`: `warn` is a softer end beside the only hard one, or an object with its own ends. */
function limitsField(end: () => yup.MixedSchema) {
  return yup.lazy((value: unknown) => {
    if (value === undefined) return yup.mixed()
    if (value === null || typeof value !== 'object') {
      return yup.mixed().test('limits', 'limits such as { min: …, max: …, warn: … }', () => false)
    }
    const warn = (value as { warn?: unknown }).warn
    return exactly({
      min: end(),
      max: end(),
      warn: warn !== null && typeof warn === 'object' ? exactly({ min: end(), max: end() }) : end()
    }).test('some-end', 'at least one of min, max and warn', (limits) => Object.values(limits).some((each) => each !== undefined))
      .test('warn-side', 'warn as { min: … } or { max: … } when it is not beside exactly one of min and max', (limits) => {
        const { min, max, warn: soft } = limits as { min?: unknown; max?: unknown; warn?: unknown }
        return soft === undefined || typeof soft === 'object' || (min === undefined) !== (max === undefined)
      })
  })
}

const scalarField = () => yup.mixed().nullable().test('scalar', 'text, a number, true, false or null', (value) =>
  value === undefined || value === null || ['string', 'number', 'boolean'].includes(typeof value))

const jsonPathField = () => yup.mixed<string>().test({
  name: 'jsonpath',
  message: 'a JSONPath (RFC 9535) such as $.items[0].name',
  test: (value) => typeof value === 'string' && value.length <= 500 && jsonPathProblem(value) === undefined
})

const xPathField = () => yup.mixed<string>().test({
  name: 'xpath',
  message: 'an XPath 1.0 such as /order/item[1]/name',
  test: (value) => typeof value === 'string' && value.length <= 500 && xPathProblem(value) === undefined
})

const numberNameField = () => yup.mixed<string>().test('number-name', 'the name of a number, such as disk.used or disk.used{mount="/"}', (value) => typeof value === 'string' && readKey(value) !== undefined)

const amountField = () => yup.mixed().test('amount', 'a number, a share such as 85%, or a size such as 20GB', (value) => value === undefined || isAmount(value))

/** Where a value lies, and at most one way to judge it. */
const valueAt = (place: yup.ObjectShape) => exactly({
  ...place, is: scalarField(), has: textField(), matches: patternField(), value: limitsField(numberField), count: limitsField(() => countField(0, 1e9)), ...manner
}).test('one-test', 'at most one of is, has, matches, value and count', atMostOneTest)

const SHAPES: Record<CommonSubject, yup.Schema> = {
  status: exactly({ status: statusField(), ...manner }),
  text: exactly({ text: textField(), ...manner }),
  pattern: exactly({ pattern: patternField(), ...manner }),
  json: valueAt({ json: jsonPathField() }),
  xml: valueAt({ xml: xPathField() }),
  header: exactly({ header: textField(200), is: scalarField(), has: textField(), matches: patternField(), ...manner })
    .test('one-test', 'at most one of is, has and matches', atMostOneTest),
  certificate: exactly({ certificate: limitsField(() => durationField(0, 10_000 * DAY)), ...manner }),
  size: exactly({ size: limitsField(sizeField), ...manner }),
  metric: exactly({
    metric: numberNameField(), rate: flagField(), for: durationField(0, 6 * HOUR), ...manner,
    margin: shareField().test('margin', 'a share from 0% to 90%', (given) => given === undefined || Number(String(given).replace('%', '')) <= 90),
    value: limitsField(amountField as never)
  }).test('some-limit', 'limits such as value: { max: 95%, warn: 85% }', (given) => (given as Record<string, unknown>).value !== undefined)
    .test('one-unit', 'limits that are all numbers, all shares or all sizes', (given) => unitOfLimits((given as Record<string, unknown>).value) !== undefined),
  phase: exactly({
    phase: choiceField(['total', ...PHASES]), ...manner,
    max: durationField(0, DAY), min: durationField(0, DAY), warn: durationField(0, DAY)
  }).test('some-end', 'at least one of min, max and warn', (value) =>
    ['min', 'max', 'warn'].some((end) => (value as Record<string, unknown>)[end] !== undefined))
}

function atMostOneTest(value: unknown): boolean {
  const given = value as Record<string, unknown>
  return ['is', 'has', 'matches', 'value', 'count'].filter((name) => given[name] !== undefined).length <= 1
}

const ENDS: Record<Unit, () => yup.MixedSchema> = {
  share: shareField as never, time: () => durationField(0, 10_000 * DAY) as never, size: sizeField as never, number: numberField as never
}

const readingShape = (name: string, { unit }: Reading) => exactly({ [name]: limitsField(ENDS[unit]), ...manner })

const factIsField = () => yup.mixed().test('values', 'a text, or a list of texts', (value) => value === undefined ||
  (typeof value === 'string' && value.length <= 2000) || (Array.isArray(value) && value.length <= 100 && value.every((each) => typeof each === 'string' && each.length <= 2000)))

const factShape = (name: string) => exactly({
  [name]: exactly({ is: factIsField(), has: textField(), matches: patternField(), count: limitsField(() => countField(0, 1e6)) })
    .test('one-test', 'exactly one of is, has, matches and count', (value) => Object.values(value).filter((each) => each !== undefined).length === 1),
  ...manner
})

/** Schemas that were built: building one costs far more than using it. */
const built = new WeakMap<Subjects, yup.Lazy<unknown>>()

const NONE: Subjects = { common: new Set(COMMON_SUBJECTS), readings: {}, facts: {} }

/**
 * One condition in its written form: its subject (`status`, `json` …) is a key of the object.
 * @param subjects what conditions can be about; without it only what several kinds have
 */
export function conditionSchema(subjects: Subjects = NONE) {
  const known = built.get(subjects)
  if (known) return known
  const shapes: Record<string, yup.Schema> = {
    ...Object.fromEntries(Object.entries(SHAPES).filter(([subject]) => subjects.common.has(subject))),
    ...Object.fromEntries(Object.entries(subjects.readings).map(([name, reading]) => [name, readingShape(name, reading)])),
    ...Object.fromEntries(Object.keys(subjects.facts).map((name) => [name, factShape(name)]))
  }
  const none = yup.mixed().test('condition', `a condition on one of ${Object.keys(shapes).join(', ')}`, () => false)
  const schema = yup.lazy((value: unknown) => shapes[subjectIn(value, subjects) ?? ''] ?? none)
  built.set(subjects, schema)
  return schema
}
