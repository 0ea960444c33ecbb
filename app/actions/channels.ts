'use server'

import { randomUUID } from 'node:crypto'
import { revalidatePath } from 'next/cache'
import { behaviourProblems, readChannel, type Behaviour } from '@/core/channels/read-channel'
import { withoutFields } from '@/core/definitions/without-fields'
import { testMessage } from '@/core/messages/message'
import { HemeronError } from '@/core/problems'
import { MEANS, type Means } from '@/core/routing/means'
import { confirmChannel, sendCode } from '@/store/channel-codes'
import { database } from '@/store/database'
import { addChannel, changeChannel, listChannels, queueDeliveries, removeChannel, sendAgain, type Channel } from '@/store/deliveries'
import { audit, listPeople, roleReaches, type Person } from '@/store/people'
import { readSettings } from '@/store/settings'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

const done = (): undefined => {
  revalidatePath('/', 'layout')
  return undefined
}

const named = (name: string) => {
  if (name.trim() === '' || name.length > 200) throw new HemeronError('bad-document', undefined, [{ path: 'name', found: `"${name.slice(0, 50)}"`, expected: 'a name' }])
  return name.trim()
}

/** A channel that the person may change: their own, or any for editors. Throws not-found or not-allowed. */
async function changeable(id: number): Promise<{ channel: Channel; person: Person }> {
  const person = await signedInAs('responder')
  const channel = (await listChannels(database())).find((each) => each.id === id)
  if (!channel) throw new HemeronError('not-found', 'There is no such channel.')
  if (channel.person !== person.id) await signedInAs('editor')
  return { channel, person }
}

/** Adds a channel of a person, or of the whole workspace without one. A mail address or number is confirmed by a code, which is sent at once. */
export async function makeChannel(kind: Means, name: string, given: Record<string, string>, of: string | null): Promise<Result<undefined>> {
  return attempt(async () => {
    const me = await signedInAs('responder')
    if (of !== me.key) await signedInAs('editor')
    if (!MEANS.includes(kind)) throw new HemeronError('bad-document', undefined, [{ path: 'kind', found: `"${String(kind)}"`, expected: MEANS.join(', ') }])
    const owner = of === null ? undefined : (await listPeople(database())).find((each) => each.key === of)
    if (of !== null && !owner) throw new HemeronError('not-found', `There is no person ${of.slice(0, 100)}.`)
    const read = readChannel(kind, given)
    if ('problems' in read) throw new HemeronError('bad-document', undefined, read.problems)
    const id = await addChannel(database(), { key: `${kind}-${randomUUID().slice(0, 8)}`, name: named(name), kind, person: owner?.id ?? null, config: read.config }, false)
    if ((await listChannels(database())).some((each) => each.id === id && !each.confirmed)) await sendCode(database(), id, Date.now())
    await audit(database(), me.id, 'channel added', name.trim(), undefined, { kind, of }, Date.now())
    return done()
  })
}

/** Changes a channel's name and how it behaves. */
export async function saveChannel(id: number, name: string, behaviour: Behaviour): Promise<Result<undefined>> {
  return attempt(async () => {
    const { channel, person } = await changeable(id)
    const others = (await listChannels(database())).filter((each) => each.id !== id)
    const problems = behaviourProblems(channel.key, channel.kind, behaviour, new Map(others.map((each) => [each.key, each.config.fallback as string | undefined])))
    if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
    const config = { ...withoutFields(channel.config, ['words', 'limit', 'fallback']), ...Object.fromEntries(Object.entries(behaviour).filter(([, value]) => value !== undefined)) }
    await changeChannel(database(), id, named(name), config, true)
    await audit(database(), person.id, 'channel changed', channel.key, { name: channel.name }, { name, ...behaviour }, Date.now())
    return done()
  })
}

export async function askForCode(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    await changeable(id)
    await sendCode(database(), id, Date.now())
    return done()
  })
}

export async function confirmCode(id: number, code: string): Promise<Result<undefined>> {
  return attempt(async () => {
    const { person } = await changeable(id)
    await confirmChannel(database(), id, code, person.id, Date.now())
    return done()
  })
}

export async function endChannel(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const { channel, person } = await changeable(id)
    await removeChannel(database(), id, Date.now())
    await audit(database(), person.id, 'channel removed', channel.key, undefined, undefined, Date.now())
    return done()
  })
}

/** Sends a test over a channel, the same way as everything else. */
export async function testChannel(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    const channel = (await listChannels(database())).find((each) => each.id === id)
    if (!channel) throw new HemeronError('not-found', 'There is no such channel.')
    if (!channel.confirmed && !roleReaches(person, 'owner')) throw new HemeronError('wrong-state', 'Its person has to confirm it first.')
    const { zone, address } = await readSettings(database())
    const now = Date.now()
    await queueDeliveries(database(), [{ key: `test/${id}/${randomUUID()}`, channel: id, ...(channel.person === null ? {} : { person: channel.person }) }], 'test', testMessage(channel.name, person.name, zone, now, address || undefined), null, now)
    return done()
  })
}

/** Sends a message again as it was. */
export async function resend(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    const now = Date.now()
    if (!(await sendAgain(database(), id, `again/${id}/${randomUUID()}`, `Sent again by ${person.name}`, now))) throw new HemeronError('wrong-state', 'It is on its way already.')
    await audit(database(), person.id, 'sent again', String(id), undefined, undefined, now)
    return done()
  })
}
