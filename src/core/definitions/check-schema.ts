import * as yup from 'yup'
import { conditionSchema } from '../conditions/condition-schema'
import type { Subjects } from '../conditions/subject'
import { subjectsOf } from '../conditions/subjects'
import { parseHours } from '../hours/hours'
import { isVariableName } from '../layers/variables'
import { PHASES } from '../observation'
import { isZone } from '../time/zoned'
import { DAY, HOUR } from '../units'
import { CADENCE, IMPORTANCES, WAIT } from './check'
import { choiceField, countField, durationField, flagField, keyField, needed, numberField, shareField, textField } from './fields'
import type { Kinds } from './kind'
import { exactly } from './problems-of'

const CONDITIONS_MOST = 50
const TAGS_MOST = 30
const NEEDS_MOST = 30
const VARIABLES_MOST = 200

const list = (most: number, of: yup.Schema | yup.Lazy<unknown>, what: string) =>
  yup.array(of as yup.Schema).typeError(`a list of ${what}`).max(most, `at most ${most} ${what}`)

const countryField = () => yup.mixed<string>().test('country', 'a country code of two capital letters (ISO 3166)', (value) => typeof value === 'string' && /^[A-Z]{2}$/.test(value))

const fromField = yup.lazy((value: unknown) => {
  if (Array.isArray(value)) return list(500, needed(keyField(), 'the key of a location'), 'locations').min(1, 'at least one location')
  if (value === undefined || value === 'all') return yup.mixed()
  if (value === null || typeof value !== 'object') return yup.mixed().test('from', 'all, a list of locations, or { networks: […], countries: […] }', () => false)
  return exactly({
    networks: list(100, needed(textField(100), 'a type of network or a provider'), 'networks').min(1, 'at least one network'),
    countries: list(100, countryField(), 'countries').min(1, 'at least one country')
  }).test('some-part', 'networks or countries', (given) => Object.values(given).some((each) => each !== undefined))
})

const hoursField = yup.lazy((value: unknown) => value === undefined || value === 'always' ? yup.mixed() : exactly({
  at: needed(list(14, yup.mixed<string>().test('hours', 'days and times such as mon-fri 06:00-22:00', (text) => typeof text === 'string' && parseHours(text) !== undefined), 'stretches').min(1, 'at least one stretch') as never, 'a list of days and times'),
  zone: yup.mixed<string>().test('zone', 'an IANA time zone such as Europe/Oslo', (zone) => zone === undefined || (typeof zone === 'string' && isZone(zone)))
}))

const windowField = yup.lazy((value: unknown) => value === undefined || value === 'none' ? yup.mixed() : exactly({
  only: flagField(), every: durationField(CADENCE.shortest, CADENCE.longest)
}).test('some-part', 'only: true, or every: with a shorter cadence', (given) => given.only === true || given.every !== undefined))

const aboveField = () => yup.mixed<string>().test('above', 'usual, or a duration such as 900ms', (value) =>
  value === undefined || value === 'usual' || durationField(1, HOUR).isValidSync(value))

const slowField = (sparse: boolean) => yup.lazy((value: unknown) => value === undefined || value === 'none' ? yup.mixed() : exactly({
  phase: choiceField(['total', ...PHASES]), above: sparse ? aboveField() : needed(aboveField(), 'usual, or a duration such as 900ms'),
  spreads: numberField().test('spreads', 'a number from 2 to 50', (given) => given === undefined || (given >= 2 && given <= 50)),
  for: durationField(0, DAY), locations: countField(1, 100),
  margin: shareField().test('margin', 'a share from 0% to 90%', (given) => given === undefined || Number(String(given).replace('%', '')) <= 90)
}).test('spreads-of-usual', 'spreads only with above: usual', (given) => sparse || given.spreads === undefined || given.above === 'usual'))

const downField = (sparse: boolean) => exactly({
  tries: countField(1, 10), of: countField(2, 20), apart: durationField(1000, HOUR), locations: countField(1, 100)
}).default(undefined).test('of-covers-tries', 'of to be larger than tries', (value) => {
  const { tries, of } = (value ?? {}) as { tries?: number; of?: number }
  return of === undefined || (sparse && tries === undefined) || of > (tries ?? 2)
})

/** Variables by name, values as text; and the names of secrets, whose values are set apart. */
export const variableFields = () => ({
  variables: yup.mixed().test('variables', 'names such as BASE (letters, digits, _) with their values as text', (value) => {
    if (value === undefined) return true
    if (value === null || typeof value !== 'object' || Array.isArray(value) || Object.keys(value).length > VARIABLES_MOST) return false
    return Object.entries(value).every(([name, text]) => isVariableName(name) && typeof text === 'string' && text.length <= 8000)
  }),
  secrets: yup.mixed().test('secrets', 'a list of names such as BOOKING_TOKEN', (value) =>
    value === undefined || (Array.isArray(value) && value.length <= VARIABLES_MOST && value.every((name) => typeof name === 'string' && isVariableName(name))))
})

/** What a check, a service and the workspace can all say; the nearer one counts. `sparse`: parts may come from further away. */
export const sharedFields = (sparse: boolean) => ({
  importance: choiceField(IMPORTANCES),
  every: durationField(CADENCE.shortest, CADENCE.longest),
  from: fromField,
  turns: choiceField(['together', 'in-turn']),
  wait: durationField(WAIT.shortest, WAIT.longest),
  down: downField(sparse),
  up: exactly({ tries: countField(1, 10) }).default(undefined),
  slow: slowField(sparse),
  hours: hoursField,
  window: windowField
})

export const conditionsField = (subjects?: Subjects) => list(CONDITIONS_MOST, conditionSchema(subjects), 'conditions')
export const tagsField = () => list(TAGS_MOST, needed(textField(50), 'a tag'), 'tags')

/** Schemas that were built, by the kinds they know: building one costs more than using it. */
const built = new WeakMap<Kinds, Map<string, yup.Schema>>()

/** The schema of a check's written form, with every kind given. Its kind is one of its keys. */
export function checkSchema(kinds: Kinds, sparse = false) {
  const own = built.get(kinds) ?? new Map<string, yup.Schema>()
  built.set(kinds, own)
  return yup.lazy((document: unknown) => {
    const given = document !== null && typeof document === 'object' && !Array.isArray(document)
      ? Object.keys(document).filter((key) => key in kinds) : []
    const key = `${given.join()}/${sparse}`
    const schema = own.get(key) ?? schemaFor(kinds, given, sparse)
    own.set(key, schema)
    return schema
  })
}

function schemaFor(kinds: Kinds, given: string[], sparse: boolean): yup.Schema {
  return exactly({
    check: needed(keyField(), 'the key of the check'),
    name: needed(textField(200), 'a name of 1 to 200 characters'),
    service: keyField(),
    tags: tagsField(),
    needs: list(NEEDS_MOST, needed(keyField(), 'the key of a check'), 'needs'),
    ...sharedFields(sparse),
    ...variableFields(),
    ...Object.fromEntries(given.map((kind) => [kind, kinds[kind]!.schema])),
    pass: conditionsField(subjectsOf(kinds, given[0])),
    without: list(CONDITIONS_MOST, needed(textField(600), 'the subject of a common condition'), 'conditions'),
    turned: flagField()
  }).test('one-kind', `exactly one kind of check: ${Object.keys(kinds).join(', ')}`, () => given.length === 1)
}
