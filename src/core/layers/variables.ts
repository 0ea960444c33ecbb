import type { Problem } from '../problems'

/** Where the value of a variable came from; the nearer place counts. `run` is a value given for one run only. */
export const ORIGINS = ['run', 'check', 'service', 'workspace'] as const
export type VariableOrigin = (typeof ORIGINS)[number]

export interface VariableValue {
  name: string
  value: string
  from: VariableOrigin
  secret: boolean
}

/** The variables of one place: plain ones by name, and those whose values are never shown. */
export interface VariableLayer {
  from: VariableOrigin
  variables: Record<string, string>
  /** Values of secrets; undefined where a name is declared and no value was set. */
  secrets: Record<string, string | undefined>
}

const NAME = /^[A-Za-z_][A-Za-z0-9_]{0,63}$/
const REFERENCE = /\$\{([^}]*)\}/g
const DEPTH_MOST = 8

export const isVariableName = (name: string) => NAME.test(name)

/** Whether a text, or any text inside a value, refers to a variable. */
export function refersToVariables(value: unknown): boolean {
  if (typeof value === 'string') return value.includes('${')
  return value !== null && typeof value === 'object' && Object.values(value).some(refersToVariables)
}

export interface Resolved<Value> {
  value: Value
  used: VariableValue[]
  problems: Problem[]
}

/**
 * Puts the values of variables into every text of a value. `${NAME}` stands for a variable, `$${` for the characters
 * `${` themselves. A variable that is not set anywhere, has no value yet or refers to itself is a problem with its path;
 * never an empty text.
 * @param layers nearest first
 */
export function resolveVariables<Value>(value: Value, layers: VariableLayer[], path = ''): Resolved<Value> {
  const used = new Map<string, VariableValue>()
  const problems: Problem[] = []
  const put = (text: string, at: string, chain: string[]): string => text
    .split('$${')
    .map((piece) => piece.replace(REFERENCE, (written: string, name: string) => {
      const found = valueOf(name, layers, chain)
      if ('expected' in found) {
        problems.push({ path: at, found: written, ...found })
        return written
      }
      if (!used.has(name)) used.set(name, found)
      return found.secret ? found.value : put(found.value, at, [...chain, name])
    }))
    .join('${')
  const walk = (each: unknown, at: string): unknown => {
    if (typeof each === 'string') return each.includes('${') ? put(each, at, []) : each
    if (Array.isArray(each)) return each.map((item, index) => walk(item, `${at}[${index}]`))
    if (each === null || typeof each !== 'object') return each
    return Object.fromEntries(Object.entries(each).map(([key, item]) => [key, walk(item, at === '' ? key : `${at}.${key}`)]))
  }
  const resolved = walk(value, path) as Value
  return { value: resolved, used: [...used.values()], problems }
}

function valueOf(name: string, layers: VariableLayer[], chain: string[]): VariableValue | { expected: string } {
  if (!isVariableName(name)) return { expected: 'a variable such as ${BASE}; write $${ for the characters themselves' }
  if (chain.includes(name)) return { expected: `variables that do not refer to themselves, as ${[...chain.slice(chain.indexOf(name)), name].join(' → ')} does` }
  if (chain.length >= DEPTH_MOST) return { expected: `variables that refer to others at most ${DEPTH_MOST} deep` }
  for (const { from, variables, secrets } of layers) {
    if (Object.hasOwn(variables, name)) return { name, value: variables[name]!, from, secret: false }
    if (!Object.hasOwn(secrets, name)) continue
    const value = secrets[name]
    return value === undefined ? { expected: `a value for the secret ${name}, which the ${from} declares and nobody has set yet` } : { name, value, from, secret: true }
  }
  return { expected: `a value for ${name} in the check, its service or the workspace` }
}
