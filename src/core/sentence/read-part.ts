import { conditionSchema } from '../conditions/condition-schema'
import type { Subjects } from '../conditions/subject'
import { subjectsOf } from '../conditions/subjects'
import { isAmount } from '../conditions/amount'
import { readLimit } from '../conditions/unit'
import type { CheckDocument } from '../definitions/check'
import { readSpokenDuration } from '../definitions/duration'
import type { KindDefinition, Kinds } from '../definitions/kind'
import { problemsOf } from '../definitions/problems-of'
import { parseSize } from '../definitions/size'
import { formatStatusSet, parseStatusSet } from '../definitions/status-set'
import { parseHours } from '../hours/hours'
import { settleCheck, type Settled, type Surroundings } from '../layers/settle'
import { refersToVariables } from '../layers/variables'

type Written = Record<string, unknown>
type Changes = Written | { expected: string }
export type PartResult = { document: CheckDocument } | { expected: string }

/**
 * Reads what a person typed into a part of one condition and gives its written form with that part changed, or says what
 * was expected.
 * @param field the part within the condition, such as `status` or `value.max`
 */
export function changeCondition(written: Written, subjects: Subjects, field: string, text: string): { condition: Written } | { expected: string } {
  const changed = { condition: structuredClone(written) }
  const changes = readOfKind(field, text, subjects) ?? readConditionPart(field, text, written)
  if (isExpectation(changes)) return changes
  for (const [place, value] of Object.entries(changes)) setAt(changed, `condition.${place}`, value)
  const problem = refersToVariables(changed.condition) ? undefined : problemsOf(conditionSchema(subjects) as never, changed.condition)[0]
  return problem ? { expected: problem.expected } : changed
}

/**
 * Reads what a person typed into a part of a check's sentence and gives the check's own document with that part
 * changed, or says what was expected. The text that checkSentence wrote is read back to the same check. A part that
 * came from the service or the workspace becomes the check's own.
 * @param path the part as the sentence names it, such as `every` or `pass[0].status`
 */
export function readPart(own: CheckDocument, settled: Settled, surroundings: Surroundings, kinds: Kinds, path: string, text: string): PartResult {
  const kind = kinds[settled.check.kind] as unknown as KindDefinition
  const document = structuredClone(own)
  const byKind = kind.readPart(settled.check.target, path, text)
  if (byKind !== undefined) {
    if (isExpectation(byKind)) return byKind
    return validated({ ...document, [kind.kind]: kind.write(byKind) }, surroundings, kinds, kind.kind)
  }
  const condition = /^pass\[(\d+)\](.*)$/.exec(path)
  if (condition) return readCondition(document, settled, surroundings, kinds, Number(condition[1]), condition[2]!, text.trim())
  const changes = path === 'from' && !/^all\b/.test(text) && /locations?\)?$/.test(text) ? { from: settled.check.from } : changesOf(path, text.trim())
  if (isExpectation(changes)) return changes
  return validated(putChanges(document, changes), surroundings, kinds, path.split('.')[0]!)
}

/** Gives a part back to where it would come from without the check's own value. */
export function giveBack(own: CheckDocument, path: string): CheckDocument {
  const document = structuredClone(own)
  setAt(document, path, undefined)
  if (path === 'down.tries') setAt(document, 'down.of', undefined)
  if (path === 'slow.above') setAt(document, 'slow.spreads', undefined)
  for (const group of ['down', 'up', 'slow']) {
    const value = document[group]
    if (value !== null && typeof value === 'object' && Object.keys(value).length === 0) delete document[group]
  }
  return document
}

function isExpectation(value: unknown): value is { expected: string } {
  return value !== null && typeof value === 'object' && 'expected' in value
}

function validated(document: CheckDocument, surroundings: Surroundings, kinds: Kinds, part: string): PartResult {
  const read = settleCheck(document, surroundings, kinds)
  if ('settled' in read) return { document }
  return { expected: (read.problems.find((each) => each.path.startsWith(part)) ?? read.problems[0]!).expected }
}

