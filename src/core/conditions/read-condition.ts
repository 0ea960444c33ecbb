import { parseDuration } from '../definitions/duration'
import { parseShare } from '../definitions/share'
import { parseSize } from '../definitions/size'
import { parseStatusSet } from '../definitions/status-set'
import type { Phase } from '../observation'
import { readAmount, unitOfLimits } from './amount'
import type { Condition, ConditionTest, FactTest, Limits, TextTest } from './condition'
import type { Subjects, Unit } from './subject'

type Written = Record<string, unknown>

/** Reads a condition that conditionSchema has accepted for some subjects. */
export function readCondition(written: Written, subjects: Subjects): Condition {
  return { test: readOfKind(written, subjects) ?? readTest(written), not: written.not === true, softly: written.softly === true }
}

const duration = (text: unknown) => parseDuration(String(text))!

const ENDS: Record<Unit, (value: unknown) => number> = {
  share: (value) => parseShare(String(value))!, time: duration, size: (value) => parseSize(String(value))!, number: Number
}

function readOfKind(written: Written, { readings, facts }: Subjects): ConditionTest | undefined {
  for (const name of Object.keys(written)) {
    const reading = Object.hasOwn(readings, name) ? readings[name]! : undefined
    if (reading) return { on: 'reading', name, says: reading.says, unit: reading.unit, limits: readLimits(written[name] as Written, ENDS[reading.unit]) }
    const fact = Object.hasOwn(facts, name) ? facts[name]! : undefined
    if (fact) return { on: 'fact', name, says: fact.says, many: fact.many ?? `${fact.says}s`, ...readFactTest(written[name] as Written) }
  }
  return undefined
}

function readFactTest({ is, has, matches, count }: Written): { test: FactTest; count?: Limits } {
  return {
    test: {
      ...(is === undefined ? {} : { is: (Array.isArray(is) ? is : [is]).map(String) }), ...(has === undefined ? {} : { has: String(has) }), ...(matches === undefined ? {} : { matches: String(matches) })
    },
    ...(count === undefined ? {} : { count: readLimits(count as Written, Number) })
  }
}

function readTest(written: Written): ConditionTest {
  if (written.status !== undefined) return { on: 'status', set: parseStatusSet(written.status)! }
  if (written.text !== undefined) return { on: 'text', text: String(written.text) }
  if (written.pattern !== undefined) return { on: 'pattern', pattern: String(written.pattern) }
  for (const on of ['json', 'xml'] as const) {
    if (written[on] === undefined) continue
    return {
      on, path: String(written[on]), test: readTextTest(written),
      ...(written.value === undefined ? {} : { value: readLimits(written.value as Written, Number) }),
      ...(written.count === undefined ? {} : { count: readLimits(written.count as Written, Number) })
    }
  }
  if (written.header !== undefined) return { on: 'header', name: String(written.header), test: readTextTest(written) }
  if (written.certificate !== undefined) return { on: 'certificate', left: readLimits(written.certificate as Written, duration) }
  if (written.size !== undefined) return { on: 'size', bytes: readLimits(written.size as Written, (text) => parseSize(String(text))!) }
  if (written.metric !== undefined) {
    return {
      on: 'metric', name: String(written.metric), unit: unitOfLimits(written.value) ?? 'number', rate: written.rate === true, limits: readLimits(written.value as Written, readAmount),
      for: written.for === undefined ? 0 : duration(written.for), margin: written.margin === undefined ? 0 : parseShare(String(written.margin))!
    }
  }
  return { on: 'phase', phase: written.phase as Phase | 'total', time: readLimits(written, duration) }
}


function readTextTest(written: Written): TextTest {
  const test: TextTest = {}
  if (written.is !== undefined) test.is = written.is as TextTest['is']
  if (written.has !== undefined) test.has = String(written.has)
  if (written.matches !== undefined) test.matches = String(written.matches)
  return test
}

function readLimits(written: Written, read: (value: unknown) => number): Limits {
  const limits: Limits = {}
  if (written.min !== undefined) limits.min = read(written.min)
  if (written.max !== undefined) limits.max = read(written.max)
  const { warn } = written
  if (warn !== null && typeof warn === 'object') {
    const ends = warn as Written
    if (ends.min !== undefined) limits.warnMin = read(ends.min)
    if (ends.max !== undefined) limits.warnMax = read(ends.max)
  } else if (warn !== undefined) {
    if (written.min !== undefined) limits.warnMin = read(warn)
    else limits.warnMax = read(warn)
  }
  return limits
}
