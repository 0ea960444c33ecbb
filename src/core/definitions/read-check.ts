import { readCondition, writeCondition } from '../conditions/read-condition'
import type { Problem } from '../problems'
import { CHECK_DEFAULTS, type Check, type CheckDocument, type DownRule, type SlowRule } from './check'
import { checkSchema } from './check-schema'
import { formatDuration, parseDuration } from './duration'
import type { KindDefinition, Kinds } from './kind'
import { problemsOf } from './problems-of'

type Written = Record<string, unknown>

/** Reads a check's written form: the check, or everything that is wrong with the document. */
export function readCheck(document: unknown, kinds: Kinds): { check: Check } | { problems: Problem[] } {
  const problems = problemsOf(checkSchema(kinds) as never, document)
  if (problems.length > 0) return { problems }
  return { check: acceptedCheck(document as CheckDocument, kinds) }
}

/** Reads a document that was validated before it was stored; validates nothing again. */
export function acceptedCheck(document: CheckDocument, kinds: Kinds): Check {
  const written = document as Written
  const kind = Object.keys(kinds).find((each) => written[each] !== undefined)
  if (!kind) throw new Error(`The stored check ${document.check} has no known kind.`)
  const definition = kinds[kind] as unknown as KindDefinition
  const down = (written.down ?? {}) as Written
  const slow = written.slow as Written | undefined
  return {
    key: document.check,
    name: document.name,
    ...(written.service === undefined ? {} : { service: String(written.service) }),
    tags: (written.tags as string[] | undefined) ?? [],
    importance: (written.importance as Check['importance'] | undefined) ?? CHECK_DEFAULTS.importance,
    kind,
    target: definition.read(written[kind] as Written),
    every: duration(written.every, CHECK_DEFAULTS.every),
    from: (written.from as Check['from'] | undefined) ?? 'all',
    wait: duration(written.wait, CHECK_DEFAULTS.wait),
    pass: ((written.pass as Written[] | undefined) ?? []).map(readCondition),
    turned: written.turned === true,
    down: {
      tries: Number(down.tries ?? CHECK_DEFAULTS.down.tries),
      ...(down.of === undefined ? {} : { of: Number(down.of) }),
      apart: duration(down.apart, CHECK_DEFAULTS.down.apart),
      locations: Number(down.locations ?? CHECK_DEFAULTS.down.locations)
    },
    up: { tries: Number((written.up as Written | undefined)?.tries ?? CHECK_DEFAULTS.up.tries) },
    ...(slow ? { slow: readSlow(slow) } : {})
  }
}

function readSlow(slow: Written): SlowRule {
  return {
    phase: (slow.phase as SlowRule['phase'] | undefined) ?? 'total',
    above: duration(slow.above, 0),
    for: duration(slow.for, CHECK_DEFAULTS.slowFor),
    locations: Number(slow.locations ?? CHECK_DEFAULTS.slowLocations)
  }
}

function duration(written: unknown, otherwise: number): number {
  return written === undefined ? otherwise : parseDuration(String(written))!
}

/** Writes a check in its written form; reading that gives the same check again. */
export function writeCheck(check: Check, kinds: Kinds): CheckDocument {
  const definition = kinds[check.kind] as unknown as KindDefinition
  return {
    check: check.key,
    name: check.name,
    ...(check.service === undefined ? {} : { service: check.service }),
    ...(check.tags.length === 0 ? {} : { tags: check.tags }),
    importance: check.importance,
    [check.kind]: definition.write(check.target),
    every: formatDuration(check.every),
    from: check.from,
    wait: formatDuration(check.wait),
    pass: check.pass.map(writeCondition),
    ...(check.turned ? { turned: true } : {}),
    down: writeDown(check.down),
    up: { tries: check.up.tries },
    ...(check.slow ? { slow: { phase: check.slow.phase, above: formatDuration(check.slow.above), for: formatDuration(check.slow.for), locations: check.slow.locations } } : {})
  }
}

function writeDown(down: DownRule): Written {
  return { tries: down.tries, ...(down.of === undefined ? {} : { of: down.of }), apart: formatDuration(down.apart), locations: down.locations }
}
