import * as yup from 'yup'
import { keyField, needed, textField } from '../definitions/fields'
import { exactly, problemsOf } from '../definitions/problems-of'
import type { Problem } from '../problems'
import type { Team } from './reach'

const teamSchema = exactly({
  team: needed(keyField(), 'the key of the team'),
  name: needed(textField(200), 'a name of 1 to 200 characters'),
  people: yup.array().of(keyField() as never).max(200, 'at most 200 people').required('the keys of its people').typeError('a list of keys of people')
})

/** Reads a team's written form; everyone in it must exist. A team may be empty until a route tells it. */
export function readTeam(document: unknown, people: ReadonlySet<string>): { team: Team } | { problems: Problem[] } {
  const problems = problemsOf(teamSchema, document)
  if (problems.length > 0) return { problems }
  const { team, name, people: members } = document as { team: string; name: string; people: string[] }
  const unknown = members.flatMap((key, index): Problem[] => (people.has(key) ? [] : [{ path: `people[${index}]`, found: `"${key}"`, expected: 'the key of a person' }]))
  return unknown.length > 0 ? { problems: unknown } : { team: { key: team, name, people: members } }
}
