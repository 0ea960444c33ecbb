import type { Instant } from '../../src/core/units'
import type { Drill } from './faults'
import { busyness } from './faults'
import type { Host } from './hosts'
import { PAGES } from './pages'
import type { Place } from './places'
import { tail } from './random'

/** What a target server does with a request: the live server and the recorded past both ask this. */
export type Behaviour =
  | { does: 'answer'; status: number; work: number; half: boolean }
  | { does: 'refuse' }
  | { does: 'stay-silent' }

/** How the servers of the world behave under the faults of a moment. */
export function behaviour(host: Host, server: string, path: string, at: Instant, has: (drill: Drill) => boolean, random: () => number): Behaviour {
  const page = PAGES[host.name]?.[path]
  if (host.name === 'orrin-freight.example' && has('freight-refused')) return { does: 'refuse' }
  if (host.name === 'boards.orrinsound.example' && has('boards-silent')) return { does: 'stay-silent' }
  if (server === 'edge-4' && has('edge-4')) return { does: 'answer', status: 503, work: 40, half: false }
  const isFlapping = host.name === 'staging.orrinsound.example' && has('staging-flaps') && Math.floor(at / 60_000) % 5 < 4
  if (isFlapping) return { does: 'answer', status: 502, work: 20, half: false }
  if (!page) return { does: 'answer', status: 404, work: 5, half: false }
  const slow = host.name === 'book.orrinsound.example' && has('slow-booking') ? 14 : 1
  return {
    does: 'answer', status: page.status ?? 200, work: page.work * busyness(at) * slow * tail(random, 0.18),
    half: host.name === 'pay.orrinsound.example' && page.half !== undefined && has('half-page')
  }
}

/** The line of a location under the faults of a moment. Times in milliseconds, loss as a share. */
export interface LineState {
  rtt: number
  jitter: number
  loss: number
  cut: boolean
  bandwidth: number
}

export function lineState(place: Place, has: (drill: Drill) => boolean): LineState {
  const losing = place.key === 'valparaiso-pacifico' && has('pacifico-loss')
  return { rtt: place.rtt, jitter: place.jitter, loss: losing ? 0.27 : place.networkType === 'mobile' ? 0.0004 : 0.00004, cut: place.key === 'galway' && has('galway-line'), bandwidth: place.bandwidth }
}

/** The time of one round trip, with jitter; a lost packet costs a retransmission (RFC 6298: 1 s for the first of a connection). */
export function roundTrip(line: LineState, random: () => number, first: boolean): number {
  let lost = 0
  while (random() < line.loss && lost < 3) lost += 1
  const timeout = first ? 1000 : Math.max(200, 2 * line.rtt)
  return line.rtt * tail(random, line.jitter) + timeout * (2 ** lost - 1)
}

/** How long a name takes to resolve: the resolver is near the location. */
export function lookupTime(line: LineState, random: () => number): number {
  return 1.5 + 0.22 * line.rtt * tail(random, 0.3)
}
