import { conditionSchema } from '../conditions/condition-schema'
import type { Check } from '../definitions/check'
import { readSpokenDuration } from '../definitions/duration'
import type { KindDefinition, Kinds } from '../definitions/kind'
import { problemsOf, valueAt } from '../definitions/problems-of'
import { readCheck, writeCheck } from '../definitions/read-check'
import { parseSize } from '../definitions/size'
import { formatStatusSet, parseStatusSet } from '../definitions/status-set'

type Written = Record<string, unknown>
type Changes = Written | { expected: string }
export type PartResult = { check: Check } | { expected: string }

/**
 * Reads what a person typed into a part of a check's sentence and gives the changed check,
 * or says what was expected. The text that checkSentence wrote is read back to the same check.
 * @param path the part as the sentence names it, such as `every` or `pass[0].status`
 */
export function readPart(check: Check, kinds: Kinds, path: string, text: string): PartResult {
  const kind = kinds[check.kind] as unknown as KindDefinition
  const byKind = kind.readPart(check.target, path, text)
  if (byKind !== undefined) {
    return isExpectation(byKind) ? byKind : validated(writeCheck({ ...check, target: byKind }, kinds), kinds, kind.kind)
  }
  const document = structuredClone(writeCheck(check, kinds)) as Written
  const changes = readChanges(check, path, text.trim(), document)
  if (isExpectation(changes)) return changes
  for (const [place, value] of Object.entries(changes)) setAt(document, place, value)
  const condition = /^(pass\[\d+\])/.exec(path)?.[1]
  const problem = condition ? problemsOf(conditionSchema as never, valueAt(document, condition))[0] : undefined
  return problem ? { expected: problem.expected } : validated(document, kinds, path.split('.')[0]!)
}

function isExpectation(value: unknown): value is { expected: string } {
  return value !== null && typeof value === 'object' && 'expected' in value
}

function validated(document: unknown, kinds: Kinds, part: string): PartResult {
  const read = readCheck(document, kinds)
  if ('check' in read) return read
  return { expected: (read.problems.find((each) => each.path.startsWith(part)) ?? read.problems[0]!).expected }
}

/** The places to change and their new values in the written form (undefined takes a place away). */
function readChanges(check: Check, path: string, text: string, document: Written): Changes {
  switch (path) {
    case 'name': return { name: text }
    case 'service': return { service: text === '' ? undefined : text }
    case 'importance': case 'slow.phase': return { [path]: text }
    case 'tags': return { tags: text.split(',').map((tag) => tag.trim()).filter((tag) => tag !== '') }
    case 'from': return readFrom(check, text)
    case 'down.tries': return readTries(text)
    case 'down.locations': case 'slow.locations': case 'up.tries': {
      const count = /^(\d+)\b/.exec(text)
      return count ? { [path]: Number(count[1]) } : { expected: 'a number' }
    }
    case 'every': case 'wait': case 'down.apart': case 'slow.above': case 'slow.for':
      return durationAt(path, text.replace(/\s*apart$/, ''))
    default: return readConditionPart(path, text, document)
  }
}

function durationAt(path: string, text: string): Changes {
  const written = readSpokenDuration(text)
  return written === undefined ? { expected: 'a duration such as 30 s, 5 min or 2 h' } : { [path]: written }
}

function readTries(text: string): Changes {
  const among = /^(\d+)\s+of\s+(?:the\s+)?(?:last\s+)?(\d+)/.exec(text)
  if (among) return { 'down.tries': Number(among[1]), 'down.of': Number(among[2]) }
  const inRow = /^(\d+)/.exec(text)
  return inRow ? { 'down.tries': Number(inRow[1]), 'down.of': undefined } : { expected: 'a number of tries, or such as 3 of the last 5 tries' }
}

/** Keys separated by commas, or `all`. */
function readFrom(check: Check, text: string): Changes {
  if (/^all\b/.test(text)) return { from: 'all' }
  if (/^\d+ locations$/.test(text)) return { from: check.from }
  const keys = text.split(/,| and /).map((key) => key.trim()).filter((key) => key !== '')
  return keys.length > 0 ? { from: keys } : { expected: 'all, or locations separated by commas' }
}

function readConditionPart(path: string, text: string, document: Written): Changes {
  const field = path.slice(path.indexOf('.') + 1)
  const written = valueAt(document, path.slice(0, path.indexOf('.'))) as Written | undefined
  if (!written) return { expected: 'a condition that is still there' }
  if (field === 'status') {
    const set = parseStatusSet(text.replace(/\s+or\s+/g, ','))
    return set ? { [path]: formatStatusSet(set) } : { expected: 'status codes such as 200, or 200 to 299' }
  }
  if (field === 'is') return { [path]: readScalar(text, written.is) }
  if (['text', 'pattern', 'header', 'json', 'has', 'matches', 'phase'].includes(field)) return { [path]: text }
  if (written.certificate !== undefined || written.phase !== undefined) return durationAt(path, text)
  if (written.size !== undefined) return parseSize(text) === undefined ? { expected: 'a size such as 20kB' } : { [path]: text }
  const number = Number(text)
  return text !== '' && Number.isFinite(number) ? { [path]: number } : { expected: 'a number' }
}

/** A value as JSON when it was no text before and reads as JSON; text otherwise. */
function readScalar(text: string, before: unknown): unknown {
  const readsAsJson = /^(true|false|null|-?\d+(\.\d+)?([eE][+-]?\d+)?)$/.test(text)
  return typeof before !== 'string' && readsAsJson ? JSON.parse(text) : text
}

function setAt(document: Written, path: string, value: unknown): void {
  const steps = path.split(/[.[\]]+/).filter((step) => step !== '')
  const last = steps.pop()!
  let place: Written = document
  for (const step of steps) place = (place[step] ??= {}) as Written
  if (value === undefined) delete place[last]
  else place[last] = value
}
