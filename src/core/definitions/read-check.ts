import { readCondition } from '../conditions/read-condition'
import { subjectsOf } from '../conditions/subjects'
import { INSIDE } from '../places/places'
import { parseHours } from '../hours/hours'
import { CHECK_DEFAULTS, type Check, type CheckDocument, type SlowRule } from './check'
import { parseDuration } from './duration'
import type { KindDefinition, Kinds } from './kind'
import { parseShare } from './share'

type Written = Record<string, unknown>

/** Reads a document that was validated before it was stored; validates nothing again. */
export function acceptedCheck(document: CheckDocument, kinds: Kinds): Check {
  const written = document as Written
  const kind = Object.keys(kinds).find((each) => written[each] !== undefined)
  if (!kind) throw new Error(`The stored check ${document.check} has no known kind.`)
  const definition = kinds[kind] as unknown as KindDefinition
  const subjects = subjectsOf(kinds, kind)
  const down = (written.down ?? {}) as Written
  const target = definition.read(written[kind] as Written)
  const isInside = definition.inside?.(target) ?? false
  return {
    key: document.check,
    name: document.name,
    ...(written.service === undefined ? {} : { service: String(written.service) }),
    tags: (written.tags as string[] | undefined) ?? [],
    importance: (written.importance as Check['importance'] | undefined) ?? CHECK_DEFAULTS.importance,
    kind,
    target,
    isInside,
    every: Math.max(duration(written.every, CHECK_DEFAULTS.every), definition.shortest ?? 0),
    // what Hemeron judges itself has one place only, and is a fact at the first look
    from: isInside ? [INSIDE] : (written.from as Check['from'] | undefined) ?? 'all',
    turns: written.turns === 'in-turn' && !isInside ? 'in-turn' : 'together',
    needs: (written.needs as string[] | undefined) ?? [],
    ...(isWritten(written.hours) ? { hours: readHours(written.hours) } : {}),
    ...(isWritten(written.window) ? { window: readWindow(written.window) } : {}),
    wait: duration(written.wait, CHECK_DEFAULTS.wait),
    pass: ((written.pass as Written[] | undefined) ?? []).map((condition) => readCondition(condition, subjects)),
    turned: written.turned === true,
    down: {
      tries: Number(down.tries ?? (isInside ? 1 : CHECK_DEFAULTS.down.tries)),
      ...(down.of === undefined ? {} : { of: Number(down.of) }),
      apart: duration(down.apart, CHECK_DEFAULTS.down.apart),
      locations: Number(down.locations ?? CHECK_DEFAULTS.down.locations)
    },
    up: { tries: Number((written.up as Written | undefined)?.tries ?? (isInside ? 1 : CHECK_DEFAULTS.up.tries)) },
    ...(isWritten(written.slow) ? { slow: readSlow(written.slow) } : {})
  }
}

/** Whether something stands there that is neither left out nor one of the words for “not at all”. */
const isWritten = (value: unknown): value is Written => value !== null && typeof value === 'object'

function readHours(written: Written): NonNullable<Check['hours']> {
  return { at: (written.at as string[]).map((text) => parseHours(text)!), ...(written.zone === undefined ? {} : { zone: String(written.zone) }) }
}

function readWindow(written: Written): NonNullable<Check['window']> {
  return { only: written.only === true, ...(written.every === undefined ? {} : { every: duration(written.every, 0) }) }
}

function readSlow(slow: Written): SlowRule {
  const defaults = CHECK_DEFAULTS.slow
  return {
    phase: (slow.phase as SlowRule['phase'] | undefined) ?? 'total',
    above: slow.above === 'usual' ? 'usual' : duration(slow.above, 0),
    spreads: Number(slow.spreads ?? defaults.spreads),
    for: duration(slow.for, defaults.for),
    locations: Number(slow.locations ?? defaults.locations),
    margin: slow.margin === undefined ? defaults.margin : parseShare(String(slow.margin))!
  }
}

function duration(written: unknown, otherwise: number): number {
  return written === undefined ? otherwise : parseDuration(String(written))!
}
