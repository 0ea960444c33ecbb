import { change, row, rows, type Queryable } from './database'

export interface Location {
  id: number
  key: string
  place: string
  country: string
  network: string
  networkType: 'transit' | 'access' | 'mobile' | 'hosting' | 'own'
  allowsInternal: boolean
}

const SELECT = `SELECT id, location_key AS \`key\`, place, country, network, network_type AS networkType, allows_internal AS allowsInternal
  FROM location ORDER BY position, id`

export async function listLocations(on: Queryable): Promise<Location[]> {
  return (await rows<Location>(on, SELECT)).map((each) => ({ ...each, allowsInternal: Boolean(each.allowsInternal) }))
}

export async function addLocation(on: Queryable, location: Omit<Location, 'id'>, position: number): Promise<number> {
  const result = await change(on, `INSERT INTO location (location_key, place, country, network, network_type, allows_internal, position) VALUES (?, ?, ?, ?, ?, ?, ?)`,
    [location.key, location.place, location.country, location.network, location.networkType, location.allowsInternal ? 1 : 0, position])
  return result.insertId
}

/** The next number of the counter that tells everyone that definitions changed. */
export async function bumpDefinitions(on: Queryable): Promise<void> {
  await change(on, "UPDATE counter SET value = value + 1 WHERE name = 'definitions'")
}

export async function definitionsNumber(on: Queryable): Promise<number> {
  return Number((await row<{ value: number }>(on, "SELECT value FROM counter WHERE name = 'definitions'"))!.value)
}
