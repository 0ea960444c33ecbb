import { randomBytes } from 'node:crypto'
import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import type { Pool } from 'mysql2/promise'
import webpush from 'web-push'
import { addClient } from '../../src/store/clients'
import { defineAll } from '../../src/store/define'
import { requireService } from '../../src/store/define-one'
import { addChannel } from '../../src/store/deliveries'
import type { KindDefinition } from '../../src/core/definitions/kind'
import { kinds } from '../../src/kinds/definitions'
import { listChecks } from '../../src/store/checks'
import { readExposition } from '../../src/core/numbers/read-exposition'
import { putCall, putNumbers } from '../../src/store/inbox'
import { inletOf } from '../../src/store/inlet'
import { hostNumbers, type Inlets } from '../servers/tellers'
import { seeded } from '../world/random'
import { addLocation, plainLocation } from '../../src/store/locations'
import { addPerson, addToken } from '../../src/store/people'
import { addMark } from '../../src/store/marks'
import { putParty } from '../../src/store/parties'
import { addProbe, dropOldOrders } from '../../src/store/probes'
import { setPreferences } from '../../src/store/preferences'
import { defineRouting } from '../../src/store/routing'
import { setSecret } from '../../src/store/secrets'
import { readSettings, writeSettings } from '../../src/store/settings'
import { dayStartFrom, toLocal, writeLocal } from '../../src/core/time/zoned'
import { DAY, HOUR } from '../../src/core/units'
import { addPlanned } from '../../src/store/planned'
import { saveView, setTagColour } from '../../src/store/views'
import { CARRIER_TOKEN } from '../servers/phones'
import { devices, WEBHOOK_SECRET } from '../servers/receivers'
import { CHECKS, CLIENTS, PEOPLE, PLANNED, SECRETS, SERVICES, TAG_COLOURS } from '../world/company'
import { ZONE } from '../world/faults'
import { marksOf, PARTIES } from '../world/parties'
import { ON_THE_PHONE, ROUTING, WISHES } from '../world/routing'
import { REFERENCES } from '../world/hosts'
import { PLACES } from '../world/places'
import { makeHistory } from './make-history'

export interface DemoAccess {
  mail: string
  password: string
  token: string
  probeToken: string
}

/** How many days of the past the demo begins with. */
export const HISTORY_DAYS = 35

interface Options { folder: string; mailPort: number; receiversPort: number; say: (text: string) => void }

/** Makes the demo world once: people, services, checks, channels and the recorded past. Later calls give what was made. */
export async function makeDemo(pool: Pool, options: Options): Promise<DemoAccess> {
  const file = join(options.folder, 'access-demo.json')
  const mail = { host: '127.0.0.1', port: options.mailPort, secure: false, user: '', password: '', from: 'Hemeron <hemeron@orrinsound.example>' }
  await writeSettings(pool, { mail })
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8')) as DemoAccess
  options.say('making the demo world')
  const now = Date.now()
  const password = randomBytes(9).toString('base64url')
  await writeSettings(pool, {
    name: 'Orrin Sound Ferries', zone: ZONE, push: webpush.generateVAPIDKeys(),
    keep: { ...(await readSettings(pool)).keep, observation: 14, evidence: 14 },
    gateways: [
      { name: 'Sound Telecom', means: 'sms', url: `http://127.0.0.1:${options.receiversPort}/sms`, token: CARRIER_TOKEN, from: 'Hemeron', countries: [] },
      { name: 'Sound Telecom', means: 'voice', url: `http://127.0.0.1:${options.receiversPort}/calls`, token: CARRIER_TOKEN, from: '+447700900100', countries: [] }
    ]
  })
  const people = new Map<string, number>()
  for (const person of PEOPLE) {
    people.set(person.key, await addPerson(pool, { ...person, mail: `${person.key.replace('-', '.')}@orrinsound.example` }, person.role === 'owner' ? password : undefined, now - HISTORY_DAYS * DAY))
  }
  const owner = people.get('ines-falk')!
  const locations: number[] = []
  for (const [index, { key, place, country, network, networkType, latitude, longitude }] of PLACES.entries()) {
    locations.push(await addLocation(pool, plainLocation({ key, place, country, network, networkType, latitude, longitude, references: REFERENCES }), index))
  }
  const begun = now - (HISTORY_DAYS + 1) * DAY
  for (const client of CLIENTS) await addClient(pool, client)
  await defineAll(pool, SERVICES.map((document) => ({ kind: 'service', key: document.service, document })), 'The services of the ferry company', owner, begun)
  for (const { service, name, value } of SECRETS) await setSecret(pool, 'service', await requireService(pool, service), name, value, owner, begun)
  await defineAll(pool, CHECKS.map((document) => ({ kind: 'check', key: document.check, document })), 'The checks of the ferry company', owner, begun)
  const night = writeLocal(toLocal(dayStartFrom(now, 2, ZONE) - HOUR, ZONE))
  await addPlanned(pool, PLANNED.map((document) => ({ from: night, zone: ZONE, ...document })), owner, begun)
  for (const [tag, colour] of Object.entries(TAG_COLOURS)) await setTagColour(pool, tag, colour)
  await saveView(pool, owner, 'Vital, not up', 'importance=vital&sort=state', true)
  await addChannels(pool, people, options)
  await defineRouting(pool, ROUTING, owner, begun)
  for (const party of PARTIES) await putParty(pool, party, owner, begun)
  for (const mark of marksOf(dayStartFrom(now, 0, ZONE))) await addMark(pool, mark, owner, mark.at)
  await makeTold(pool, options.folder, now)
  await makeHistory(pool, now, HISTORY_DAYS, options.say)
  await tellLast(pool, Date.now())
  // what was to run when the checks were new ran long ago
  await dropOldOrders(pool, now)
  const access = { mail: 'ines.falk@orrinsound.example', password, token: await addToken(pool, owner, 'demo', 'write', null, now), probeToken: await addProbe(pool, 'Probe of the demo', locations, now) }
  writeFileSync(file, JSON.stringify(access), { mode: 0o600 })
  return access
}

