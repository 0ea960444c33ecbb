'use server'

import { randomUUID } from 'node:crypto'
import { revalidatePath } from 'next/cache'
import { testMessage } from '@/core/messages/message'
import { HemeronError, type Problem } from '@/core/problems'
import { isZone } from '@/core/time/zoned'
import { DAY } from '@/core/units'
import { isHttpUrl } from '@/kinds/http/definition'
import { database } from '@/store/database'
import { addChannel, listChannels, queueDeliveries, removeChannel, type ChannelKind } from '@/store/deliveries'
import { bumpDefinitions } from '@/store/locations'
import { addToken, audit, removeToken, SCOPES, type Scope } from '@/store/people'
import { readSettings, writeSettings, type Settings } from '@/store/settings'
import { signedInAs } from '../server/session'
import { attempt, type Result } from './result'

const wrong = (problems: Problem[]) => {
  if (problems.length > 0) throw new HemeronError('bad-document', undefined, problems)
}

const done = (): undefined => {
  revalidatePath('/', 'layout')
  return undefined
}

export type SettingsForm = Pick<Settings, 'name' | 'zone' | 'theme' | 'address' | 'proxies' | 'keep' | 'mail'>

/** Saves the workspace's settings. An empty mail password keeps the one there is. */
export async function saveSettings(form: SettingsForm): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('owner')
    const address = form.address.trim().replace(/\/+$/, '')
    const whole = (value: unknown, least: number, most: number) => Number.isInteger(value) && Number(value) >= least && Number(value) <= most
    wrong([
      ...(form.name.trim().length >= 1 && form.name.length <= 100 ? [] : [{ path: 'name', found: `"${form.name}"`, expected: 'a name of 1 to 100 characters' }]),
      ...(isZone(form.zone) ? [] : [{ path: 'zone', found: `"${form.zone}"`, expected: 'an IANA time zone such as Europe/Oslo' }]),
      ...(address === '' || isHttpUrl(address) ? [] : [{ path: 'address', found: `"${address}"`, expected: 'an address such as https://hemeron.example' }]),
      ...(whole(form.proxies, 0, 10) ? [] : [{ path: 'proxies', found: String(form.proxies), expected: 'a number from 0 to 10' }]),
      ...Object.entries(form.keep).flatMap(([name, days]) => (whole(days, 1, 3660) ? [] : [{ path: `keep.${name}`, found: String(days), expected: 'days from 1 to 3660' }])),
      ...(whole(form.mail.port, 1, 65_535) ? [] : [{ path: 'mail.port', found: String(form.mail.port), expected: 'a port from 1 to 65535' }])
    ])
    const before = await readSettings(database())
    const mail = { ...form.mail, password: form.mail.password === '' ? before.mail.password : form.mail.password }
    await writeSettings(database(), { name: form.name.trim(), zone: form.zone, theme: form.theme, address, proxies: form.proxies, keep: form.keep, mail })
    await bumpDefinitions(database())
    const shown = (settings: Settings | SettingsForm) => ({ name: settings.name, zone: settings.zone, address: settings.address, proxies: settings.proxies, keep: settings.keep, mail: settings.mail.host })
    await audit(database(), person.id, 'settings changed', 'workspace', shown(before), shown(form), Date.now())
    return done()
  })
}

/** Makes an API token; the answer is the only time it is shown. */
export async function makeToken(name: string, scope: Scope, days: number): Promise<Result<string>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    wrong([
      ...(name.trim().length >= 1 && name.length <= 200 ? [] : [{ path: 'name', found: `"${name}"`, expected: 'what it is for' }]),
      ...(SCOPES.includes(scope) ? [] : [{ path: 'scope', found: String(scope), expected: SCOPES.join(', ') }])
    ])
    const token = await addToken(database(), person.id, name.trim(), scope, days > 0 ? Date.now() + days * DAY : null, Date.now())
    await audit(database(), person.id, 'token made', name.trim(), undefined, { scope, days }, Date.now())
    done()
    return token
  })
}

export async function endToken(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await removeToken(database(), id)
    await audit(database(), person.id, 'token ended', String(id), undefined, undefined, Date.now())
    return done()
  })
}

/** Adds a channel. Its address is checked for form only; the test shows whether it works. */
export async function makeChannel(kind: ChannelKind, name: string, config: Record<string, string>, ownOnly: boolean): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs(ownOnly ? 'responder' : 'editor')
    const isMail = /^[^@\s]+@[^@\s]+$/
    wrong([
      ...(name.trim() === '' || name.length > 200 ? [{ path: 'name', found: `"${name}"`, expected: 'a name' }] : []),
      ...(kind === 'mail' && !isMail.test(config.to ?? '') ? [{ path: 'to', found: `"${config.to ?? ''}"`, expected: 'a mail address' }] : []),
      ...(kind === 'webhook' && !isHttpUrl(config.url) ? [{ path: 'url', found: `"${config.url ?? ''}"`, expected: 'an http or https address' }] : []),
      ...(kind === 'webhook' && (config.secret ?? '').length < 8 ? [{ path: 'secret', found: `${(config.secret ?? '').length} characters`, expected: 'a secret of 8 characters or more, to sign with' }] : []),
      ...(kind === 'push' && !(isHttpUrl(config.endpoint) && config.p256dh && config.auth) ? [{ path: 'endpoint', found: 'an incomplete subscription', expected: 'what the browser gives' }] : [])
    ])
    await addChannel(database(), { key: `${kind}-${randomUUID().slice(0, 8)}`, name: name.trim(), kind, person: ownOnly ? person.id : null, config })
    await audit(database(), person.id, 'channel added', name.trim(), undefined, { kind }, Date.now())
    return done()
  })
}

export async function endChannel(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('editor')
    await removeChannel(database(), id)
    await audit(database(), person.id, 'channel removed', String(id), undefined, undefined, Date.now())
    return done()
  })
}

/** Sends a test over a channel, the same way as everything else. */
export async function testChannel(id: number): Promise<Result<undefined>> {
  return attempt(async () => {
    const person = await signedInAs('responder')
    const channel = (await listChannels(database())).find((each) => each.id === id)
    if (!channel) throw new HemeronError('not-found', 'There is no such channel.')
    const { zone, address } = await readSettings(database())
    const now = Date.now()
    await queueDeliveries(database(), [{ key: `test/${id}/${randomUUID()}`, channel: id, ...(channel.person === null ? {} : { person: channel.person }) }], 'test', testMessage(channel.name, person.name, zone, now, address || undefined), null, now)
    return done()
  })
}
