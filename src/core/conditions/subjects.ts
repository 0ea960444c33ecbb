import type { Kinds } from '../definitions/kind'
import { COMMON_SUBJECTS, type Subjects } from './subject'

const known = new WeakMap<Kinds, Map<string, Subjects>>()

/** What conditions of a kind can be about; without a kind, what conditions of any kind can be about. The same object each time. */
export function subjectsOf(kinds: Kinds, kind?: string): Subjects {
  const own = known.get(kinds) ?? new Map<string, Subjects>()
  known.set(kinds, own)
  const key = kind !== undefined && kind in kinds ? kind : ''
  const found = own.get(key) ?? make(kinds, key)
  own.set(key, found)
  return found
}

function make(kinds: Kinds, kind: string): Subjects {
  const one = kinds[kind]
  if (one) return { common: new Set([...one.subjects, 'phase']), readings: one.readings, facts: one.facts }
  return {
    common: new Set(COMMON_SUBJECTS),
    readings: Object.assign({}, ...Object.values(kinds).map((each) => each.readings)) as Subjects['readings'],
    facts: Object.assign({}, ...Object.values(kinds).map((each) => each.facts)) as Subjects['facts']
  }
}
