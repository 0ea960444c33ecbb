/** Where a value is taken from in an answer. */
export const TAKEN_FROM = ['json', 'xml', 'pattern', 'header', 'cookie'] as const

export interface Taking {
  as: string
  from: (typeof TAKEN_FROM)[number]
  /** A JSONPath, an XPath, a pattern (its first group, or all of it), or the name of a header or cookie. */
  at: string
}

/** One request. Its texts may hold places that are filled in with what earlier answers gave. */
export interface Step {
  name: string
  url: string
  method: string
  headers: Record<string, string>
  body?: string
  /** Follow redirects. */
  follow: boolean
  take: Taking[]
  /** Conditions in their written form. */
  pass: Record<string, unknown>[]
}

export interface SequenceTarget {
  before: Step[]
  steps: Step[]
  /** Runs at the end in any case, also after a failure. */
  after: Step[]
  unverified: boolean
}
