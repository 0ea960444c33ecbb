import { MINUTE, type Instant } from '../units'

/** What a failing check is known by: itself, what it needs, and what it depends on in other ways. */
export type FacetKind = 'self' | 'need' | 'address' | 'host' | 'location' | 'service' | 'provider'

export interface Facet {
  kind: FacetKind
  value: string
  /** As a sentence says it: “the address 192.0.2.10”. */
  words: string
}

/** What another failure would have to be known by for the two to belong together, and how that is said. */
export interface Sought {
  kind: FacetKind
  value: string
  why: string
}

/** When a failure can have begun: after the last pass and not after the first failure. Without a pass before, at its first failure. */
export interface Onset {
  lastPass?: Instant
  since: Instant
}

/** An open incident others may belong to. */
export interface Leading {
  incident: number
  onset: Onset
  facets: Pick<Facet, 'kind' | 'value'>[]
}

/** What a check is known by when it fails. */
export interface FailingCheck {
  key: string
  name: string
  /** Keys of all checks it needs, directly or through others, with their names. */
  needs: { key: string; name: string }[]
  target: string
  /** Addresses that were used by its failing tries. */
  addresses: string[]
  service?: { key: string; name: string }
  failing: { key: string; place: string; network: string }[]
  /** Locations at which it has passed since it began to fail elsewhere. */
  passing: { key: string; network: string }[]
}

/** Two onsets this far apart may still have one cause: probes take their turns and confirming takes its time. */
export const APART = 3 * MINUTE

/** The host of a target; undefined for what is no host, such as a name of another check. */
export function hostOfTarget(target: string): string | undefined {
  const host = target.includes('://') && URL.canParse(target) ? new URL(target).hostname : /^\[?([^\s/@[\]]+?)\]?(?::\d+)?(?:[/?].*)?$/.exec(target.replace(/^\S+@/, ''))?.[1]
  return host !== undefined && /[.:]/.test(host) ? host.replace(/^\[|\]$/g, '').toLowerCase() : undefined
}

/**
 * What a failing check shares with others, the most telling first. Locations count only when at least as many others
 * were seen to pass meanwhile: failing everywhere says nothing about a place, and neither do the first places that were
 * asked.
 */
export function facetsOf({ key, name, needs, target, addresses, service, failing, passing }: FailingCheck): Facet[] {
  const host = hostOfTarget(target)
  const isPart = failing.length > 0 && passing.length >= failing.length
  const [network] = new Set(failing.map((each) => each.network))
  const isNetwork = isPart && failing.every((each) => each.network === network) && passing.every((each) => each.network !== network)
  return [
    { kind: 'self', value: key, words: name }, ...needs.map((each): Facet => ({ kind: 'need', value: each.key, words: each.name })),
    ...[...new Set(addresses)].map((value): Facet => ({ kind: 'address', value, words: `the address ${value}` })),
    ...(host === undefined ? [] : [{ kind: 'host' as const, value: host, words: `the host ${host}` }]),
    ...(isPart ? [{ kind: 'location' as const, value: failing.map((each) => each.key).sort().join(' '), words: failing.length > 3 ? `the same ${failing.length} locations` : failing.map((each) => each.place).join(', ') }] : []),
    ...(service ? [{ kind: 'service' as const, value: service.key, words: `the service ${service.name}` }] : []),
    ...(isNetwork ? [{ kind: 'provider' as const, value: network!, words: `the network ${network}` }] : [])
  ]
}

/** Whether two failures can have begun within a few minutes of each other, given that each is only seen now and then. */
export function beganTogether(one: Onset, other: Onset): boolean {
  const from = (onset: Onset) => Math.min(onset.lastPass ?? onset.since, onset.since) - APART / 2
  const to = (onset: Onset) => onset.since + APART / 2
  return from(one) <= to(other) && from(other) <= to(one)
}

/** What to look for among open incidents, the most telling first. */
export function soughtBy(facets: readonly Facet[]): Sought[] {
  const of = (kind: FacetKind, why: (words: string) => string, as = kind): Sought[] => facets.filter((each) => each.kind === kind).map(({ value, words }) => ({ kind: as, value, why: why(words) }))
  return [
    ...of('need', (words) => `it needs ${words}`, 'self'), ...of('self', () => 'it is needed there', 'need'),
    ...of('address', (words) => `both use ${words}`), ...of('host', (words) => `both use ${words}`), ...of('location', (words) => `both fail only at ${words}`),
    ...of('need', (words) => `both need ${words}`), ...of('service', (words) => `both belong to ${words}`), ...of('provider', (words) => `both fail only in ${words}`)
  ]
}

/**
 * The open incident a new failure belongs to, and why: they began together and share something. The most telling thing
 * they share decides, and among equals the incident that began last. A failure is compared with the check that leads an
 * incident, never with one that joined it: a chain of joiners would end up far from the cause.
 */
export function togetherWith(onset: Onset, sought: readonly Sought[], open: readonly Leading[]): { incident: number; why: string } | undefined {
  const fitting = open.filter((each) => beganTogether(onset, each.onset)).flatMap((each) => {
    const rank = sought.findIndex(({ kind, value }) => each.facets.some((other) => other.kind === kind && other.value === value))
    return rank < 0 ? [] : [{ ...each, rank }]
  })
  const best = fitting.sort((a, b) => a.rank - b.rank || b.onset.since - a.onset.since)[0]
  return best && { incident: best.incident, why: sought[best.rank]!.why }
}

/** “Sailings API and 4 more”: a check with those that fail with it. */
export const withMore = (name: string, more: number): string => (more === 0 ? name : `${name} and ${more} more`)
