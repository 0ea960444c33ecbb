/** One thing that is wrong with what somebody gave, said so that it can be mended. */
export interface Problem {
  /** What it is about, when several things were given at once: `check sailings-api`. */
  subject?: string
  /** Where: a path such as `pass[1].json`; empty for the whole document. */
  path: string
  /** What stood there, shortened. */
  found: string
  /** What would have been right. */
  expected: string
  /** The line in the file, counted from 1, when the document came as text. */
  line?: number
}

/** Says a problem as one sentence, for a person or for the `detail` of an API error. */
export function problemSentence(problem: Problem): string {
  const place = problem.path === '' ? (problem.subject ? '' : 'The document') : problem.path
  const where = problem.subject ? `${problem.subject.charAt(0).toUpperCase()}${problem.subject.slice(1)}${place === '' ? '' : `, ${place}`}` : place
  const line = problem.line === undefined ? '' : ` (line ${problem.line})`
  return `${where}${line}: expected ${problem.expected}, found ${problem.found}.`
}

/** Shortens any value to something that fits into an error sentence. */
export function describeFound(value: unknown): string {
  if (value === undefined) return 'nothing'
  const text = typeof value === 'string' ? `"${value}"` : JSON.stringify(value) ?? String(value)
  return text.length > 80 ? `${text.slice(0, 77)}…` : text
}

export const ERRORS = {
  'not-signed-in': { status: 401, title: 'Sign in first' },
  'not-allowed': { status: 403, title: 'Your role does not allow this' },
  'not-found': { status: 404, title: 'There is nothing here' },
  'wrong-credentials': { status: 401, title: 'Mail address or password is wrong' },
  'too-many-attempts': { status: 429, title: 'Too many attempts' },
  'bad-document': { status: 422, title: 'The document has mistakes' },
  'bad-request': { status: 400, title: 'The request cannot be read' },
  'duplicate-key': { status: 409, title: 'The key is taken' },
  'edited-meanwhile': { status: 412, title: 'Someone else saved this in the meantime' },
  'wrong-state': { status: 409, title: 'That does not fit the present state' },
  'too-large': { status: 413, title: 'The request is too large' },
  'no-probe': { status: 503, title: 'No probe answered' }
} as const

export type ErrorCode = keyof typeof ERRORS

/** An error a person can act on. Everything else that is thrown is a fault of Hemeron itself. */
export class HemeronError extends Error {
  readonly code: ErrorCode
  readonly problems: Problem[]

  constructor(code: ErrorCode, sentence?: string, problems: Problem[] = []) {
    super(sentence ?? (problems.length > 0 ? problems.map(problemSentence).join(' ') : ERRORS[code].title))
    this.name = 'HemeronError'
    this.code = code
    this.problems = problems
  }

  get status(): number {
    return ERRORS[this.code].status
  }
}
