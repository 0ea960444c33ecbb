import type { Hop, PathQuestion } from '../../src/kinds/link'
import type { Drill } from './faults'
import type { LineState } from './model'
import { PLACES, type Place } from './places'
import { tail } from './random'

/** Routers between a location and the company, by what they are; `share` is how far along the round trip they lie. */
interface Router {
  address: string
  share: number
  /** Routers that never answer a question about themselves. */
  silent?: boolean
  loss?: number
}

/** The way from a location to an address: out of its own network, over a carrier, into the company's hosting. */
function routers(place: Place, has: (drill: Drill) => boolean): Router[] {
  const number = PLACES.indexOf(place) + 1
  const own = (last: number) => `192.0.2.${100 + number * 8 + last}`
  const isLossy = place.key === 'valparaiso-pacifico' && has('pacifico-loss')
  const carrier = place.key === 'valparaiso-andes' && has('andes-detour') ? ['203.0.113.231', '203.0.113.232', '203.0.113.233'] : number % 2 === 0 ? ['203.0.113.211', '203.0.113.212'] : ['203.0.113.221']
  return [
    { address: own(1), share: 0.01 },
    { address: own(2), share: 0.06 },
    { address: own(3), share: 0.14, ...(isLossy ? { loss: 0.27 } : {}) },
    ...carrier.map((address, index) => ({ address, share: 0.35 + (0.5 * (index + 1)) / carrier.length, ...(index === 1 ? { silent: true } : {}) })),
    { address: '203.0.113.254', share: 0.95 }
  ]
}

/** How many steps the way from a location has, the target itself with them. */
export const stepsOfWay = (place: Place, has: (drill: Drill) => boolean): number => routers(place, has).length + 1

/** What following the path gives: as many steps as there are routers, the target itself last where it answers. */
export function hopsTo(place: Place, address: string, isThere: boolean, { most, tries }: PathQuestion, line: LineState, has: (drill: Drill) => boolean): Hop[] {
  const chain: Router[] = line.cut ? [] : [...routers(place, has), { address, share: 1, ...(isThere ? {} : { silent: true }) }]
  const extra = place.key === 'valparaiso-andes' && has('andes-detour') ? 60 : 0
  let carried = 0
  const hops = chain.slice(0, most).map((router, index): Hop => {
    // what one router loses is lost for all behind it
    carried = Math.max(carried, router.loss ?? 0)
    const times = Array.from({ length: tries }, () => (router.silent || Math.random() < carried ? null : line.rtt * router.share * tail(Math.random, line.jitter) + (index >= 3 ? extra : 0) + 0.2))
    return { away: index + 1, addresses: times.some((time) => time !== null) ? [router.address] : [], times }
  })
  if (isThere && !line.cut) return hops
  while (hops.length < Math.min(most, chain.length + 4)) hops.push({ away: hops.length + 1, addresses: [], times: Array.from({ length: tries }, () => null) })
  return hops
}
