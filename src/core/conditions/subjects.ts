import type { Kinds } from '../definitions/kind'
import { COMMON_SUBJECTS, type Subjects } from './subject'

const all = new WeakMap<Kinds, Subjects>()

/** What conditions of a kind can be about; without a kind, what conditions of any kind can be about. */
export function subjectsOf(kinds: Kinds, kind?: string): Subjects {
  const one = kind === undefined ? undefined : kinds[kind]
  if (one) return { common: new Set([...one.subjects, 'phase']), readings: one.readings, facts: one.facts }
  const known = all.get(kinds) ?? {
    common: new Set(COMMON_SUBJECTS),
    readings: Object.assign({}, ...Object.values(kinds).map((each) => each.readings)) as Subjects['readings'],
    facts: Object.assign({}, ...Object.values(kinds).map((each) => each.facts)) as Subjects['facts']
  }
  all.set(kinds, known)
  return known
}
