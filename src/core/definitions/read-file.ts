import { LineCounter, parseDocument, stringify, isNode } from 'yaml'
import { yamlValue } from '../files/yaml-value'
import type { Problem } from '../problems'

/** The largest definition file that is read, in characters. */
export const FILE_LIMIT = 1_000_000

/**
 * Reads one YAML (or JSON, which is YAML) document.
 * @returns its value and a function that gives problems their line; or the problems of the text itself
 */
export function readFile(text: string): { value: unknown; withLines: (problems: Problem[]) => Problem[] } | { problems: Problem[] } {
  if (text.length > FILE_LIMIT) return { problems: [{ path: '', found: `${text.length} characters`, expected: `at most ${FILE_LIMIT}` }] }
  const lines = new LineCounter()
  const document = parseDocument(text, { lineCounter: lines })
  if (document.errors.length > 0) {
    return {
      problems: document.errors.map((error) => ({
        path: '', found: error.message.split('\n')[0]!.replace(/ at line.*$/, ''), expected: 'a YAML or JSON document',
        line: lines.linePos(error.pos[0]).line
      }))
    }
  }
  const read = yamlValue(document)
  if ('problem' in read) return { problems: [read.problem] }
  const lineOf = (path: string): number | undefined => {
    const steps = path.split(/[.[\]]+/).filter((step) => step !== '').map((step) => (/^\d+$/.test(step) ? Number(step) : step))
    for (let depth = steps.length; depth >= 0; depth -= 1) {
      const node = document.getIn(steps.slice(0, depth), true)
      if (isNode(node) && node.range) return lines.linePos(node.range[0]).line
    }
    return undefined
  }
  return {
    value: read.value,
    withLines: (problems) => problems.map((problem) => {
      const line = lineOf(problem.path)
      return line === undefined ? problem : { ...problem, line }
    })
  }
}

/** Writes a document as YAML the way files hold it. */
export function writeFile(document: unknown): string {
  return stringify(document, { lineWidth: 100, defaultStringType: 'PLAIN', flowCollectionPadding: true })
}
