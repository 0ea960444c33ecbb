/**
 * Texts of a sequence with places that are filled in while it runs: `{=token}` stands for a value taken from an earlier
 * answer, `{=base64(token)}` for what a function makes of it. Arguments are names, numbers and texts in single quotes;
 * functions may stand inside each other. Nothing else can be written, so no definition can run code.
 */
export type Expression = { name: string } | { text: string } | { call: string; with: Expression[] }

/** Functions and how many arguments they take, least and most. */
export const FUNCTIONS: Record<string, [least: number, most: number]> = {
  now: [0, 1], random: [0, 1], uuid: [0, 0], base64: [1, 1], sha256: [1, 1], hmac: [2, 3], url: [1, 1], json: [1, 1], concat: [1, 10]
}

const PLACE = /\{=([^{}]{0,500})\}/g
const TOKENS = /\s*(?:('(?:[^'\\]|\\.)*')|(-?\d+(?:\.\d+)?)|([A-Za-z_]\w*)|([(),]))/y

/** Reads what stands between `{=` and `}`; throws with what is wrong in words. */
export function parseExpression(source: string): Expression {
  const tokens: string[] = []
  TOKENS.lastIndex = 0
  while (TOKENS.lastIndex < source.trimEnd().length) {
    const at = TOKENS.lastIndex
    const match = TOKENS.exec(source)
    if (!match) throw new Error(`“${source.slice(at, at + 10)}” cannot be read`)
    tokens.push(match[0].trim())
  }
  let index = 0
  const read = (): Expression => {
    const token = tokens[index++]
    if (token === undefined) throw new Error('something is missing at the end')
    if (token.startsWith("'")) return { text: token.slice(1, -1).replace(/\\(.)/g, '$1') }
    if (/^-?\d/.test(token)) return { text: token }
    if (!/^[A-Za-z_]/.test(token)) throw new Error(`“${token}” stands where a name is expected`)
    if (tokens[index] !== '(') return { name: token }
    index += 1
    const given: Expression[] = []
    while (tokens[index] !== ')') {
      given.push(read())
      if (tokens[index] === ',') index += 1
      else if (tokens[index] !== ')') throw new Error('a comma or a closing bracket is missing')
    }
    index += 1
    const [least, most] = Object.hasOwn(FUNCTIONS, token) ? FUNCTIONS[token]! : [undefined, 0]
    if (least === undefined) throw new Error(`there is no function ${token}; there are ${Object.keys(FUNCTIONS).join(', ')}`)
    if (given.length < least || given.length > most) throw new Error(`${token} takes ${least === most ? least : `${least} to ${most}`} values, not ${given.length}`)
    return { call: token, with: given }
  }
  const expression = read()
  if (index < tokens.length) throw new Error(`“${tokens[index]!}” is too much`)
  return expression
}

/** Names that a text takes from earlier answers. Throws when one of its places cannot be read. */
export function namesIn(text: string): string[] {
  const names: string[] = []
  const visit = (expression: Expression): void => {
    if ('name' in expression) names.push(expression.name)
    else if ('call' in expression) expression.with.forEach(visit)
  }
  for (const [, source] of text.matchAll(PLACE)) visit(parseExpression(source!))
  return names
}

/** Fills in every place of a text. `evaluate` is given what was parsed. */
export function fillIn(text: string, evaluate: (expression: Expression) => string): string {
  return text.replace(PLACE, (_, source: string) => evaluate(parseExpression(source)))
}
