import type { Calendar } from '../core/planned/calendar'
import type { Instant } from '../core/units'
import { spread } from '../core/schedule/spread'
import { kinds } from '../kinds/definitions'
import { listChecks, type StoredCheck } from '../store/checks'
import type { Queryable } from '../store/database'
import { locationsOf } from '../core/places/places'
import { definitionsNumber, listLocations, type Location } from '../store/locations'
import { readPlannedCalendar } from '../store/planned'
import { windowsOf } from '../store/probes'
import { listServices, type StoredService } from '../store/world'
import { readRoutingWorld, type Routing } from '../store/routing'
import { readSettings, type Settings } from '../store/settings'

/** Everything people defined, as an engine works with it. */
export interface Definitions {
  number: number
  checks: Map<number, StoredCheck>
  /** The ids of each check's locations, in the order in which they are asked after a first failure. */
  places: Map<number, number[]>
  /** The checks that judge a check, by its key. */
  judges: Map<string, number[]>
  locations: Map<number, Location>
  services: Map<number, StoredService>
  settings: Settings
  calendar: Calendar
  /** Who hears of what. */
  routing: Routing
  /** Whether a release window is open for a check. */
  windowOpen: (stored: StoredCheck) => boolean
}

/** Reads definitions again when their number has moved. */
export async function refresh(on: Queryable, before: Definitions | undefined, now: Instant): Promise<Definitions> {
  const number = await definitionsNumber(on)
  if (before && before.number === number) return before
  const [checks, locations, services, settings] = [await listChecks(on), await listLocations(on), await listServices(on), await readSettings(on)]
  return {
    number,
    checks: new Map(checks.map((each) => [each.id, each])),
    places: new Map(checks.map((each) => [each.id, spread(locationsOf(each.check.from, locations), each.id).map((location) => location.id)])),
    judges: judgesOf(checks),
    locations: new Map(locations.map((each) => [each.id, each])),
    services: new Map(services.map((each) => [each.id, each])),
    settings, calendar: await readPlannedCalendar(on), routing: await readRoutingWorld(on), windowOpen: await windowsOf(on, now)
  }
}

function judgesOf(checks: StoredCheck[]): Map<string, number[]> {
  const judges = new Map<string, number[]>()
  for (const { id, check, settled } of checks) {
    const members = kinds[check.kind]?.members?.(settled.resolved[check.kind] as Record<string, unknown>) ?? []
    for (const member of members) judges.set(member, [...(judges.get(member) ?? []), id])
  }
  return judges
}
