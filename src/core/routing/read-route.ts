import * as yup from 'yup'
import { IMPORTANCES } from '../definitions/check'
import { choiceField, countField, durationField, flagField, keyField, needed, weekHoursField } from '../definitions/fields'
import { exactly, problemsOf } from '../definitions/problems-of'
import { TROUBLES } from '../incidents/incident'
import type { Problem } from '../problems'
import { DAY, MINUTE } from '../units'
import { MEANS } from './means'
import { acceptedRoute, type Route, type RouteDocument } from './route'

const isTexts = (value: unknown): value is string[] => Array.isArray(value) && value.length > 0 && value.length <= 200 && value.every((each) => typeof each === 'string' && each.length > 0 && each.length <= 200)

/** One value or a list of values. */
const listField = (what: string) => yup.mixed().test('list', what, (value) => value === undefined || isTexts([value].flat()))
const choicesField = (choices: readonly string[]) => yup.mixed().test('choices', `one or more of ${choices.join(', ')}`, (value) => value === undefined || (isTexts([value].flat()) && [value].flat().every((each) => choices.includes(each as string))))

const whenSchema = exactly({
  importance: choicesField(IMPORTANCES), state: choicesField(TROUBLES),
  service: listField('keys of services'), stage: listField('stages'), client: listField('keys of clients'), tag: listField('tags'), kind: listField('kinds of checks'),
  check: listField('keys of checks'), location: listField('keys of locations'), network: listField('names of networks'), metric: listField('names of numbers'), lasting: durationField(MINUTE, 7 * DAY), places: countField(1, 1000), hours: weekHoursField()
})

const stepSchema = exactly({
  tell: needed(listField('whom to tell, such as rota/ticketing'), 'whom to tell, such as rota/ticketing'),
  by: choicesField(MEANS), after: durationField(0, 7 * DAY), unless: choiceField(['taken']), again: durationField(MINUTE, 7 * DAY), during: choiceField(['working-hours'])
})

const routeSchema = exactly({
  route: needed(keyField(), 'the key of the route'),
  place: needed(countField(1, 10_000), 'its place in the order, from 1'),
  when: whenSchema.default(undefined),
  then: yup.array().of(stepSchema).min(1, 'at least one step').max(20, 'at most 20 steps').required('at least one step').typeError('a list of steps'),
  goOn: flagField(), urgent: flagField(), recovery: choiceField(['told', 'nobody']), notTwiceIn: durationField(MINUTE, 7 * DAY)
})

/** What a route may name. Teams come with how many people they have. */
export interface Addressable {
  people: ReadonlySet<string>
  teams: ReadonlyMap<string, number>
  rotas: ReadonlySet<string>
  channels: ReadonlySet<string>
}

/** Reads a route's written form; whom it tells must exist, and a team must have someone in it. */
export function readRoute(document: unknown, known: Addressable): { route: Route } | { problems: Problem[] } {
  const problems = problemsOf(routeSchema, document)
  if (problems.length > 0) return { problems }
  const route = acceptedRoute(document as RouteDocument)
  const wrong = route.then.flatMap(({ tell }, step) => tell.flatMap((each): Problem[] => {
    const expected = addressProblem(each, known)
    return expected === undefined ? [] : [{ path: `then[${step}].tell`, found: `"${each}"`, expected }]
  }))
  return wrong.length > 0 ? { problems: wrong } : { route }
}

function addressProblem(tell: string, known: Addressable): string | undefined {
  if (tell === 'everyone') return undefined
  const [kind, key = ''] = tell.split('/')
  switch (kind) {
    case 'rota': return known.rotas.has(key) ? undefined : 'the key of a rota that exists'
    case 'team': return !known.teams.has(key) ? 'the key of a team that exists' : known.teams.get(key) === 0 ? 'a team with at least one person' : undefined
    case 'person': return known.people.has(key) ? undefined : 'the key of a person'
    case 'channel': return known.channels.has(key) ? undefined : 'the key of a channel of the workspace'
    default: return 'rota/…, team/…, person/…, channel/… or everyone'
  }
}
