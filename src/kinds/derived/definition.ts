import * as yup from 'yup'
import { describeKind } from '../../core/definitions/describe-kind'
import { formatShare, parseShare } from '../../core/definitions/share'
import { listTarget, type TargetField } from '../../core/definitions/target-fields'
import { weightNeeded, type Least } from '../../core/derived/judge-members'
import { say } from '../../core/sentence/sentence'

export interface DerivedTarget {
  of: string[]
  least: Least
  warn?: Least
  weights?: Record<string, number>
}

const KEY = /^[a-z0-9](?:[a-z0-9-]{0,98}[a-z0-9])?$/
const LEAST = 'all, any, a number, or a share such as 60%'

function readLeast(written: unknown): Least | undefined {
  if (written === 'all' || written === 'any') return written
  if (typeof written === 'number') return Number.isFinite(written) && written > 0 && written <= 1e6 ? written : undefined
  const share = typeof written === 'string' ? parseShare(written) : undefined
  return share === undefined || share <= 0 || share > 1 ? undefined : { share }
}

const writeLeast = (least: Least) => (typeof least === 'object' ? formatShare(least.share) : least)

function leastTarget(label: string, otherwise?: Least): TargetField<Least> {
  return {
    label, as: 'text', offers: ['all', 'any', '2', '60%'], ...(otherwise === undefined ? {} : { otherwise }), json: { description: LEAST, examples: ['all', 2, '60%'] },
    schema: yup.mixed().test('least', LEAST, (value) => value === undefined || readLeast(value) !== undefined), read: (written) => readLeast(written)!, write: writeLeast, speak: (least) => String(writeLeast(least)),
    typed: (text) => readLeast(/^\d+(\.\d+)?$/.test(text) ? Number(text) : text.replace(/\s*%$/, '%')) ?? { expected: LEAST }
  }
}

const WEIGHTS = 'weights by key, such as ns-one=2, ns-two=1'
const areWeights = (value: unknown): value is Record<string, number> => value !== null && typeof value === 'object' && !Array.isArray(value) &&
  Object.entries(value).every(([key, weight]) => KEY.test(key) && typeof weight === 'number' && weight > 0 && weight <= 1e6)

const weightsTarget: TargetField<Record<string, number>> = {
  label: 'weights', as: 'text', json: { type: 'object', additionalProperties: { type: 'number', exclusiveMinimum: 0 } }, schema: yup.mixed().test('weights', WEIGHTS, (value) => value === undefined || areWeights(value)),
  read: (written) => written as Record<string, number>, write: (weights) => weights, speak: (weights) => Object.entries(weights).map(([key, weight]) => `${key}=${weight}`).join(', '),
  typed: (text) => {
    const weights = Object.fromEntries(text.split(',').map((each) => each.split('=').map((part) => part.trim())).map(([key = '', weight = '']) => [key, Number(weight || Number.NaN)]))
    return areWeights(weights) ? weights : { expected: WEIGHTS }
  }
}

const keysIn = (written: Record<string, unknown>): string[] => (Array.isArray(written.of) ? (written.of as unknown[]).filter((key) => typeof key === 'string') : [])

export const derivedDefinition = describeKind<DerivedTarget>({
  kind: 'derived',
  name: 'several checks judged together',
  family: 'derived',
  proves: 'Enough of some checks are up: all of them, any, so many, or so much by weight.',
  doesNotProve: 'More than those checks prove; what is paused, worked on or without data counts neither way.',
  fields: {
    of: listTarget('checks', { most: 100, isNeeded: true, fits: (key) => KEY.test(key), expected: 'a list of 1 to 100 keys of checks' }),
    least: leastTarget('how many must be up', 'all'), warn: leastTarget('warn below'), weights: weightsTarget
  },
  blank: { of: ['no-check-yet'] },
  addressField: 'of',
  inSentence: ['of', 'least'],
  together: (schema) => schema.test('fits', 'least and warn within what the checks come to, each check once', (value) => {
    const { of, least, warn, weights } = value as { of?: unknown; least?: unknown; warn?: unknown; weights?: unknown }
    if (!Array.isArray(of)) return true
    const all = of.map((key) => (areWeights(weights) ? weights[String(key)] ?? 1 : 1))
    const whole = all.reduce((sum, each) => sum + each, 0)
    const fits = (each: unknown) => each === undefined || readLeast(each) === undefined || weightNeeded(readLeast(each)!, all) <= whole
    return new Set(of).size === of.length && fits(least) && fits(warn) && (!areWeights(weights) || Object.keys(weights).every((key) => of.includes(key)))
  }),
  sentence: (target, part) => [
    say('Judge '), part('of', { look: 'code' }), say(' together: '), part('least'), say(target.of.length === 1 ? ' must be up' : ` of ${target.of.length} must be up`), ...(target.warn === undefined ? [] : [say(`, warn below ${String(writeLeast(target.warn))}`)])
  ],
  address: ({ of }) => of.join(', '),
  guess: () => undefined,
  requests: () => 0,
  offers: [{ name: 'few are down', written: { bad: { max: 1, warn: 0 } } }],
  readings: { good: { unit: 'number', says: 'number that are up' }, bad: { unit: 'number', says: 'number that are down' }, open: { unit: 'number', says: 'number of which nothing is known' } },
  telling: ['good', 'bad'],
  facts: { down: { says: 'check that is down', many: 'checks that are down' } },
  phases: [],
  inside: () => true,
  members: keysIn,
  renamed: (written, keys) => {
    const next = (key: string) => keys.get(key) ?? key
    const { of, weights } = written
    return {
      ...written, ...(Array.isArray(of) ? { of: of.map((key) => next(String(key))) } : {}),
      ...(areWeights(weights) ? { weights: Object.fromEntries(Object.entries(weights).map(([key, weight]) => [next(key), weight])) } : {})
    }
  }
})
