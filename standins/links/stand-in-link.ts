import dns from 'node:dns'
import { setTimeout as sleep } from 'node:timers/promises'
import tls from 'node:tls'
import { rootCertificates } from 'node:tls'
import { aborted, LinkError, type Link } from '../../src/kinds/link'
import type { AddressRules } from '../../src/kinds/address-guard'
import { connect, realLink } from '../../src/probe/links/real-link'
import type { Drill } from '../world/faults'
import { lineState, lookupTime, roundTrip } from '../world/model'
import { hopsTo } from '../world/paths'
import { INSIDE } from '../../src/core/places/places'
import { PLACES } from '../world/places'
import { delayedDatagrams, oneWay, refusingDatagrams, silentDatagrams } from './delayed-datagrams'
import { DelayedSocket } from './delayed-socket'

/** What the stand-in world tells links: where its servers really listen and which faults are on. */
export interface WorldFacts {
  /** Loopback port by `address:port` of the world, `address:port/udp` for datagrams. */
  servers: Record<string, number>
  authority: string
  /** Addresses of machines that are switched on; these answer echo requests. */
  machines: string[]
  drills: Drill[]
}

const DOCUMENTATION = /^(192\.0\.2|198\.51\.100|203\.0\.113)\./

/** Keeps up with a stand-in world and makes links that give each of its locations its own distance and faults. */
export function standInWorld(control: string): { link: (location: { key: string } & AddressRules) => Link | undefined } {
  let facts: WorldFacts | undefined
  let trust = tls.createSecureContext()
  const follow = async () => {
    for (;;) {
      try {
        const next = (await (await fetch(`${control}/facts`, { signal: AbortSignal.timeout(2000) })).json()) as WorldFacts
        if (next.authority !== facts?.authority) trust = tls.createSecureContext({ ca: [...rootCertificates, next.authority] })
        facts = next
      } catch {
        // the world is starting or stopping; what was last known stays true
      }
      await sleep(400, undefined, { ref: false })
    }
  }
  void follow()
  const has = (drill: Drill) => facts?.drills.includes(drill) ?? false

  return {
    link: (location) => {
      // what is judged inside asks over the line of the harbour office, where the server stands
      const place = PLACES.find((each) => each.key === (location.key === INSIDE ? 'orrin-harbour' : location.key))
      if (!place) return undefined
      const real = realLink(location)
      const line = () => lineState(place, has)
      const resolver = new dns.promises.Resolver({ timeout: 4000, tries: 3 })
      let resolverPort: number | undefined
      /** The resolver of the location's network, wherever the world has it at the moment. */
      const near = () => {
        const port = facts?.servers[`${place.resolver}:53/udp`]
        if (port === undefined) throw new LinkError('lookup-failed', `the resolver at ${place.resolver} is not there`)
        if (port !== resolverPort) resolver.setServers([`127.0.0.1:${resolverPort = port}`])
        return resolver
      }
      const pause = (milliseconds: number, signal: AbortSignal) => sleep(milliseconds, undefined, { signal }).catch(() => { throw new LinkError('aborted', 'stopped') })
      return {
        rules: location,
        get trust() {
          return trust
        },
        lookup: async (name, family, signal) => {
          if (!name.endsWith('.example')) return real.lookup(name, family, signal)
          if (line().cut) throw await never(signal)
          await pause(lookupTime(line(), Math.random), signal)
          try {
            const found = family === 6 ? await near().resolve6(name) : await near().resolve4(name)
            return { addresses: found, resolver: place.resolver }
          } catch (error) {
            if (error instanceof LinkError) throw error
            const code = (error as NodeJS.ErrnoException).code
            if (code === 'ENOTFOUND' || code === 'ENODATA') throw new LinkError('name-not-found', `the resolver at ${place.resolver} answers ${code === 'ENODATA' ? 'that the name has no such address' : 'NXDOMAIN'}`)
            throw new LinkError('lookup-failed', `the resolver at ${place.resolver} answers ${code ?? 'nothing'}`)
          }
        },
        connect: async (address, port, signal) => {
          const loopback = facts?.servers[`${address}:${port}`]
          if (loopback === undefined) {
            if (DOCUMENTATION.test(address)) throw await never(signal)
            return real.connect(address, port, signal)
          }
          if (line().cut) throw await never(signal)
          await pause(roundTrip(line(), Math.random, true), signal)
          try {
            return new DelayedSocket(await connect('127.0.0.1', loopback, signal), line)
          } catch (error) {
            if (error instanceof LinkError && error.fault === 'connection-refused') throw new LinkError('connection-refused', `${address}:${port} refuses the connection: nothing listens there`)
            throw error
          }
        },
        resolver: () => place.resolver,
        local: real.local,
        datagrams: async (address, port, signal) => {
          const loopback = facts?.servers[`${address}:${port}/udp`]
          if (loopback === undefined && !DOCUMENTATION.test(address)) return real.datagrams(address, port, signal)
          if (line().cut || (loopback === undefined && !facts?.machines.includes(address))) return silentDatagrams(signal)
          if (loopback === undefined) return refusingDatagrams(address, port, line)
          return delayedDatagrams(await real.datagrams('127.0.0.1', loopback, signal), line)
        },
        ping: async (address, echoes, signal) => {
          if (!DOCUMENTATION.test(address)) return real.ping(address, echoes, signal)
          const isThere = !line().cut && (facts?.machines.includes(address) ?? false)
          const echoed = isThere ? await real.ping('127.0.0.1', echoes, signal) : Array.from({ length: echoes.count }, () => null)
          const times = echoed.map((time) => (time === null || Math.random() < line().loss ? null : time + oneWay(line()) + oneWay(line())))
          await pause(times.includes(null) ? echoes.wait : Math.max(...times as number[]), signal)
          return times.map((time) => (time !== null && time > echoes.wait ? null : time))
        },
        path: async (address, question, signal) => {
          if (!DOCUMENTATION.test(address)) return real.path(address, question, signal)
          const hops = hopsTo(place, address, !line().cut && (facts?.machines.includes(address) ?? false), question, line(), has)
          await pause(Math.max(200, ...hops.flatMap((hop) => hop.times).map((time) => time ?? 800)), signal)
          return hops
        }
      }
    }
  }
}

/** Nothing comes back: waits until the try gives up. */
const never = (signal: AbortSignal) => aborted(signal).catch((error: unknown) => error as LinkError)
