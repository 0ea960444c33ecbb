import { routesFor, subjectOf } from '@/core/routing/fits'
import { reach } from '@/core/routing/reach'
import { database } from '@/store/database'
import type { StoredCheck } from '@/store/checks'
import { readRoutingWorld } from '@/store/routing'
import type { StoredService } from '@/store/world'

export interface Listener {
  /** The key of a person, or of a channel that belongs to the whole workspace. */
  key: string
  name: string
}

/** Everyone there is to tell, and for each check the keys of those whom the first steps would tell now that it went down. */
export async function whoIsTold(checks: StoredCheck[], services: StoredService[]): Promise<{ listeners: Listener[]; keysOf: (check: StoredCheck) => string[] }> {
  const { routes, listening } = await readRoutingWorld(database())
  const now = Date.now()
  const shared = listening.channels.filter((channel) => channel.person === undefined)
  const withChannel = listening.people.filter((person) => listening.channels.some((channel) => channel.person === person.key))
  const keyOf = new Map(listening.channels.map((channel) => [channel.channel, channel.person ?? channel.key]))
  const told = new Map(checks.map((stored) => {
    const service = services.find((each) => each.id === stored.serviceId)
    const fitting = routesFor(routes, subjectOf(stored.check, service, { state: 'down', at: now, failing: [] }), listening.zone)
    const channels = fitting.flatMap((route) => reach(listening, route.then[0]!, now, { news: 'down', urgent: route.urgent }).receivers.map((each) => each.channel))
    return [stored.id, [...new Set(channels.map((channel) => keyOf.get(channel)!))]]
  }))
  return { listeners: [...withChannel, ...shared].map(({ key, name }) => ({ key, name })), keysOf: (check) => told.get(check.id) ?? [] }
}
