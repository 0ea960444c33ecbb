import type { CheckDocument } from '../definitions/check'

type Written = Record<string, unknown>

/** Where a value of a check comes from: itself, its service, the workspace's defaults, or built in. */
export type Origin = 'check' | 'service' | 'workspace' | 'built in'

/** One condition of a check as it counts: its own by its place in the own list, or a common one of the service. */
export interface ConditionOrigin {
  origin: 'check' | 'service'
  /** Its index in the check's own list; missing for a common one. */
  own?: number
  subject: string
}

export interface Effective {
  document: CheckDocument
  /** By part, as sentences name it: `every`, `down.tries`, `slow.above`. */
  origins: Record<string, Origin>
  conditions: ConditionOrigin[]
}

const WHOLE = ['importance', 'every', 'from', 'turns', 'wait', 'hours', 'window'] as const
/** Groups whose parts are taken one by one; parts that only make sense together go together. */
const GROUPS: Record<string, string[][]> = {
  down: [['tries', 'of'], ['apart'], ['locations']],
  up: [['tries']],
  slow: [['phase'], ['above', 'spreads'], ['for'], ['locations'], ['margin']]
}
/** Values that say “not at all” where a further place has something. */
const NOTHING: Partial<Record<string, string>> = { hours: 'always', window: 'none', slow: 'none' }

/** Fields that checks take from their service and the workspace. */
export const INHERITED = [...WHOLE, ...Object.keys(GROUPS)]

/**
 * Fills in what a check leaves to its service and the workspace. Variables stay as they are written.
 * Common conditions of the service come first; an own condition on the same subject stands in place of a common one,
 * and `without` leaves one out.
 * @param suits says whether a common condition means something for the check's kind; those that do not are left out
 */
export function inherit(own: CheckDocument, service: Written | undefined, workspace: Written, suits: (condition: Written) => boolean = () => true): Effective {
  const layers: { origin: Origin; written: Written }[] = [
    { origin: 'check', written: own }, ...(service ? [{ origin: 'service' as const, written: service }] : []), { origin: 'workspace', written: workspace }
  ]
  const origins: Record<string, Origin> = {}
  const document: Written = { ...own }
  for (const field of WHOLE) {
    const giver = layers.find(({ written }) => written[field] !== undefined)
    origins[field] = giver?.origin ?? 'built in'
    if (giver) document[field] = giver.written[field]
    if (document[field] !== undefined && document[field] === NOTHING[field]) delete document[field]
  }
  for (const [group, parts] of Object.entries(GROUPS)) mergeGroup(document, group, parts, layers, origins)
  const { pass, conditions } = mergeConditions(own, ((service?.pass as Written[] | undefined) ?? []).filter(suits))
  document.pass = pass
  delete document.without
  return { document: document as CheckDocument, origins, conditions }
}

function mergeGroup(document: Written, group: string, parts: string[][], layers: { origin: Origin; written: Written }[], origins: Record<string, Origin>): void {
  const until = layers.findIndex(({ written }) => written[group] !== undefined && written[group] === NOTHING[group])
  const saying = layers.slice(0, until < 0 ? layers.length : until).filter(({ written }) => written[group] !== undefined)
  origins[group] = saying[0]?.origin ?? (until < 0 ? 'built in' : layers[until]!.origin)
  const merged: Written = {}
  for (const together of parts) {
    const giver = saying.find(({ written }) => together.some((part) => (written[group] as Written)[part] !== undefined))
    for (const part of together) {
      origins[`${group}.${part}`] = giver?.origin ?? 'built in'
      const value = giver && (giver.written[group] as Written)[part]
      if (value !== undefined) merged[part] = value
    }
  }
  if (saying.length > 0) document[group] = merged
  else delete document[group]
}

/** What a condition looks at, to tell which of two are about the same: `status`, `json $.queue`, `header etag`. */
export function subjectOf(condition: Written): string {
  for (const field of ['json', 'xml', 'header', 'text', 'pattern', 'metric', 'phase']) if (condition[field] !== undefined) return `${field} ${String(condition[field])}`
  return Object.keys(condition).find((field) => !['not', 'softly'].includes(field)) ?? ''
}

function mergeConditions(own: Written, common: Written[]): { pass: Written[]; conditions: ConditionOrigin[] } {
  const mine = (own.pass as Written[] | undefined) ?? []
  const without = new Set((own.without as string[] | undefined) ?? [])
  const placed = new Set<number>()
  const merged: { written: Written; from: ConditionOrigin }[] = []
  for (const written of common) {
    const subject = subjectOf(written)
    const index = mine.findIndex((each, at) => !placed.has(at) && subjectOf(each) === subject)
    if (index >= 0) {
      placed.add(index)
      merged.push({ written: mine[index]!, from: { origin: 'check', own: index, subject } })
    } else if (!without.has(subject)) merged.push({ written, from: { origin: 'service', subject } })
  }
  for (const [index, written] of mine.entries()) if (!placed.has(index)) merged.push({ written, from: { origin: 'check', own: index, subject: subjectOf(written) } })
  return { pass: merged.map((each) => each.written), conditions: merged.map((each) => each.from) }
}

/** What of its service and the workspace a check says otherwise, by part: for “overrides something”. */
export function overridden(own: CheckDocument, service: Written | undefined): string[] {
  if (!service) return []
  const written = own as Written
  const whole = WHOLE.filter((field) => written[field] !== undefined && service[field] !== undefined)
  const grouped = Object.keys(GROUPS).filter((group) => written[group] !== undefined && service[group] !== undefined)
  const common = ((service.pass as Written[] | undefined) ?? []).map(subjectOf)
  const conditions = ((written.pass as Written[] | undefined) ?? []).map(subjectOf).filter((subject) => common.includes(subject))
  const left = ((written.without as string[] | undefined) ?? []).filter((subject) => common.includes(subject))
  const names = Object.keys((written.variables ?? {}) as object).filter((name) => Object.hasOwn((service.variables ?? {}) as object, name))
  return [...whole, ...grouped, ...conditions, ...left.map((subject) => `without ${subject}`), ...names]
}
