import * as yup from 'yup'
import { describeFound, type Problem } from '../problems'

/** Validates a document in its written form and says every mistake with its path. Unknown fields are mistakes. */
export function problemsOf(schema: yup.Schema, document: unknown): Problem[] {
  try {
    schema.validateSync(document, { abortEarly: false, strict: true })
    return []
  } catch (error) {
    if (!(error instanceof yup.ValidationError)) throw error
    const single = error.inner.length > 0 ? error.inner : [error]
    const problems = single.map((each): Problem => {
      const path = each.path ?? ''
      if (each.type === 'noUnknown') {
        const unknown = String((each.params as { unknown?: string } | undefined)?.unknown ?? '')
        return { path, found: `the unknown field ${unknown}`, expected: each.message }
      }
      return { path, found: describeFound(valueAt(document, path)), expected: each.message.replace(/^expected /, '') }
    })
    const seen = new Set<string>()
    return problems.filter((problem) => !seen.has(problem.path + problem.found) && seen.add(problem.path + problem.found))
  }
}

/** The value a path such as `pass[1].json` points at, or undefined. */
export function valueAt(document: unknown, path: string): unknown {
  let value = document
  for (const step of path.split(/[.[\]]+/).filter((piece) => piece !== '')) {
    if (value === null || typeof value !== 'object') return undefined
    value = (value as Record<string, unknown>)[step.replace(/^"|"$/g, '')]
  }
  return value
}

/** An object that holds exactly these fields; others are named as unknown, with the known ones listed. */
export function exactly(fields: yup.ObjectShape) {
  return yup.object(fields)
    .noUnknown(true, `only these fields: ${Object.keys(fields).join(', ')}`)
    .typeError('an object')
}
