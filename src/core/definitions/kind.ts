import type * as yup from 'yup'
import type { Sentence } from '../sentence/sentence'

/**
 * What a kind of check says about itself. A kind lives in a folder of its own under src/kinds and is
 * listed in one registry line; nothing else needs to know it.
 */
export interface KindDefinition<Target = unknown> {
  /** The key in definitions and the word in the interface. */
  kind: string
  /** One sentence each. */
  proves: string
  doesNotProve: string
  /** The written form of the target, validated strictly. */
  schema: yup.Schema
  /** Reads what the schema has accepted. */
  read: (written: Record<string, unknown>) => Target
  /** Writes the target so that `read` reads it back; defaults are left out. */
  write: (target: Target) => Record<string, unknown>
  /** The beginning of the check's sentence, up to the cadence: “Fetch https://…”. */
  sentence: (target: Target) => Sentence
  /** Reads what a person typed into a part of that sentence; undefined when the part is not the kind's. */
  readPart: (target: Target, path: string, text: string) => Target | { expected: string } | undefined
  /** The address in tables. */
  address: (target: Target) => string
  /** Takes an address as people paste it, when it is one of this kind's. */
  guess: (text: string) => { written: Record<string, unknown>; address: string; name: string } | undefined
  /** Requests that one observation sends to the target. */
  requests: (target: Target) => number
  /** Conditions a new check starts with. */
  firstConditions: (target: Target) => Record<string, unknown>[]
}

export type Kinds = Record<string, KindDefinition<never>>
