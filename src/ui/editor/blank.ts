import type { CheckDocument } from '@/core/definitions/check'
import type { KindDefinition } from '@/core/definitions/kind'
import { withoutFields } from '@/core/definitions/without-fields'
import { kinds } from '@/kinds/definitions'

/** The key and the name of a check that has none yet. */
export const NEW_KEY = 'new-check'
export const NEW_NAME = 'New check'

/** A check of a kind that goes nowhere yet. */
export function blankCheck(kind = 'http'): CheckDocument {
  return { check: NEW_KEY, name: '', [kind]: kinds[kind]!.blank }
}

/** Whether a target's address was filled in; blank ones lie under `.invalid` (RFC 2606, section 2), and no check is called `no-check-yet`. */
export const isFilledIn = (kind: KindDefinition, target: unknown): boolean => !/address\.invalid|no-check-yet/.test(kind.address(target))

/** The document made a check of another kind, with the host it had where the new kind takes one. */
export function asKind(document: CheckDocument, from: KindDefinition, target: unknown, to: KindDefinition): CheckDocument {
  const rest = withoutFields(document, [from.kind, 'pass'])
  const blank = to.read(to.blank)
  const host = isFilledIn(from, target) ? hostIn(from.address(target)) : undefined
  const filled = host === undefined ? undefined : to.readPart(blank, to.addressPart, host)
  const next = filled !== undefined && !(typeof filled === 'object' && filled !== null && 'expected' in filled) ? filled : blank
  return { ...rest, [to.kind]: to.write(next), ...(next === blank ? {} : { pass: to.firstConditions(next) }) } as CheckDocument
}

/** The host in an address as tables show it: `https://host/path`, `host:port`, `host`. */
function hostIn(address: string): string {
  if (URL.canParse(address) && address.includes('://')) return new URL(address).hostname
  return address.replace(/:\d+$/, '').split(' ')[0]!
}
