import { seededRandom } from '../seeded-random'
import { HOUR } from '../units'
import type { Column, Tries } from './tries'

// many millions of calls: looked up once
const { cos, exp, floor, log, PI, sqrt } = Math

/** Causes a made world can have; `none` has nothing wrong. */
export const CAUSES = ['none', 'server fails', 'server slow', 'network fails', 'network slow', 'check fails', 'check slow', 'name service slow', 'everything slow', 'everything fails', 'server fails at times', 'country slow', 'server fails for one check', 'resolver slow', 'everything waits', 'check waits'] as const
export type Cause = (typeof CAUSES)[number]

const CHECKS = [['sailings', 'tickets'], ['fares', 'tickets'], ['home', 'tickets'], ['boards', 'piers'], ['tides', 'harbour'], ['berths', 'harbour']] as const
const PLACES = [['bergen', 'NO', 'Nordvik'], ['orrin', 'NO', 'Harbour'], ['aarhus', 'DK', 'Baltic'], ['galway', 'IE', 'Atlantic'], ['lisbon', 'PT', 'Tagus'], ['pacifico', 'CL', 'Pacifico'], ['cordillera', 'CL', 'Cordillera'], ['andes', 'CL', 'Andes']] as const
const SERVERS = ['edge-1', 'edge-2', 'edge-3', 'edge-4', 'edge-5']
const RTT = [11, 6, 17, 36, 58, 204, 226, 192]

export interface MadeWorld {
  tries: Tries
  stretch: { from: number; to: number }
  /** What is wrong: a dimension and a value; undefined when nothing is, `everything` when all is affected alike. */
  truth?: { dimension: string; value: string; and?: { dimension: string; value: string } } | 'everything'
  cause: Cause
  networks: string[]
}

