/** How a number is written and spoken: a share as 5%, a time as 20ms, a size as 3MB. */
export type Unit = 'share' | 'time' | 'size' | 'number'

/** Subjects of conditions that an answer over HTTP can have. */
export const WEB_SUBJECTS = ['status', 'text', 'pattern', 'json', 'xml', 'header', 'certificate', 'size', 'phase'] as const
/** Subjects of conditions that several kinds have. */
export const COMMON_SUBJECTS = [...WEB_SUBJECTS, 'metric'] as const
export type CommonSubject = (typeof COMMON_SUBJECTS)[number]

/** A number that a kind measures beside the time. */
export interface Reading {
  unit: Unit
  /** What it is, to follow “the”: “loss of packets”. */
  says: string
}

/** Something that a kind finds out in words: one value or several. */
export interface Fact {
  /** What it is, to follow “the”. */
  says: string
  /** Several of them, to follow “the number of”; `says` with an s without it. */
  many?: string
}

/** Everything that conditions can be about, for one kind or for all of them together. */
export interface Subjects {
  common: ReadonlySet<string>
  readings: Record<string, Reading>
  facts: Record<string, Fact>
}

/** What conditions of one request of a sequence can be about: its answer, and nothing that is measured beside it. */
export const STEP_SUBJECTS: Subjects = { common: new Set(WEB_SUBJECTS), readings: {}, facts: {} }

/** The subject of a condition in its written form; undefined when it has none or several. */
export function subjectIn(written: unknown, { common, readings, facts }: Subjects): string | undefined {
  if (written === null || typeof written !== 'object') return undefined
  let found: string | undefined
  for (const [field, value] of Object.entries(written)) {
    if (value === undefined || !(common.has(field) || Object.hasOwn(readings, field) || Object.hasOwn(facts, field))) continue
    if (found !== undefined) return undefined
    found = field
  }
  return found
}
