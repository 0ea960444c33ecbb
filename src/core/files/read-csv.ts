import Papa from 'papaparse'
import { keyFromName } from '../definitions/key'
import type { Kinds } from '../definitions/kind'
import { readSpokenDuration } from '../definitions/duration'
import type { Problem } from '../problems'
import { fileProblem, OFFERS_MOST, type FileRead, type Offer } from './offer'

/** The columns of a CSV (RFC 4180) with checks; only the address must be there. */
export const CSV_COLUMNS = ['key', 'name', 'address', 'service', 'tags', 'every', 'importance', 'from'] as const

/** Reads a CSV with a heading line; the separator is found by itself. */
export function readCsv(text: string, kinds: Kinds): FileRead {
  const parsed = Papa.parse<Record<string, string>>(text, { header: true, skipEmptyLines: 'greedy', transformHeader: (name) => name.trim().toLowerCase() })
  const columns = parsed.meta.fields ?? []
  const unknown = columns.filter((column) => !(CSV_COLUMNS as readonly string[]).includes(column))
  if (!columns.includes('address')) return fileProblem('CSV', `the columns ${columns.join(', ').slice(0, 200) || 'none'}`, `a column address, and perhaps ${CSV_COLUMNS.filter((each) => each !== 'address').join(', ')}`, 1)
  if (unknown.length > 0) return fileProblem('CSV', `the unknown ${unknown.length === 1 ? 'column' : 'columns'} ${unknown.join(', ').slice(0, 200)}`, `only the columns ${CSV_COLUMNS.join(', ')}`, 1)
  const problems: Problem[] = parsed.errors.filter((error) => error.type !== 'Delimiter').map((error) => ({ path: '', found: error.message, expected: 'as many values as there are columns, and every quote closed', line: (error.row ?? 0) + 2 }))
  const offers: Offer[] = []
  for (const [index, row] of parsed.data.slice(0, OFFERS_MOST).entries()) {
    const read = readRow(row, kinds)
    if ('document' in read) offers.push({ kind: 'check', chosen: true, line: index + 2, label: String(read.document.name), document: read.document })
    else problems.push({ ...read, line: index + 2 })
  }
  return { format: 'CSV', offers, problems }
}

function readRow(row: Record<string, string>, kinds: Kinds): { document: Record<string, unknown> } | Problem {
  const value = (name: (typeof CSV_COLUMNS)[number]) => row[name]?.trim() ?? ''
  const list = (text: string) => text.split(/[;|]/).map((each) => each.trim()).filter((each) => each !== '')
  const guessed = Object.entries(kinds).map(([kind, definition]) => ({ kind, target: definition.guess(value('address')) })).find((each) => each.target)
  if (!guessed?.target) return { path: 'address', found: `"${value('address').slice(0, 80)}"`, expected: 'an address such as https://www.example.org/path' }
  const every = value('every') === '' ? undefined : readSpokenDuration(value('every').replace(/^(\d+)([a-z])/, '$1 $2')) ?? value('every')
  const name = value('name') || guessed.target.name
  const from = list(value('from'))
  return {
    document: {
      check: value('key') || keyFromName(name), name, ...(value('service') === '' ? {} : { service: value('service') }), ...(list(value('tags')).length > 0 ? { tags: list(value('tags')) } : {}),
      ...(value('importance') === '' ? {} : { importance: value('importance') }), ...(every === undefined ? {} : { every }), ...(from.length === 0 ? {} : { from: from[0] === 'all' ? 'all' : from }), [guessed.kind]: guessed.target.written
    }
  }
}

/** Writes checks as a CSV that readCsv reads back. */
export function writeCsv(rows: Record<(typeof CSV_COLUMNS)[number], string>[]): string {
  return `${Papa.unparse(rows, { columns: [...CSV_COLUMNS], newline: '\r\n', escapeFormulae: true })}\r\n`
}
