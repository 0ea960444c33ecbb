import { formatDuration, parseDuration } from '../definitions/duration'
import { formatSize, parseSize } from '../definitions/size'
import { formatStatusSet, parseStatusSet } from '../definitions/status-set'
import type { Phase } from '../observation'
import type { Condition, ConditionTest, Limits, TextTest } from './condition'

type Written = Record<string, unknown>

/** Reads a condition that conditionSchema has accepted. */
export function readCondition(written: Written): Condition {
  return { test: readTest(written), not: written.not === true, softly: written.softly === true }
}

function readTest(written: Written): ConditionTest {
  if (written.status !== undefined) return { on: 'status', set: parseStatusSet(written.status)! }
  if (written.text !== undefined) return { on: 'text', text: String(written.text) }
  if (written.pattern !== undefined) return { on: 'pattern', pattern: String(written.pattern) }
  if (written.json !== undefined) {
    return {
      on: 'json', path: String(written.json), test: readTextTest(written),
      ...(written.value === undefined ? {} : { value: readLimits(written.value as Written, Number) }),
      ...(written.count === undefined ? {} : { count: readLimits(written.count as Written, Number) })
    }
  }
  if (written.header !== undefined) return { on: 'header', name: String(written.header), test: readTextTest(written) }
  if (written.certificate !== undefined) return { on: 'certificate', left: readLimits(written.certificate as Written, duration) }
  if (written.size !== undefined) return { on: 'size', bytes: readLimits(written.size as Written, (text) => parseSize(String(text))!) }
  return { on: 'phase', phase: written.phase as Phase | 'total', time: readLimits(written, duration) }
}

const duration = (text: unknown) => parseDuration(String(text))!

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

/** Writes a condition so that readCondition reads it back. */
export function writeCondition(condition: Condition): Written {
  return {
    ...writeTest(condition.test),
    ...(condition.not ? { not: true } : {}),
    ...(condition.softly ? { softly: true } : {})
  }
}

function writeTest(test: ConditionTest): Written {
  switch (test.on) {
    case 'status': return { status: formatStatusSet(test.set) }
    case 'text': return { text: test.text }
    case 'pattern': return { pattern: test.pattern }
    case 'header': return { header: test.name, ...test.test }
    case 'json': return {
      json: test.path, ...test.test,
      ...(test.value ? { value: writeLimits(test.value, (number) => number) } : {}),
      ...(test.count ? { count: writeLimits(test.count, (number) => number) } : {})
    }
    case 'certificate': return { certificate: writeLimits(test.left, formatDuration) }
    case 'size': return { size: writeLimits(test.bytes, formatSize) }
    case 'phase': return { phase: test.phase, ...writeLimits(test.time, formatDuration) }
  }
}

function writeLimits(limits: Limits, write: (value: number) => unknown): Written {
  const { min, max, warnMin, warnMax } = limits
  const written: Written = {}
  if (min !== undefined) written.min = write(min)
  if (max !== undefined) written.max = write(max)
  if (warnMin === undefined && warnMax === undefined) return written
  const besideMin = min !== undefined && max === undefined && warnMax === undefined
  const besideMax = max !== undefined && min === undefined && warnMin === undefined
  if (besideMin) written.warn = write(warnMin!)
  else if (besideMax) written.warn = write(warnMax!)
  else {
    written.warn = {
      ...(warnMin === undefined ? {} : { min: write(warnMin) }),
      ...(warnMax === undefined ? {} : { max: write(warnMax) })
    }
  }
  return written
}
