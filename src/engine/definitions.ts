import { scatter } from '../core/schedule/next-run'
import { listChecks, type StoredCheck } from '../store/checks'
import type { Queryable } from '../store/database'
import { definitionsNumber, listLocations, locationsOf, type Location } from '../store/locations'
import { listServices, type StoredService } from '../store/services'
import { readSettings, type Settings } from '../store/settings'

/** Everything people defined, as an engine works with it. */
export interface Definitions {
  number: number
  checks: Map<number, StoredCheck>
  /** The ids of each check's locations, in the order in which they are asked after a first failure. */
  places: Map<number, number[]>
  locations: Map<number, Location>
  services: Map<number, StoredService>
  settings: Settings
}

/** Reads definitions again when their number has moved. */
export async function refresh(on: Queryable, before: Definitions | undefined): Promise<Definitions> {
  const number = await definitionsNumber(on)
  if (before && before.number === number) return before
  const [checks, locations, services, settings] = [await listChecks(on), await listLocations(on), await listServices(on), await readSettings(on)]
  return {
    number,
    checks: new Map(checks.map((each) => [each.id, each])),
    places: new Map(checks.map((each) => [each.id, spread(locationsOf(each.check.from, locations), each.id)])),
    locations: new Map(locations.map((each) => [each.id, each])),
    services: new Map(services.map((each) => [each.id, each])),
    settings
  }
}

/** Mixes the locations, another way for each check, but takes one of every country before a second of any. */
function spread(locations: Location[], check: number): number[] {
  const mixed = [...locations].sort((a, b) => scatter(check * 7919 + a.id) - scatter(check * 7919 + b.id))
  const rank = new Map<number, number>()
  const seen = new Map<string, number>()
  for (const location of mixed) {
    const turn = seen.get(location.country) ?? 0
    seen.set(location.country, turn + 1)
    rank.set(location.id, turn)
  }
  return mixed.sort((a, b) => rank.get(a.id)! - rank.get(b.id)!).map((location) => location.id)
}
