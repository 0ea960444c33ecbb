import type { Document } from 'yaml'
import type { Problem } from '../problems'

/** The value of a YAML document; one whose aliases would grow without end is a problem instead. */
export function yamlValue(document: Document): { value: unknown } | { problem: Problem } {
  try {
    return { value: document.toJS({ maxAliasCount: 100 }) as unknown }
  } catch {
    return { problem: { path: '', found: 'aliases that repeat one another without end', expected: 'a document that holds what it says' } }
  }
}
