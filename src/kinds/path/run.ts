import { changedSteps, type Steps } from '../../core/network/path-changes'
import { roundTrips } from '../../core/network/round-trips'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { wayTable } from '../attempt/way-table'
import { pathDefinition } from './definition'

export const pathRunner = runnerOf(pathDefinition, async ({ host, protocol, port, hops: most, tries }, trying) => {
  const address = await trying.address(host)
  trying.clock.stop()
  const hops = await trying.link.path(address, { protocol, most, tries, ...(port === undefined ? {} : { port }) }, trying.signal)
  const measured = hops.map((hop) => ({ ...hop, trips: roundTrips(hop.times) }))
  const steps: Steps = Object.fromEntries(hops.map(({ away, addresses }) => [away, addresses]))
  const before = trying.memory.get('steps') as Steps | undefined
  const changed = before ? changedSteps(before, steps) : []
  trying.memory.set('steps', steps)
  trying.evidence.tables = [wayTable(`The way to ${address}`, hops, changed, before)]
  const last = measured.findLast((hop) => hop.addresses.length > 0)
  const facts = { routers: hops.flatMap((hop) => hop.addresses) }
  const readings = { hops: last?.away ?? 0, changes: changed.length }
  Object.assign(trying.readings, readings)
  Object.assign(trying.facts, facts)
  if (!last?.addresses.includes(address) || last.trips.median === undefined) {
    throw new TryFailure('no-answer', last ? `the way ends after ${last.away} steps, behind ${last.addresses.join(', ')}; ${address} does not answer` : `no step on the way to ${address} answers`)
  }
  return { took: last.trips.median, readings: { ...readings, loss: last.trips.loss }, facts }
})
