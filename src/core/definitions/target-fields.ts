import ipaddr from 'ipaddr.js'
import * as yup from 'yup'
import { refersToVariables } from '../layers/variables'
import { formatDuration, parseDuration, readSpokenDuration, speakDuration } from './duration'
import { choiceField, countField, durationField, flagField, needed, sizeField } from './fields'
import { formatSize, parseSize } from './size'

/** How the editor asks for a field that does not stand in the sentence. */
export interface FormField {
  name: string
  label: string
  as: 'text' | 'secret' | 'lines' | 'choice' | 'flag'
  offers?: readonly string[]
  /** Its text, as the form shows it; empty when it is not set. */
  speak: (value: unknown) => string
  /** Reads what was typed; empty text gives undefined, which takes the field away. */
  typed: (text: string) => unknown
}

/** One field of a kind's target: how it is written, read, said and typed. */
export interface TargetField<Value> {
  schema: yup.Schema
  /** The same as JSON Schema. */
  json: object
  isNeeded?: boolean
  /** What is read when nothing is written; a field without it may be missing. */
  otherwise?: Value
  read: (written: unknown) => Value
  write: (value: Value) => unknown
  speak: (value: Value) => string
  typed: (text: string) => Value | { expected: string }
  label: string
  as: FormField['as']
  offers?: readonly string[]
}

type Test = (value: string) => boolean

const byDefault = (otherwise: unknown) => (otherwise === undefined ? {} : { default: otherwise })

function tested(expected: string, fits: Test, isNeeded: boolean) {
  const field = yup.mixed<string>().test('text', expected, (value) => value === undefined || (typeof value === 'string' && fits(value)))
  return isNeeded ? needed(field, expected) : field
}

function textual(label: string, expected: string, fits: Test, { isNeeded = false, as = 'text' as FormField['as'], otherwise = undefined as string | undefined } = {}): TargetField<string> {
  return {
    schema: tested(expected, fits, isNeeded), json: { type: 'string', description: expected }, isNeeded, ...(otherwise === undefined ? {} : { otherwise }), read: String, write: (value) => value, speak: (value) => value, label, as,
    typed: (text) => (refersToVariables(text) || fits(text) ? text : { expected })
  }
}

const HOST = /^(?=.{1,253}$)(?:[\p{L}\p{N}_](?:[\p{L}\p{N}_-]{0,61}[\p{L}\p{N}_])?\.)*[\p{L}\p{N}_](?:[\p{L}\p{N}_-]{0,61}[\p{L}\p{N}_])?\.?$/u

/** Whether a text is a host name or an address, without a port. */
export const isHost: Test = (text) => HOST.test(text) || (!text.includes('%') && ipaddr.IPv6.isValid(text))

/** A name or an address, without a port; always needed. */
export const hostTarget = (label = 'host') => textual(label, 'a host such as www.example.org or 192.0.2.1', isHost, { isNeeded: true })

/** Text of limited length. */
export function textTarget(label: string, options: { most?: number; isNeeded?: boolean; as?: FormField['as']; otherwise?: string; expected?: string; fits?: Test } = {}): TargetField<string> {
  const most = options.most ?? 1000
  return textual(label, options.expected ?? `text of 1 to ${most} characters`, (text) => text.length > 0 && text.length <= most && (options.fits?.(text) ?? true), options)
}

/** A password or another credential: hidden in forms, cut out of everything that is recorded. */
export const secretTarget = (label = 'password') => textTarget(label, { as: 'secret' })

/** A whole number within limits; as text it may be a variable. */
export function countTarget(label: string, least: number, most: number, otherwise?: number): TargetField<number> {
  const expected = `a whole number from ${least} to ${most}`
  const field = countField(least, most)
  const fits = (value: unknown) => value === undefined || field.isValidSync(typeof value === 'string' && /^\d{1,9}$/.test(value) ? Number(value) : value)
  return {
    schema: yup.mixed().test('count', expected, fits), json: { type: 'integer', minimum: least, maximum: most, ...byDefault(otherwise) },
    ...(otherwise === undefined ? {} : { otherwise }), label, as: 'text', speak: String,
    read: (written) => (refersToVariables(written) ? written as number : Number(written)), write: (value) => value,
    typed: (text) => (refersToVariables(text) ? text as unknown as number : /^\d{1,9}$/.test(text) && fits(text) ? Number(text) : { expected })
  }
}

/** A port, with the one that the protocol usually has. */
export const portTarget = (otherwise?: number) => countTarget('port', 1, 65_535, otherwise)

export function flagTarget(label: string, otherwise = false): TargetField<boolean> {
  return {
    schema: flagField(), json: { type: 'boolean', ...byDefault(otherwise) }, otherwise, read: (written) => written === true, write: (value) => value, speak: (value) => (value ? 'yes' : 'no'), label, as: 'flag',
    typed: (text) => (text === 'yes' ? true : text === 'no' ? false : { expected: 'yes or no' })
  }
}

export function choiceTarget<Choice extends string>(label: string, choices: readonly Choice[], otherwise?: Choice): TargetField<Choice> {
  return {
    schema: choiceField(choices), json: { type: 'string', enum: [...choices], ...byDefault(otherwise) }, ...(otherwise === undefined ? {} : { otherwise }), read: (written) => written as Choice, write: (value) => value, speak: String, label, as: 'choice', offers: choices,
    typed: (text) => choices.find((choice) => choice.toLowerCase() === text.trim().toLowerCase()) ?? { expected: `one of ${choices.join(', ')}` }
  }
}

export function durationTarget(label: string, shortest: number, longest: number, otherwise?: number): TargetField<number> {
  return {
    schema: durationField(shortest, longest), json: { type: 'string', examples: [formatDuration(otherwise ?? shortest)] }, ...(otherwise === undefined ? {} : { otherwise }), read: (written) => parseDuration(String(written))!, write: formatDuration, speak: speakDuration, label, as: 'text',
    typed: (text) => {
      const written = readSpokenDuration(text)
      return written !== undefined && durationField(shortest, longest).isValidSync(written) ? parseDuration(written)! : { expected: `a duration from ${speakDuration(shortest)} to ${speakDuration(longest)}` }
    }
  }
}

export function sizeTarget(label: string, otherwise?: number): TargetField<number> {
  return {
    schema: sizeField(), json: { type: 'string', examples: ['20kB'] }, ...(otherwise === undefined ? {} : { otherwise }), read: (written) => parseSize(String(written))!, write: formatSize, speak: formatSize, label, as: 'text',
    typed: (text) => parseSize(text) ?? { expected: 'a size such as 20kB' }
  }
}

/** A list of texts; typed with commas between. */
export function listTarget(label: string, options: { most?: number; isNeeded?: boolean; fits?: Test; expected?: string } = {}): TargetField<string[]> {
  const { most = 50, isNeeded = false, fits = (text: string) => text.length > 0 && text.length <= 1000, expected = `a list of at most ${options.most ?? 50} texts` } = options
  const field = yup.mixed().test('list', expected, (value) => value === undefined || (Array.isArray(value) && value.length > 0 && value.length <= most && value.every((each) => typeof each === 'string' && fits(each))))
  return {
    schema: isNeeded ? needed(field as never, expected) : field, json: { type: 'array', items: { type: 'string' } }, isNeeded, read: (written) => written as string[], write: (value) => value, speak: (value) => value.join(', '), label, as: 'text',
    typed: (text) => {
      const list = text.split(',').map((each) => each.trim()).filter((each) => each !== '')
      return list.length > 0 && list.length <= most && list.every(fits) ? list : { expected }
    }
  }
}
