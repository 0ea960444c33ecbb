import type * as yup from 'yup'
import type { CommonSubject, Fact, Reading } from '../conditions/subject'
import type { Phase } from '../observation'
import type { Sentence } from '../sentence/sentence'
import type { Milliseconds } from '../units'
import type { FormField } from './target-fields'

export const FAMILIES = ['web', 'network', 'services', 'inside', 'derived'] as const

/**
 * What a kind of check says about itself. A kind lives in a folder of its own under src/kinds and is
 * listed in one registry line; nothing else needs to know it.
 */
export interface KindDefinition<Target = unknown> {
  /** The key in definitions and the word in the interface. */
  kind: string
  /** What it asks, in a few words: “one HTTP request”. */
  name: string
  family: (typeof FAMILIES)[number]
  /** One sentence each. */
  proves: string
  doesNotProve: string
  /** The written form of the target, validated strictly. */
  schema: yup.Schema
  /** The same as JSON Schema, for the description of the API. */
  jsonSchema: object
  /** Reads what the schema has accepted. */
  read: (written: Record<string, unknown>) => Target
  /** Writes the target so that `read` reads it back; defaults are left out. */
  write: (target: Target) => Record<string, unknown>
  /** The written form of a target that goes nowhere yet: its address is one under `.invalid`. */
  blank: Record<string, unknown>
  /** The beginning of the check's sentence, up to the cadence: “Fetch https://…”. */
  sentence: (target: Target) => Sentence
  /** Reads what a person typed into a part of that sentence; undefined when the part is not the kind's. */
  readPart: (target: Target, path: string, text: string) => Target | { expected: string } | undefined
  /** The part of the sentence that holds the address. */
  addressPart: string
  /** The address in tables. */
  address: (target: Target) => string
  /** Takes an address as people paste it, when it is one of this kind's. */
  guess: (text: string) => { written: Record<string, unknown>; address: string; name: string } | undefined
  /** What the editor offers to set beside the sentence; a kind with none has a form of its own. */
  form: FormField[]
  /** Requests that one observation sends to the target. */
  requests: (target: Target) => number
  /** Conditions a new check starts with. */
  firstConditions: (target: Target) => Record<string, unknown>[]
  /** Conditions that the editor offers, in the order in which they are likely. */
  offers: { name: string; written: Record<string, unknown> }[]
  /** What conditions can be about: subjects that other kinds have too, numbers and words of this kind. */
  subjects: readonly CommonSubject[]
  /** Subjects of these that a target has nothing for: a port without TLS has no certificate. Asked of the written form. */
  lacks?: (written: Record<string, unknown>) => readonly CommonSubject[]
  readings: Record<string, Reading>
  /** Its numbers are those of the line beside the try, and no finding of the kind itself. */
  measuresLine?: true
  /** Which of these numbers say in a few words how a try went; the first two without it. */
  telling?: readonly string[]
  facts: Record<string, Fact>
  /** The parts that the time of a try has. */
  phases: readonly Phase[]
  /** The shortest cadence that is kind to the target; a shorter one counts as this one. */
  shortest?: Milliseconds
  /** Whether Hemeron itself judges it, from what it was told, instead of asking from locations. */
  inside?: (target: Target) => boolean
  /** Keys of checks that this one judges, asked of the written form, right or wrong. */
  members?: (written: Record<string, unknown>) => string[]
  /** The written form with other keys for some of them, as when a check is renamed. */
  renamed?: (written: Record<string, unknown>, keys: ReadonlyMap<string, string>) => Record<string, unknown>
  /** What the check's own address takes, for a kind that is told things: calls of a job, or numbers. */
  takes?: (target: Target) => 'calls' | 'numbers' | undefined
  /** The names of what a try does one after the other, for a kind that has steps. */
  steps?: (target: Target) => string[]
  /** Values of a target that must never be recorded. */
  secretsOf: (target: Target) => string[]
}

export type Kinds = Record<string, KindDefinition<never>>
