import type { CheckDocument } from '../definitions/check'
import { freeKey, keyFromName } from '../definitions/key'
import type { ServiceDocument } from '../definitions/service'
import { withoutFields } from '../definitions/without-fields'
import type { LocationChoice } from '../places/places'

/** What is different at the new stage. */
export interface StageWish {
  stage: string
  /** Values that replace those of the service; others stay as they are. */
  variables: Record<string, string>
  from?: LocationChoice
}

/**
 * Makes the documents of a service and its checks for another stage. Keys end in the stage; what a check needs among the
 * copied ones it needs of the copies, and the rest stays as it is.
 * @param isTaken whether a key of a service or a check is in use
 */
export function copyStage(service: ServiceDocument, checks: CheckDocument[], wish: StageWish, isTaken: (kind: 'service' | 'check', key: string) => boolean): { service: ServiceDocument; checks: CheckDocument[] } {
  const suffix = keyFromName(wish.stage, 'stage')
  const ending = `-${keyFromName(String(service.stage ?? 'production'))}`
  const bare = (key: string) => (key.endsWith(ending) ? key.slice(0, -ending.length) : key)
  const serviceKey = freeKey(`${bare(service.service)}-${suffix}`, (key) => isTaken('service', key))
  const keys = new Map<string, string>()
  for (const { check } of checks) keys.set(check, freeKey(`${bare(check)}-${suffix}`, (key) => isTaken('check', key) || [...keys.values()].includes(key)))
  const variables = { ...(service.variables as Record<string, string> | undefined), ...wish.variables }
  return {
    service: { name: service.name, ...withoutFields(service, ['client', 'objective']), service: serviceKey, stage: wish.stage, ...(Object.keys(variables).length > 0 ? { variables } : {}), ...(wish.from === undefined ? {} : { from: wish.from }) },
    checks: checks.map((check) => {
      const needs = (check.needs as string[] | undefined)?.map((need) => keys.get(need) ?? need)
      return { ...(wish.from === undefined ? check : withoutFields(check, ['from'])), check: keys.get(check.check)!, name: check.name, service: serviceKey, ...(needs ? { needs } : {}) }
    })
  }
}

/** Two checks that stand for the same thing at two stages; a side is missing where only one stage has it. */
export interface Pair<Item> {
  name: string
  left?: Item
  right?: Item
}

/** Pairs the checks of two stages by name, and where no name fits by the beginning of the key. */
export function pairChecks<Item extends { key: string; name: string }>(left: Item[], right: Item[]): Pair<Item>[] {
  const free = new Set(right)
  const take = (fits: (item: Item) => boolean): Item | undefined => {
    const found = [...free].find(fits)
    if (found) free.delete(found)
    return found
  }
  const byName = left.map((item) => ({ item, match: take((each) => each.name === item.name) }))
  const pairs = byName.map(({ item, match }): Pair<Item> => {
    const other = match ?? take((each) => each.key.startsWith(`${item.key}-`) || item.key.startsWith(`${each.key}-`))
    return { name: item.name, left: item, ...(other ? { right: other } : {}) }
  })
  return [...pairs, ...[...free].map((item): Pair<Item> => ({ name: item.name, right: item }))]
}
