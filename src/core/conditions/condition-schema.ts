import * as yup from 'yup'
import { choiceField, countField, durationField, flagField, numberField, patternField, sizeField, statusField, textField } from '../definitions/fields'
import { exactly } from '../definitions/problems-of'
import { DAY } from '../units'
import { PHASES } from '../observation'
import { jsonPathProblem } from './judge-condition'

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

const SHAPES: Record<string, yup.Schema> = {
  status: exactly({ status: statusField(), ...manner }),
  text: exactly({ text: textField(), ...manner }),
  pattern: exactly({ pattern: patternField(), ...manner }),
  json: exactly({
    json: jsonPathField(), is: scalarField(), has: textField(), matches: patternField(),
    value: limitsField(numberField), count: limitsField(() => countField(0, 1e9)), ...manner
  }).test('one-test', 'at most one of is, has, matches, value and count', atMostOneTest),
  header: exactly({ header: textField(200), is: scalarField(), has: textField(), matches: patternField(), ...manner })
    .test('one-test', 'at most one of is, has and matches', atMostOneTest),
  certificate: exactly({ certificate: limitsField(() => durationField(0, 10_000 * DAY)), ...manner }),
  size: exactly({ size: limitsField(sizeField), ...manner }),
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

export const CONDITION_SUBJECTS = Object.keys(SHAPES)

/** One condition in its written form: its subject (`status`, `json` …) is a key of the object. */
export const conditionSchema = yup.lazy((value: unknown) => {
  const subjects = value !== null && typeof value === 'object'
    ? CONDITION_SUBJECTS.filter((subject) => (value as Record<string, unknown>)[subject] !== undefined) : []
  const shape = subjects.length === 1 ? SHAPES[subjects[0]!] : undefined
  return shape ?? yup.mixed().test('condition', `a condition on one of ${CONDITION_SUBJECTS.join(', ')}`, () => false)
})