/** Tries of a made-up company over some hours, with one known cause in the last of them. */
export function madeWorld(seed: number, cause: Cause, { hours = 3, cadence = 100_000 }: { hours?: number; cadence?: number } = {}): MadeWorld {
  const random = seededRandom(seed)
  const normal = () => sqrt(-2 * log(1 - random())) * cos(2 * PI * random())
  const noise = (spread: number) => exp(spread * normal())
  const pickOf = <Value>(values: readonly Value[]) => values[floor(random() * values.length)]!
  const from = 1_760_000_000_000
  const stretch = { from: from + (hours - 1) * HOUR, to: from + hours * HOUR }
  const [server, place, check] = [pickOf(SERVERS), floor(random() * PLACES.length), pickOf(CHECKS)[0]]
  const severity = 1.3 + 2 * random()
  const count = floor((hours * HOUR) / cadence) * CHECKS.length * PLACES.length
  const tries: Tries = {
    count, at: new Float64Array(count), check: new Int32Array(count), location: new Int32Array(count), verdict: new Uint8Array(count),
    times: Object.fromEntries(['total', 'lookup', 'connect', 'tls', 'wait', 'receive', 'loss'].map((name) => [name, new Float32Array(count)])), columns: []
  }
  const column = (dimension: string, names: string[]): Column => ({ dimension, codes: new Int32Array(count).fill(-1), names })
  const columns = {
    check: column('check', CHECKS.map(([name]) => name)), service: column('service', ['tickets', 'piers', 'harbour']), location: column('location', PLACES.map(([name]) => name)), network: column('network', PLACES.map(([, , name]) => name)),
    country: column('country', [...new Set(PLACES.map(([, name]) => name))]), continent: column('continent', ['Europe', 'South America']), server: column('server', SERVERS), resolver: column('resolver', PLACES.map((_, number) => `192.0.2.${141 + number}`)), reason: column('reason', ['status', 'timed-out-connect'])
  }
  tries.columns = Object.values(columns)
  let index = 0
  for (let at = from; at < stretch.to; at += cadence) {
    for (const [checkIndex, [checkName, service]] of CHECKS.entries()) {
      for (const [placeIndex, [, country, network]] of PLACES.entries()) {
        const own = floor(random() * SERVERS.length)
        const isNow = at >= stretch.from
        const rtt = RTT[placeIndex]! * noise(0.06)
        const time = { lookup: 2 + 3 * noise(0.4), connect: rtt, tls: rtt * 1.02 + 2, wait: rtt + (20 + 15 * checkIndex) * noise(0.25), receive: 1 + noise(0.3) }
        // some tries go to an address and need no resolver
        const hasName = random() > 0.15
        if (!hasName) time.lookup = 0
        let [fails, reason] = [random() < 0.001, 0]
        let loss = random() < 0.02 ? 0.1 : 0
        if (isNow) {
          if (cause === 'server fails' && SERVERS[own] === server) fails = true
          if (cause === 'server fails at times' && SERVERS[own] === server) fails ||= random() < 0.35
          if (cause === 'server fails for one check' && SERVERS[own] === server && checkName === check) fails = true
          if (cause === 'server slow' && SERVERS[own] === server) time.wait *= 1 + severity
          if (cause === 'network fails' && placeIndex === place) [fails, reason] = [fails || random() < 0.6, 1]
          if (cause === 'network slow' && placeIndex === place) {
            time.connect *= 1 + severity * random() * 2
            loss = 0.2 * random()
          }
          if (cause === 'check fails' && checkName === check) fails ||= random() < 0.9
          if (cause === 'check slow' && checkName === check) time.wait *= 1 + severity
          if (cause === 'name service slow') time.lookup += 300 * severity * random()
          if (cause === 'resolver slow' && placeIndex === place && hasName) time.lookup += 60 * severity + RTT[placeIndex]! * severity * (1 + random())
          if (cause === 'everything slow') time.wait *= 1 + severity
          // near places feel the same wait as far ones do, though it is many times their own
          if (cause === 'everything waits' || (cause === 'check waits' && checkName === check)) time.wait += 300 * severity * (0.7 + 0.6 * random())
          if (cause === 'everything fails') fails ||= random() < 0.7
          if (cause === 'country slow' && country === 'CL') time.connect *= 1 + severity
        }
        tries.at[index] = at + placeIndex * 700 + checkIndex * 90
        tries.check[index] = checkIndex + 1
        tries.location[index] = placeIndex + 1
        tries.verdict[index] = fails ? 3 : 0
        for (const [phase, value] of Object.entries(time)) tries.times[phase]![index] = value
        tries.times.total![index] = time.lookup + time.connect + time.tls + time.wait + time.receive
        tries.times.loss![index] = loss
        columns.check.codes[index] = checkIndex
        columns.service.codes[index] = columns.service.names.indexOf(service)
        columns.location.codes[index] = placeIndex
        columns.network.codes[index] = columns.network.names.indexOf(network)
        columns.country.codes[index] = columns.country.names.indexOf(country)
        columns.continent.codes[index] = country === 'CL' ? 1 : 0
        columns.server.codes[index] = own
        if (hasName) columns.resolver.codes[index] = placeIndex
        if (fails) columns.reason.codes[index] = reason
        index += 1
      }
    }
  }
  const truths: Record<Cause, MadeWorld['truth']> = {
    none: undefined, 'server fails': { dimension: 'server', value: server }, 'server fails at times': { dimension: 'server', value: server }, 'server slow': { dimension: 'server', value: server },
    'server fails for one check': { dimension: 'server', value: server, and: { dimension: 'check', value: check } }, 'network fails': { dimension: 'network', value: PLACES[place]![2] }, 'network slow': { dimension: 'network', value: PLACES[place]![2] },
    'check fails': { dimension: 'check', value: check }, 'check slow': { dimension: 'check', value: check }, 'name service slow': 'everything', 'everything slow': 'everything', 'everything waits': 'everything', 'check waits': { dimension: 'check', value: check }, 'everything fails': 'everything', 'country slow': { dimension: 'country', value: 'CL' }, 'resolver slow': { dimension: 'resolver', value: `192.0.2.${141 + place}` }
  }
  return { tries, stretch, cause, networks: PLACES.map(([, , name]) => name), ...(truths[cause] === undefined ? {} : { truth: truths[cause] }) }
}
