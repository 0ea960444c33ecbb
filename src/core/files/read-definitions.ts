import { isAlias, isNode, LineCounter, parseAllDocuments, stringify, type Document } from 'yaml'
import { withoutFields } from '../definitions/without-fields'
import { yamlValue } from './yaml-value'
import { OFFERS_MOST, type FileRead, type Offer } from './offer'

type Json = Record<string, unknown>

const kindOf = (document: Json): Offer['kind'] | undefined =>
  typeof document.check === 'string' ? 'check' : typeof document.service === 'string' ? 'service' : 'workspace' in document ? 'workspace' : undefined

/**
 * Reads Hemeron's definitions: YAML documents one after another, a list of them, or JSON. A document says what it is by
 * its first key: `check`, `service` or `workspace`.
 */
export function readDefinitions(text: string): FileRead {
  const lines = new LineCounter()
  const documents = parseAllDocuments(text, { lineCounter: lines }) as Document[]
  const result: FileRead = { format: 'definitions', offers: [], problems: [] }
  if (!Array.isArray(documents)) return { ...result, problems: [{ path: '', found: 'nothing', expected: 'definitions of checks and services' }] }
  for (const document of documents) {
    for (const error of document.errors) result.problems.push({ path: '', found: error.message.split('\n')[0]!.replace(/ at line.*$/, ''), expected: 'a YAML or JSON document', line: lines.linePos(error.pos[0]).line })
    if (document.errors.length > 0 || document.contents === null) continue
    take(result, document, lines)
  }
  if (result.offers.length === 0 && result.problems.length === 0) result.problems.push({ path: '', found: 'nothing', expected: 'definitions of checks and services' })
  return result
}

function take(result: FileRead, document: Document, lines: LineCounter): void {
  const root = document.contents
  const read = yamlValue(document)
  if ('problem' in read) {
    result.problems.push(read.problem)
    return
  }
  const { value } = read
  const wrapped = value !== null && typeof value === 'object' && Array.isArray((value as Json).definitions)
  const items: unknown[] = wrapped ? ((value as Json).definitions as unknown[]) : Array.isArray(value) ? value : [value]
  for (const [index, item] of items.slice(0, OFFERS_MOST).entries()) {
    const node = items.length === 1 && !wrapped && !Array.isArray(value) ? root : document.getIn(wrapped ? ['definitions', index] : [index], true)
    const line = isNode(node) && !isAlias(node) && node.range ? lines.linePos(node.range[0]).line : undefined
    const kind = item !== null && typeof item === 'object' && !Array.isArray(item) ? kindOf(item as Json) : undefined
    const place = line === undefined ? {} : { line }
    if (!kind) {
      result.problems.push({ path: '', found: JSON.stringify(item)?.slice(0, 80) ?? 'nothing', expected: 'a document that begins with check:, service: or workspace:', ...place })
      continue
    }
    const written = item as Json
    result.offers.push({ kind, document: kind === 'workspace' ? withoutFields(written, ['workspace']) : written, label: kind === 'workspace' ? 'the workspace' : `${kind} ${String(written[kind])}`, chosen: true, ...place })
  }
}

/** Writes definitions the way files hold them: services first, then checks, as YAML documents. */
export function writeDefinitions(documents: Json[]): string {
  return documents.map((document) => `---\n${stringify(document, { lineWidth: 100, flowCollectionPadding: true })}`).join('')
}
