import { JSONPathEnvironment } from 'json-p3'

const environment = new JSONPathEnvironment({ strict: true })

/** Reads a JSONPath (RFC 9535); returns what is wrong with it, or undefined. */
export function jsonPathProblem(path: string): string | undefined {
  try {
    environment.compile(path)
    return undefined
  } catch (error) {
    return error instanceof Error ? error.message : 'not a JSONPath'
  }
}

/** The values a JSONPath finds in a parsed document. */
export function jsonValues(path: string, document: unknown): unknown[] {
  return environment.query(path, document as never).values()
}
