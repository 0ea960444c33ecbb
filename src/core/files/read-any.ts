import { parseDocument } from 'yaml'
import type { Kinds } from '../definitions/kind'
import { FILE_MOST, fileProblem, type FileRead } from './offer'
import { CSV_COLUMNS, readCsv } from './read-csv'
import { readDefinitions } from './read-definitions'
import { readHar } from './read-har'
import { readOpenApi } from './read-openapi'
import { yamlValue } from './yaml-value'

type Json = Record<string, unknown>

/** Reads a file by what it holds, whatever its name: CSV, HAR, OpenAPI, or Hemeron's own definitions. */
export function readAny(text: string, name: string, kinds: Kinds): FileRead {
  if (text.length > FILE_MOST) return fileProblem('definitions', `${text.length} characters`, `at most ${FILE_MOST}`)
  const isHar = /\.har$/i.test(name)
  if (text.trimStart().startsWith('{') || isHar) {
    const value = readJson(text)
    if ('problem' in value) return isHar || /"log"\s*:/.test(text.slice(0, 500)) ? fileProblem('HAR', value.problem, 'a whole HTTP Archive in JSON', value.line) : readDefinitions(text)
    if (isHar || isLog(value.value)) return readHar(value.value)
    return isOpenApi(value.value) ? readOpenApi(value.value) : readDefinitions(text)
  }
  const first = text.split(/\r?\n/, 1)[0]!.toLowerCase()
  if (/\.csv$/i.test(name) || CSV_COLUMNS.filter((column) => first.split(/[,;\t]/).map((each) => each.trim().replaceAll('"', '')).includes(column)).length >= 2) return readCsv(text, kinds)
  if (/^(openapi|swagger)\s*:/m.test(text)) {
    const document = parseDocument(text)
    if (document.errors.length > 0) return fileProblem('OpenAPI', document.errors[0]!.message.split('\n')[0]!, 'a YAML document')
    const read = yamlValue(document)
    if ('value' in read && isOpenApi(read.value)) return readOpenApi(read.value)
  }
  return readDefinitions(text)
}

const isLog = (value: unknown) => value !== null && typeof value === 'object' && 'log' in value
const isOpenApi = (value: unknown): value is Json => value !== null && typeof value === 'object' && ('openapi' in value || 'swagger' in value)

function readJson(text: string): { value: unknown } | { problem: string; line: number } {
  try {
    return { value: JSON.parse(text) as unknown }
  } catch (error) {
    const message = (error as Error).message
    const position = Number(/position (\d+)/.exec(message)?.[1] ?? text.length)
    const isCut = /Unexpected end|Unterminated/.test(message) || position >= text.trimEnd().length - 1
    return { problem: isCut ? 'a file that ends in the middle' : message.slice(0, 120), line: text.slice(0, position).split('\n').length }
  }
}
