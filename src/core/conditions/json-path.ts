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

type Compiled = ReturnType<typeof environment.compile>
const KEPT = 2000
const compiled = new Map<string, Compiled>()

/** The same paths are asked at every try, so that they are read once. */
function compile(path: string): Compiled {
  const known = compiled.get(path)
  if (known) return known
  const fresh = environment.compile(path)
  if (compiled.size >= KEPT) compiled.clear()
  compiled.set(path, fresh)
  return fresh
}

/** The values a JSONPath finds in a parsed document. */
export function jsonValues(path: string, document: unknown): unknown[] {
  return compile(path).query(document as never).values()
}
