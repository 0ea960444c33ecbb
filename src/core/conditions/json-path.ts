import { JSONPathEnvironment } from 'json-p3'
import { remembering } from '../remembering'

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

/** The same paths are asked at every try, so that they are read once. */
const compile = remembering(2000, (path: string) => environment.compile(path))

/** The values a JSONPath finds in a parsed document. */
export function jsonValues(path: string, document: unknown): unknown[] {
  return compile(path).query(document as never).values()
}
