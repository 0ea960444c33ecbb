import * as yup from 'yup'
import { parseDuration, formatDuration } from './duration'
import { parseSize } from './size'
import { parseShare } from './share'
import { parseStatusSet } from './status-set'
import { parseHours } from '../hours/hours'
import { readLocal } from '../time/zoned'

/** Yup fields of the written form. Their messages are the `expected …` half of a problem. */

const isText = (value: unknown): value is string => typeof value === 'string'

/** A duration between two others, both included. */
export function durationField(shortest: number, longest: number) {
  const expected = `a duration from ${formatDuration(shortest)} to ${formatDuration(longest)}, such as 30s or 5m`
  return yup.mixed<string>().test('duration', expected, (value) => {
    if (value === undefined) return true
    const read = isText(value) ? parseDuration(value) : undefined
    return read !== undefined && read >= shortest && read <= longest
  })
}

export function sizeField() {
  return yup.mixed<string>().test('size', 'a size such as 20kB or 3MB', (value) =>
    value === undefined || (isText(value) && parseSize(value) !== undefined))
}

export function shareField() {
  return yup.mixed<string>().test('share', 'a share such as 99.9%', (value) =>
    value === undefined || (isText(value) && parseShare(value) !== undefined))
}

export function statusField() {
  return yup.mixed().test('status', 'status codes such as 200, 200-299 or [200, 301-308]', (value) =>
    value === undefined || parseStatusSet(value) !== undefined)
}

export function textField(most = 2000) {
  return yup.mixed<string>().test('text', `text of 1 to ${most} characters`, (value) =>
    value === undefined || (isText(value) && value.length > 0 && value.length <= most))
}

export function keyField() {
  return yup.mixed<string>().test('key', 'a key of lower-case letters, digits and hyphens, at most 100 characters', (value) =>
    value === undefined || (isText(value) && /^[a-z0-9](?:[a-z0-9-]{0,98}[a-z0-9])?$/.test(value)))
}

export function countField(least: number, most: number) {
  return yup.mixed<number>().test('count', `a whole number from ${least} to ${most}`, (value) =>
    value === undefined || (Number.isInteger(value) && Number(value) >= least && Number(value) <= most))
}

export function numberField() {
  return yup.mixed<number>().test('number', 'a number', (value) =>
    value === undefined || (typeof value === 'number' && Number.isFinite(value)))
}

export function flagField() {
  return yup.mixed<boolean>().test('flag', 'true or false', (value) => value === undefined || typeof value === 'boolean')
}

export function choiceField<Choice extends string>(choices: readonly Choice[]) {
  const expected = `one of ${choices.join(', ')}`
  return yup.mixed<Choice>().test('choice', expected, (value) => value === undefined || choices.includes(value as Choice))
}

export function patternField() {
  return yup.mixed<string>().test('pattern', 'an ECMAScript regular expression', (value) => {
    if (value === undefined) return true
    if (!isText(value) || value.length === 0 || value.length > 1000) return false
    try {
      return Boolean(new RegExp(value, 'u'))
    } catch {
      return false
    }
  })
}

/** A time on the clock of a zone that stands elsewhere. */
export function localField() {
  return yup.mixed<string>().test('local', 'a local time such as 2026-11-24T02:00', (value) => value === undefined || (isText(value) && readLocal(value) !== undefined))
}

/** One stretch of hours of the week, or several. */
export function weekHoursField() {
  return yup.mixed().test('hours', 'hours such as mon-fri 08:00-18:00', (value) => value === undefined || [value].flat().every((each) => isText(each) && parseHours(each) !== undefined))
}

/** Makes a field required, with the same message as when it is wrong. */
export function needed<Field extends yup.MixedSchema<never> | yup.MixedSchema>(field: Field, expected: string): Field {
  return field.test('needed', expected, (value: unknown) => value !== undefined && value !== null) as Field
}
