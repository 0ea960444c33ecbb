import type { Placed } from '../core/places/places'
import type { Instant } from '../core/units'
import { change, fromJson, row, rows, type Queryable } from './database'
import { seal, unseal } from './seal'

/** What people say of a location. */
export interface LocationFacts extends Placed {
  place: string
  allowsInternal: boolean
  latitude: number | null
  longitude: number | null
  /** Address ranges (CIDR) it may ask; every public address when there are none. */
  ranges: string[]
  /** `http://…` or `socks5://…`; its password is hidden wherever it is read. Undefined keeps the present one when a location is changed. */
  proxy?: string | null
  /** `host:port` of what it watches to know that its own line works. */
  references: string[]
}

export interface Location extends LocationFacts {
  id: number
  proxy: string | null
  /** Since when none of its reference targets answers. */
  cutSince: Instant | null
}

type LocationRow = Omit<Location, 'ranges' | 'references' | 'allowsInternal' | 'proxy'> & { allowsInternal: number; ranges: unknown; references: unknown; proxy: Buffer | null }

const SELECT = `SELECT id, location_key AS \`key\`, place, country, network, network_type AS networkType, allows_internal AS allowsInternal, latitude, longitude, ranges, proxy,
  reference_targets AS \`references\`, cut_since AS cutSince FROM location ORDER BY position, id`

const list = (value: unknown): string[] => (value === null ? [] : fromJson<string[]>(value))

export async function listLocations(on: Queryable): Promise<Location[]> {
  return (await rows<LocationRow>(on, SELECT)).map((each) => ({
    ...each, allowsInternal: Boolean(each.allowsInternal), ranges: list(each.ranges), references: list(each.references), proxy: each.proxy === null ? null : withoutPassword(unsealProxy(each.key, each.proxy))
  }))
}

const unsealProxy = (key: string, sealed: Buffer) => unseal(sealed, `location/${key}/proxy`)

function withoutPassword(proxy: string): string {
  const url = new URL(proxy)
  if (url.password !== '') url.password = 'hidden'
  return url.href
}

/** The proxies of locations as probes need them, with their passwords. */
export async function openProxies(on: Queryable): Promise<Map<number, string>> {
  const found = await rows<{ id: number; key: string; proxy: Buffer }>(on, 'SELECT id, location_key AS `key`, proxy FROM location WHERE proxy IS NOT NULL')
  return new Map(found.map(({ id, key, proxy }) => [id, unsealProxy(key, proxy)]))
}

const columnsOf = (facts: LocationFacts): Record<string, unknown> => ({
  place: facts.place, country: facts.country, network: facts.network, network_type: facts.networkType, allows_internal: facts.allowsInternal ? 1 : 0, latitude: facts.latitude, longitude: facts.longitude,
  ranges: JSON.stringify(facts.ranges), reference_targets: JSON.stringify(facts.references), ...(facts.proxy === undefined ? {} : { proxy: facts.proxy === null ? null : seal(facts.proxy, `location/${facts.key}/proxy`) })
})

/** A location with the facts that most have no need of. */
export const plainLocation = (facts: Pick<LocationFacts, 'key' | 'place' | 'country' | 'network' | 'networkType'> & Partial<LocationFacts>): LocationFacts =>
  ({ allowsInternal: false, latitude: null, longitude: null, ranges: [], references: [], ...facts })

export async function addLocation(on: Queryable, facts: LocationFacts, position: number): Promise<number> {
  const columns = columnsOf(facts)
  const result = await change(on, `INSERT INTO location (location_key, position, ${Object.keys(columns).join(', ')}) VALUES (?)`, [[facts.key, position, ...Object.values(columns)]])
  return result.insertId
}

/** Changes what is said of a location; its key stays. */
export async function changeLocation(on: Queryable, facts: LocationFacts): Promise<void> {
  const columns = columnsOf(facts)
  await change(on, `UPDATE location SET ${Object.keys(columns).map((column) => `${column} = ?`).join(', ')} WHERE location_key = ?`, [...Object.values(columns), facts.key])
}

/** Notes that a location lost its line, or has it again. Gives whether that is news. */
export async function setCut(on: Queryable, location: number, since: Instant | null): Promise<boolean> {
  const { affectedRows } = await change(on, since === null ? 'UPDATE location SET cut_since = NULL WHERE id = ? AND cut_since IS NOT NULL' : 'UPDATE location SET cut_since = ? WHERE id = ? AND cut_since IS NULL', since === null ? [location] : [since, location])
  return affectedRows > 0
}

/** The next number of the counter that tells everyone that definitions changed. */
export async function bumpDefinitions(on: Queryable): Promise<void> {
  await change(on, "UPDATE counter SET value = value + 1 WHERE name = 'definitions'")
}

export async function definitionsNumber(on: Queryable): Promise<number> {
  return Number((await row<{ value: number }>(on, "SELECT value FROM counter WHERE name = 'definitions'"))!.value)
}
