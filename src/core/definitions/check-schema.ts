import * as yup from 'yup'
import { conditionSchema } from '../conditions/condition-schema'
import { PHASES } from '../observation'
import { DAY, HOUR } from '../units'
import { CADENCE, IMPORTANCES, WAIT } from './check'
import { choiceField, countField, durationField, flagField, keyField, needed, textField } from './fields'
import type { Kinds } from './kind'
import { exactly } from './problems-of'

const CONDITIONS_MOST = 50
const TAGS_MOST = 30

const list = (most: number, of: yup.Schema | yup.Lazy<unknown>, what: string) =>
  yup.array(of as yup.Schema).typeError(`a list of ${what}`).max(most, `at most ${most} ${what}`)

const fromField = yup.lazy((value: unknown) => Array.isArray(value)
  ? list(500, needed(keyField(), 'the key of a location'), 'locations').min(1, 'at least one location')
  : yup.mixed().test('from', 'all, or a list of locations', (given) => given === undefined || given === 'all'))

const downSchema = exactly({
  tries: countField(1, 10), of: countField(2, 20), apart: durationField(1000, HOUR), locations: countField(1, 100)
}).default(undefined).test('of-covers-tries', 'of to be larger than tries', (value) => {
  const { tries, of } = (value ?? {}) as { tries?: number; of?: number }
  return of === undefined || of > (tries ?? 2)
})

/** The schema of a check's written form, with every kind given. Its kind is one of its keys. */
export function checkSchema(kinds: Kinds) {
  return yup.lazy((document: unknown) => {
    const given = document !== null && typeof document === 'object' && !Array.isArray(document)
      ? Object.keys(document).filter((key) => key in kinds) : []
    const kindFields = Object.fromEntries(given.map((kind) => [kind, kinds[kind]!.schema]))
    return exactly({
      check: needed(keyField(), 'the key of the check'),
      name: needed(textField(200), 'a name of 1 to 200 characters'),
      service: keyField(),
      tags: list(TAGS_MOST, needed(textField(50), 'a tag'), 'tags'),
      importance: choiceField(IMPORTANCES),
      ...kindFields,
      every: durationField(CADENCE.shortest, CADENCE.longest),
      from: fromField,
      wait: durationField(WAIT.shortest, WAIT.longest),
      pass: list(CONDITIONS_MOST, conditionSchema, 'conditions'),
      turned: flagField(),
      down: downSchema,
      up: exactly({ tries: countField(1, 10) }).default(undefined),
      slow: exactly({
        phase: choiceField(['total', ...PHASES]), above: needed(durationField(1, HOUR), 'a duration such as 900ms'),
        for: durationField(0, DAY), locations: countField(1, 100)
      }).default(undefined)
    }).test('one-kind', `exactly one kind of check: ${Object.keys(kinds).join(', ')}`, () => given.length === 1)
  })
}
