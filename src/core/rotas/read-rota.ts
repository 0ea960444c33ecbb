import * as yup from 'yup'
import { keyField, localField, needed, textField, weekHoursField } from '../definitions/fields'
import { exactly, problemsOf } from '../definitions/problems-of'
import { ruleProblem } from '../planned/recurrence'
import type { Problem } from '../problems'
import { isZone, readLocal } from '../time/zoned'
import { acceptedRota, type Rota, type RotaDocument } from './rota'

const MOST_PEOPLE = 100

const layerSchema = exactly({
  people: needed(yup.mixed().test('people', `the keys of 1 to ${MOST_PEOPLE} people`, (value) => value === undefined || (Array.isArray(value) && value.length > 0 && value.length <= MOST_PEOPLE && value.every((each) => typeof each === 'string'))), 'the keys of the people who take turns'),
  from: needed(localField(), 'the first hand-over, such as 2026-11-02T08:00'),
  every: needed(yup.mixed().test('every', 'day, week, or an RRULE (RFC 5545)', (value, context) => {
    if (value === undefined || value === 'day' || value === 'week') return true
    const problem = typeof value === 'string' && value.length <= 300 ? ruleProblem(value) : 'day, week, or an RRULE (RFC 5545)'
    return problem === undefined || context.createError({ message: `day, week, or ${problem.replace(/^an? /, 'an ')}` })
  }), 'day, week, or an RRULE (RFC 5545)'),
  hours: weekHoursField()
})

const coverSchema = exactly({
  from: needed(localField(), 'when it begins'), to: needed(localField(), 'when it ends'), person: needed(keyField(), 'the key of a person')
})

const rotaSchema = exactly({
  rota: needed(keyField(), 'the key of the rota'),
  name: needed(textField(200), 'a name of 1 to 200 characters'),
  zone: needed(textField(60).test('zone', 'an IANA time zone such as Europe/Oslo', (value) => value === undefined || isZone(String(value))), 'an IANA time zone such as Europe/Oslo'),
  layers: yup.array().of(layerSchema).min(1, 'at least one layer with people').max(10, 'at most 10 layers').required('at least one layer with people').typeError('a list of layers'),
  cover: yup.array().of(coverSchema).max(500, 'at most 500 stretches of cover').typeError('a list of stretches of cover')
})

/**
 * Reads a rota's written form.
 * @param people keys of everyone there is; others are mistakes
 */
export function readRota(document: unknown, people: ReadonlySet<string>): { rota: Rota } | { problems: Problem[] } {
  const problems = problemsOf(rotaSchema, document)
  if (problems.length > 0) return { problems }
  const rota = acceptedRota(document as RotaDocument)
  const unknown = (path: string, key: string): Problem[] => (people.has(key) ? [] : [{ path, found: `"${key}"`, expected: 'the key of a person' }])
  const more = [
    ...rota.layers.flatMap((layer, index) => layer.people.flatMap((key, place) => unknown(`layers[${index}].people[${place}]`, key))),
    ...rota.cover.flatMap((cover, index) => [
      ...unknown(`cover[${index}].person`, cover.person),
      ...(readLocal(cover.to)! > readLocal(cover.from)! ? [] : [{ path: `cover[${index}].to`, found: `"${cover.to}"`, expected: 'an end after the beginning' }])
    ])
  ]
  return more.length > 0 ? { problems: more } : { rota }
}
