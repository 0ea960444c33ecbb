export const NETWORK_TYPES = ['transit', 'access', 'mobile', 'hosting', 'own'] as const
export type NetworkType = (typeof NETWORK_TYPES)[number]

/**
 * From where a check runs: everywhere, from locations by key, or from all that fit a country (ISO 3166) and a network,
 * given by its type (`mobile`) or its provider's name. With a description, locations added later count too.
 */
export type LocationChoice = 'all' | string[] | { networks?: string[]; countries?: string[] }

/** What a choice looks at. */
export interface Placed {
  key: string
  country: string
  network: string
  networkType: NetworkType
}

/** The key of the place from which Hemeron judges what only itself can know: calls, pushed numbers, other checks. */
export const INSIDE = 'hemeron'

/** Locations as people choose among them: those from which something is asked. */
export const outside = <Location extends Pick<Placed, 'key'>>(locations: Location[]): Location[] => locations.filter((location) => location.key !== INSIDE)

/** The locations of a choice, in the given order. Unknown keys are left out. */
export function locationsOf<Location extends Placed>(from: LocationChoice, locations: Location[]): Location[] {
  if (from === 'all') return outside(locations)
  if (Array.isArray(from)) return locations.filter((location) => from.includes(location.key))
  const { networks, countries } = from
  return outside(locations).filter((location) =>
    (countries === undefined || countries.includes(location.country)) &&
    (networks === undefined || networks.includes(location.networkType) || networks.includes(location.network)))
}

/** Says a choice: `all 12 locations`, `Bergen and Lisbon`, `mobile networks in NO and PT (3)`. */
export function speakChoice(from: LocationChoice, locations: (Placed & { place: string })[]): string {
  const count = (number: number) => `${number} ${number === 1 ? 'location' : 'locations'}`
  if (from === 'all') return `all ${count(outside(locations).length)}`
  if (Array.isArray(from)) {
    const name = (key: string) => locations.find((location) => location.key === key)?.place ?? key
    return from.length <= 2 ? from.map(name).join(' and ') : count(from.length)
  }
  const types: readonly string[] = NETWORK_TYPES
  const networks = from.networks && and(from.networks.map((network) => (types.includes(network) ? `${network} networks` : network)))
  const countries = from.countries && and(from.countries)
  return `${[networks, countries && `in ${countries}`].filter((part) => part !== undefined).join(' ')} (${count(locationsOf(from, locations).length)})`
}

function and(words: string[]): string {
  return words.length <= 1 ? words.join('') : `${words.slice(0, -1).join(', ')} and ${words.at(-1)}`
}