/** A condition of the check's own changes where it stands; a common one becomes an own one in its place. */
function readCondition(document: CheckDocument, settled: Settled, surroundings: Surroundings, kinds: Kinds, index: number, field: string, text: string): PartResult {
  const written = (settled.document.pass as Written[])[index]
  const origin = settled.conditions[index]
  if (!written || !origin) return { expected: 'a condition that is still there' }
  const changed = changeCondition(written, subjectsOf(kinds, settled.check.kind), field.slice(1), text)
  if (isExpectation(changed)) return changed
  const pass = [...((document.pass as Written[] | undefined) ?? [])]
  if (origin.own === undefined) {
    pass.push(changed.condition)
    document.without = [...((document.without as string[] | undefined) ?? []), origin.subject]
  } else pass[origin.own] = changed.condition
  return validated({ ...document, pass }, surroundings, kinds, 'pass')
}

/** What a typed text means for a part: the places to change and their new values in the written form; undefined takes a place away. */
export function changesOf(path: string, text: string): Changes {
  switch (path) {
    case 'name': return { name: text }
    case 'service': return { service: text === '' ? undefined : text }
    case 'importance': case 'slow.phase': return { [path]: text }
    case 'tags': case 'needs': return { [path]: listed(text) }
    case 'turns': return /^in[ -]turn/.test(text) ? { turns: 'in-turn' } : text === 'together' ? { turns: 'together' } : { expected: 'together, or in turn' }
    case 'from': return readFrom(text)
    case 'hours': return readHours(text)
    case 'window': return readWindow(text)
    case 'down.tries': return readTries(text)
    case 'slow.above': return readAbove(text)
    case 'slow.margin': {
      const share = /^(\d+(?:\.\d+)?)\s*%/.exec(text)
      return /^at\b/.test(text) ? { [path]: '0%' } : share ? { [path]: `${share[1]}%` } : { expected: 'at the limit, or a share such as 10% below' }
    }
    case 'down.locations': case 'slow.locations': case 'up.tries': {
      const count = /^(\d+)\b/.exec(text)
      return count ? { [path]: Number(count[1]) } : { expected: 'a number' }
    }
    case 'every': case 'wait': case 'down.apart': case 'slow.for':
      return durationAt(path, text.replace(/\s*apart$/, ''))
    default: return { expected: 'a part of this check' }
  }
}

const listed = (text: string) => text.split(/,| and /).map((each) => each.trim()).filter((each) => each !== '')

function durationAt(path: string, text: string): Changes {
  const written = readSpokenDuration(text)
  return written === undefined ? { expected: 'a duration such as 30 s, 5 min or 2 h' } : { [path]: written }
}

function readAbove(text: string): Changes {
  const spreads = /^(\d+(?:\.\d+)?)\s+spreads?\b/.exec(text)
  if (spreads) return { 'slow.above': 'usual', 'slow.spreads': Number(spreads[1]) }
  if (/^(above )?usual$/.test(text)) return { 'slow.above': 'usual' }
  const written = readSpokenDuration(text.replace(/^above\s+/, ''))
  return written === undefined ? { expected: 'a duration such as 900 ms, or such as 6 spreads above usual' } : { 'slow.above': written, 'slow.spreads': undefined }
}

function readHours(text: string): Changes {
  if (text === 'always' || text === '') return { hours: 'always' }
  const [, spans = text, zone] = /^(.*?\d\d:\d\d)\s+([A-Za-z]+(?:\/[A-Za-z_/+-]+)?)$/.exec(text) ?? []
  const at = spans.split(/\s+and\s+|;\s*/)
  return at.every((each) => parseHours(each)) ? { hours: { at, ...(zone === undefined ? {} : { zone }) } } : { expected: 'days and times such as mon-fri 06:00-22:00, or always' }
}

function readWindow(text: string): Changes {
  if (/^no\b/.test(text) || text === '') return { window: 'none' }
  const dense = /every\s+(\d+\s*[a-z]+)/.exec(text)
  const every = dense && readSpokenDuration(dense[1]!)
  if (dense && !every) return { expected: 'a cadence such as every 10 s' }
  const only = /^only\b/.test(text)
  return only || every ? { window: { ...(only ? { only: true } : {}), ...(every ? { every } : {}) } } : { expected: 'only, or every 10 s, while a release window is open' }
}

