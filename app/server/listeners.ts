import { defaultRoute } from '@/core/routing/default-route'
import { database } from '@/store/database'
import { listChannels, reachableChannels } from '@/store/deliveries'
import { listPeople } from '@/store/people'

export interface Listener {
  /** The key of a person, or of a channel that belongs to the whole workspace. */
  key: string
  name: string
}

/** Everyone there is to tell, and the keys of those who would be told now that a check went down. */
export async function whoIsTold(): Promise<{ listeners: Listener[]; keys: string[] }> {
  const on = database()
  const [channels, people, reachable] = await Promise.all([listChannels(on), listPeople(on), reachableChannels(on)])
  const listenerOf = new Map(channels.map(({ id, person, key, name }): [number, Listener] => {
    const owner = people.find((each) => each.id === person)
    return [id, owner ? { key: owner.key, name: owner.name } : { key, name }]
  }))
  const listeners = [...new Map([...listenerOf.values()].map((each) => [each.key, each])).values()]
  const told = defaultRoute(0, 'down', reachable, new Set()).flatMap((step) => listenerOf.get(step.channel)?.key ?? [])
  return { listeners, keys: [...new Set(told)] }
}
