import { roundTrips } from '../../core/network/round-trips'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { pingDefinition } from './definition'

export const pingRunner = runnerOf(pingDefinition, async ({ host, count, size, apart, family }, trying, { wait }) => {
  const address = await trying.address(host, family && (family === 'ipv6' ? 6 : 4))
  trying.clock.stop()
  const patience = Math.max(50, Math.min(3000, wait - (count - 1) * apart - 250))
  const times = await trying.link.ping(address, { count, size, interval: apart, wait: patience }, trying.signal)
  const trips = roundTrips(times)
  trying.evidence.tables = [{ title: 'Packets', columns: [{ name: 'packet', as: 'number' }, { name: 'round trip', as: 'time' }], rows: times.map((time, index) => [index + 1, time]) }]
  if (trips.median === undefined) throw new TryFailure('no-answer', count === 1 ? `the packet to ${address} did not come back` : `none of ${count} packets to ${address} came back`)
  return { took: trips.median, readings: { ...trips } }
})
