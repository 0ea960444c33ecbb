import { judgeAnswer } from '../../src/core/conditions/judge-answer'
import type { Check } from '../../src/core/definitions/check'
import type { Observation, Occasion } from '../../src/core/observation'
import { DAY, type Instant } from '../../src/core/units'
import type { HttpTarget } from '../../src/kinds/http/target'
import type { Drill } from '../world/faults'
import type { Host } from '../world/hosts'
import { behaviour, lineState, lookupTime, roundTrip, type LineState } from '../world/model'
import { PAGES } from '../world/pages'
import { stepsOfWay } from '../world/paths'
import type { Place } from '../world/places'
import { seeded } from '../world/random'

/** A check of the demo with everything that never changes worked out once. */
export interface Sampled {
  id: number
  check: Check<HttpTarget>
  host: Host
  path: string
  /** The body of the page and what its conditions say, when all is well. */
  size: number
  status: number
  slowAbove?: number
}

export function sampled(id: number, check: Check<HttpTarget>, host: Host, path: string): Sampled {
  return { id, check, host, path, size: PAGES[host.name]![path]!.body(0).length, status: PAGES[host.name]![path]!.status ?? 200, ...(check.slow && check.slow.above !== 'usual' ? { slowAbove: check.slow.above } : {}) }
}

/** Four packets beside a try, as the probe sends them now and then. */
function besideOf(line: LineState, random: () => number): Record<string, number> {
  const lost = [0, 1, 2, 3].filter(() => random() < line.loss).length
  return { loss: lost / 4, ...(lost === 4 ? {} : { rtt: roundTrip({ ...line, loss: 0 }, random, false) }) }
}

const SEED = 20_261_123

/**
 * What a try would have given at a moment of the past: the same servers, lines and faults as the live world, with
 * random numbers that depend on check, place and moment alone.
 */
export function sample({ id, check, host, path, size, status, slowAbove }: Sampled, location: number, place: Place, at: Instant, occasion: Occasion, now: Instant, has: (drill: Drill) => boolean): Observation {
  const random = seeded(SEED, id, location, at)
  const line = lineState(place, has)
  const fail = (reason: string, sentence: string, phases: Observation['phases'], total: number, more: object = {}): Observation =>
    ({ check: id, location, at, occasion, version: 1, verdict: 'fail', reason, sentence, phases, total, ...more })
  if (line.cut) return fail('timed-out-lookup', `the resolver did not answer within ${check.wait / 1000} s`, { lookup: check.wait }, check.wait)
  const server = host.servers[Math.floor(random() * host.servers.length)]!
  const lookup = lookupTime(line, random)
  const connect = roundTrip(line, random, true)
  const behaves = behaviour(host, server.name, path, at, has, random)
  if (behaves.does === 'refuse') return fail('connection-refused', `${server.address}:443 refuses the connection: nothing listens there`, { lookup, connect }, lookup + connect, { address: server.address })
  const tls = roundTrip(line, random, false) + 2.5
  if (host.name === 'berths.orrinsound.example' && has('expired-certificate')) {
    return fail('certificate-expired', 'the certificate ended 24 h 00 min ago', { lookup, connect, tls }, lookup + connect + tls, { address: server.address })
  }
  if (behaves.does === 'stay-silent') return fail('timed-out-wait', `connected, but the answer did not begin within ${check.wait / 1000} s`, { lookup, connect, tls, wait: check.wait - lookup - connect - tls }, check.wait, { address: server.address })
  const wait = roundTrip(line, random, false) + behaves.work
  const beside = random() < 0.2 ? besideOf(line, random) : undefined
  const isLookedAt = random() < 0.04
  const readings = { ...beside, ...(isLookedAt ? { hops: stepsOfWay(place, has), changes: 0 } : {}) }
  const receive = 0.2 + size / 1000 / line.bandwidth
  const phases = { lookup, connect, tls, wait, receive }
  const total = lookup + connect + tls + wait + receive
  const answered: Observation = {
    check: id, location, at, occasion, version: 1, verdict: 'pass', phases, total, address: server.address, server: server.name, protocol: host.http2 ? 'HTTP/2' : 'HTTP/1.1', resolver: place.resolver, tlsVersion: 'TLSv1.3',
    certificateEnd: now + host.certificateDays * DAY, bytesSent: 0, status: behaves.status, bytesReceived: size, ...(beside || isLookedAt ? { readings } : {})
  }
  const isFine = behaves.status === status && !behaves.half
  if (isFine && host.certificateDays > 14 && (slowAbove === undefined || total <= slowAbove)) return answered
  const page = PAGES[host.name]![path]!
  const body = behaves.half ? page.body(at).replace(new RegExp(`<${page.half}.*</${page.half}>`, 's'), '') : isFine ? page.body(at) : 'The server has a fault. Try again later.'
  const { verdict } = judgeAnswer(check as Check, { status: behaves.status, headers: [['content-type', page.type]], body, bytes: size, times: { ...phases, total }, certificateLeft: host.certificateDays * DAY })
  return { ...answered, ...verdict }
}