function readTries(text: string): Changes {
  const among = /^(\d+)\s+of\s+(?:the\s+)?(?:last\s+)?(\d+)/.exec(text)
  if (among) return { 'down.tries': Number(among[1]), 'down.of': Number(among[2]) }
  const inRow = /^(\d+)/.exec(text)
  return inRow ? { 'down.tries': Number(inRow[1]), 'down.of': undefined } : { expected: 'a number of tries, or such as 3 of the last 5 tries' }
}

/** Keys separated by commas, or `all`. */
function readFrom(text: string): Changes {
  if (/^all\b/.test(text)) return { from: 'all' }
  const keys = listed(text)
  return keys.length > 0 ? { from: keys } : { expected: 'all, or locations separated by commas' }
}

/** A part of a condition on something that only this kind has: `loss.max`, `values.is`. */
function readOfKind(field: string, text: string, { readings, facts }: Subjects): Changes | undefined {
  const [name = '', part = '', end] = field.split('.')
  const reading = readings[name]
  if (reading) {
    const limit = readLimit(reading.unit, text)
    return 'expected' in limit ? limit : { [field]: limit.written }
  }
  if (!facts[name]) return undefined
  if (part === 'count' || end !== undefined) return /^\d+$/.test(text) ? { [field]: Number(text) } : { expected: 'a number' }
  return { [field]: part === 'is' && text.includes(', ') ? text.split(', ') : text }
}

function readConditionPart(field: string, text: string, written: Written): Changes {
  if (field === 'status') {
    const set = parseStatusSet(text.replace(/\s+or\s+/g, ','))
    return set ? { [field]: formatStatusSet(set) } : { expected: 'status codes such as 200, or 200 to 299' }
  }
  if (field === 'is') return { [field]: readScalar(text, written.is) }
  if (written.metric !== undefined) return readMetricPart(field, text)
  if (['text', 'pattern', 'header', 'json', 'xml', 'has', 'matches', 'phase'].includes(field)) return { [field]: text }
  if (written.certificate !== undefined || written.phase !== undefined) return durationAt(field, text)
  if (written.size !== undefined) return parseSize(text) === undefined ? { expected: 'a size such as 20kB' } : { [field]: text }
  const number = Number(text)
  return text !== '' && Number.isFinite(number) ? { [field]: number } : { expected: 'a number' }
}

function readMetricPart(field: string, text: string): Changes {
  if (field === 'metric') return { [field]: text }
  if (field === 'for') {
    if (/^at\b/.test(text)) return { [field]: undefined }
    return durationAt(field, text.replace(/^after\s+/, ''))
  }
  if (field === 'margin') {
    const share = /^(\d+(?:\.\d+)?)\s*%/.exec(text)
    return /^at\b/.test(text) ? { [field]: undefined } : share ? { [field]: `${share[1]}%` } : { expected: 'at the limit, or a share such as 5% inside' }
  }
  const amount = text.replace(/\s*%$/, '%')
  if (text !== '' && Number.isFinite(Number(text))) return { [field]: Number(text) }
  return isAmount(amount) ? { [field]: amount } : { expected: 'a number, a share such as 85%, or a size such as 20GB' }
}

/** A value as JSON when it was no text before and reads as JSON; text otherwise. */
function readScalar(text: string, before: unknown): unknown {
  const readsAsJson = /^(true|false|null|-?\d+(\.\d+)?([eE][+-]?\d+)?)$/.test(text)
  return typeof before !== 'string' && readsAsJson ? JSON.parse(text) : text
}

/** A document with some places changed. */
export function putChanges(document: CheckDocument, changes: Written): CheckDocument {
  const changed = structuredClone(document)
  for (const [place, value] of Object.entries(changes)) setAt(changed, place, value)
  return changed
}

function setAt(document: Written, path: string, value: unknown): void {
  const steps = path.split(/[.[\]]+/).filter((step) => step !== '')
  const last = steps.pop()!
  let place: Written = document
  for (const step of steps) {
    if (value === undefined && (place[step] === null || typeof place[step] !== 'object')) return
    // a word such as “none” gives way to the parts of a rule
    if (place[step] === null || typeof place[step] !== 'object') place[step] = {}
    place = place[step] as Written
  }
  if (value === undefined) delete place[last]
  else place[last] = value
}