/** The addresses at which hosts and jobs of the world tell things, and what the nightly job has told in the past. */
async function makeTold(pool: Pool, folder: string, now: number): Promise<void> {
  const inlets: Inlets = {}
  for (const stored of await listChecks(pool)) {
    const kind = kinds[stored.check.kind] as unknown as KindDefinition
    const what = kind.takes?.(stored.check.target)
    if (what) inlets[stored.check.key] = `/${what === 'calls' ? 'call' : 'push'}/${await inletOf(pool, stored.id)}`
    if (stored.check.key !== 'nightly-import') continue
    for (let day = HISTORY_DAYS; day >= 0; day -= 1) {
      const random = seeded(330, day)
      const began = dayStartFrom(now, -day, ZONE) + 3.5 * HOUR + 2000 * random()
      const ended = began + (12 + 6 * random()) * 60_000
      if (ended > now) continue
      await putCall(pool, stored.id, { at: Math.round(began), event: 'begin' })
      await putCall(pool, stored.id, { at: Math.round(ended), event: 'end', exit: 0, output: `reading the ships' logs\n${Math.round(310 + 20 * random())} rosters imported\n` })
    }
  }
  writeFileSync(join(folder, 'world', 'inlets.json'), JSON.stringify(inlets))
}

/** What hosts and jobs have told last, so that the demo does not begin with silence. */
async function tellLast(pool: Pool, now: number): Promise<void> {
  for (const stored of await listChecks(pool)) {
    if (stored.check.key === 'berth-plan') await putCall(pool, stored.id, { at: now, event: 'end', exit: 0, output: 'reading the tide table\n9 ships, 9 berths\n' })
    const host = /^host-(.+)$/.exec(stored.check.key)?.[1]
    if (host) await putNumbers(pool, stored.id, readExposition(hostNumbers(host, now, () => false)), now)
  }
}

async function addChannels(pool: Pool, people: Map<string, number>, options: Options): Promise<void> {
  mkdirSync(join(options.folder, 'world'), { recursive: true })
  const pushed = devices(join(options.folder, 'world', 'devices.json'))
  for (const { key, name } of PEOPLE) {
    const person = people.get(key)!
    await addChannel(pool, { key: `mail-${key}`, name: `${name} by mail`, kind: 'mail', person, config: { to: `${key.replace('-', '.')}@orrinsound.example` } })
    const device = pushed.find((each) => each.person === key)!
    await addChannel(pool, { key: `push-${key}`, name: `${name} by push`, kind: 'push', person, config: { endpoint: `http://127.0.0.1:${options.receiversPort}/push/${key}`, p256dh: device.p256dh, auth: device.auth } })
  }
  for (const [index, { key, name }] of PEOPLE.entries()) {
    const number = `+44770090010${index + 1}`
    const person = people.get(key)!
    // one of them has not typed the code yet
    await addChannel(pool, { key: `sms-${key}`, name: `${name} by SMS`, kind: 'sms', person, config: { number } }, key !== 'leila-haddad')
    if (ON_THE_PHONE.includes(key)) await addChannel(pool, { key: `voice-${key}`, name: `${name} by voice`, kind: 'voice', person, config: { number } }, key !== 'leila-haddad')
    if (WISHES[key]) await setPreferences(pool, key, WISHES[key], null, Date.now())
  }
  await addChannel(pool, { key: 'platform-chat', name: 'Platform chat', kind: 'chat', person: null, config: { url: `http://127.0.0.1:${options.receiversPort}/chat/orrinsound`, topic: 'platform' } })
  await addChannel(pool, { key: 'operations-log', name: 'Operations log', kind: 'webhook', person: null, config: { url: `http://127.0.0.1:${options.receiversPort}/hook`, secret: WEBHOOK_SECRET } })
}
