'use server'

import { revalidatePath } from 'next/cache'
import { HemeronError, type Problem } from '@/core/problems'
import { isZone } from '@/core/time/zoned'
import type { Gateway } from '@/core/people/phone'
import { DAY } from '@/core/units'
import { isHttpUrl } from '@/core/definitions/http-url'
import { database } from '@/store/database'
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

export type SettingsForm = Pick<Settings, 'name' | 'zone' | 'theme' | 'address' | 'proxies' | 'keep' | 'mail' | 'gateways'>

/** Saves the workspace's settings. An empty mail password, or token of a gateway, keeps the one there is. */
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
      ...(whole(form.mail.port, 1, 65_535) ? [] : [{ path: 'mail.port', found: String(form.mail.port), expected: 'a port from 1 to 65535' }]),
      ...form.gateways.flatMap(gatewayProblems)
    ])
    const before = await readSettings(database())
    const mail = { ...form.mail, password: form.mail.password === '' ? before.mail.password : form.mail.password }
    await writeSettings(database(), { name: form.name.trim(), zone: form.zone, theme: form.theme, address, proxies: form.proxies, keep: form.keep, mail, gateways: form.gateways.map((each) => ({ ...each, token: each.token === '' ? before.gateways.find((other) => other.url === each.url)?.token ?? '' : each.token })) })
    await bumpDefinitions(database())
    const shown = (settings: Settings | SettingsForm) => ({ name: settings.name, zone: settings.zone, address: settings.address, proxies: settings.proxies, keep: settings.keep, mail: settings.mail.host })
    await audit(database(), person.id, 'settings changed', 'workspace', shown(before), shown(form), Date.now())
    return done()
  })
}

function gatewayProblems({ name, means, url, token, from, countries }: Gateway, index: number): Problem[] {
  const at = `gateways[${index}]`
  return [
    ...(name.trim() !== '' && name.length <= 100 ? [] : [{ path: `${at}.name`, found: `"${name.slice(0, 50)}"`, expected: 'a name' }]),
    ...(means === 'sms' || means === 'voice' ? [] : [{ path: `${at}.means`, found: `"${String(means)}"`, expected: 'sms or voice' }]),
    ...(isHttpUrl(url) ? [] : [{ path: `${at}.url`, found: `"${url.slice(0, 100)}"`, expected: 'an http or https address' }]),
    ...(token.length <= 500 && from.length <= 40 ? [] : [{ path: `${at}.from`, found: `${from.length} characters`, expected: 'at most 40 characters, and a token of at most 500' }]),
    ...(countries.every((each) => /^[A-Z]{2}$/.test(each)) ? [] : [{ path: `${at}.countries`, found: countries.join(', ').slice(0, 100), expected: 'ISO 3166 codes such as NO, GB' }])
  ]
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
