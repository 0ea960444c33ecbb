import { changedSteps, type Steps } from '../../core/network/path-changes'
import type { EvidenceTable } from '../../core/observation'
import { MINUTE, type Instant, type Milliseconds } from '../../core/units'
import { Trying } from '../attempt/attempt'
import { isAddress } from '../attempt/open'
import { PhaseClock } from '../attempt/phase-clock'
import { wayTable } from '../attempt/way-table'
import { walk } from '../dns/walk'
import type { Link } from '../link'

/** What was found on the way to an address, or on the way to the answer of a name. */
export interface Look {
  at: Instant
  readings: Record<string, number>
  table: EvidenceTable
  /** It says something that the look before it did not. */
  isNews: boolean
}

/** What a try is about: the address it used and the host it asked. */
export interface Around { address: string | undefined; host: string }

/** While all is well a way is looked at this seldom, and beside bad tries this often; all checks of a location share a look. */
const [EVERY, AGAIN] = [30 * MINUTE, MINUTE]
/** A look takes no longer than this. */
const PATIENCE: Milliseconds = 5000
const WAY = { protocol: 'udp', most: 24, tries: 2 } as const

interface Watched { begun: Instant; last?: Look; steps?: Steps; going?: Promise<void> }
const looksOf = new WeakMap<Link, Map<string, Watched>>()

/**
 * Looks at the way to an address and at the resolution of a name from the root, beside the tries of web checks and without holding them up:
 * what a look finds is handed to the try that follows it. Works as often as it is due; never rejects.
 * @param every how old the last look may be while all is well
 */
export function lookAround(link: Link, { address, host }: Around, now: Instant, isBad: boolean, every = EVERY): void {
  const oldest = isBad ? AGAIN : every
  if (address !== undefined) watch(link, `way ${address}`, now, oldest, (watched, signal) => theWay(link, address, watched, now, signal))
  if (!isAddress(host)) watch(link, `name ${host}`, now, oldest, (watched, signal) => theResolution(link, host, watched, now, signal))
}

/** What was found since a moment about an address and a name. */
export const seenAround = (link: Link, around: Around, since: Instant): Look[] => watchedOf(link, around).flatMap(({ last }) => (last && last.at > since ? [last] : []))

/** The newest readings since a moment of an address and a name, once looks that go on are done. */
export async function knownAround(link: Link, around: Around, since: Instant): Promise<Record<string, number>> {
  await Promise.all(watchedOf(link, around).map((each) => each.going))
  return Object.assign({}, ...seenAround(link, around, since).map((each) => each.readings)) as Record<string, number>
}

const watchedOf = (link: Link, { address, host }: Around): Watched[] => [`way ${address}`, `name ${host}`].flatMap((key) => looksOf.get(link)?.get(key) ?? [])

function watch(link: Link, key: string, now: Instant, oldest: Milliseconds, look: (watched: Watched, signal: AbortSignal) => Promise<Look>): void {
  const looks = looksOf.get(link) ?? new Map<string, Watched>()
  looksOf.set(link, looks)
  const watched = looks.get(key) ?? { begun: -Infinity }
  looks.set(key, watched)
  if (now - watched.begun < oldest) return
  watched.begun = now
  // a line that carries no such packets, such as a proxy, has no surroundings
  watched.going = look(watched, AbortSignal.timeout(PATIENCE)).then((found) => { watched.last = found }, () => undefined)
}

async function theWay(link: Link, address: string, watched: Watched, at: Instant, signal: AbortSignal): Promise<Look> {
  const hops = await link.path(address, WAY, signal)
  const steps: Steps = Object.fromEntries(hops.map(({ away, addresses }) => [away, addresses]))
  const before = watched.steps
  const changed = before ? changedSteps(before, steps) : []
  watched.steps = steps
  return { at, isNews: changed.length > 0, readings: { hops: hops.findLast((hop) => hop.addresses.length > 0)?.away ?? 0, changes: changed.length }, table: wayTable(`The way to ${address}`, hops, changed, before) }
}

/** A walk that takes so many times as long as the last one is news. */
const SLOWER = 3

async function theResolution(link: Link, host: string, watched: Watched, at: Instant, signal: AbortSignal): Promise<Look> {
  const trying = new Trying(link, new PhaseClock(performance.now()), signal, 0, new Map())
  let took: number | undefined
  try {
    took = (await walk(trying, { name: host, type: 'A', recursive: false, dnssec: false })).took
  } catch (error) {
    if (!trying.evidence.tables?.[0]?.rows.length) throw error
  }
  const last = watched.last?.readings.resolution
  const isNews = watched.last !== undefined && (took === undefined ? last !== undefined : last === undefined || took > SLOWER * last)
  return { at, isNews, readings: took === undefined ? {} : { resolution: took }, table: { ...trying.evidence.tables![0]!, title: `${host}, step by step from the root` } }
}
