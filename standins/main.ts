import { existsSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs'
import http from 'node:http'
import { join } from 'node:path'
import { DRILLS, type Drill } from './world/faults'
import type { WorldFacts } from './links/stand-in-link'
import { makeAuthority } from './servers/certificates'
import { startFleet } from './servers/fleet'
import { startNameServers } from './servers/name-server'
import { devices, startHttpReceivers, startMailServer } from './servers/receivers'
import { Phones } from './servers/phones'
import { Targets } from './servers/targets'
import { broker, serversOn, tell } from './servers/tellers'
import { Tray } from './servers/tray'

const folder = process.env.HEMERON_WORLD_FOLDER ?? '.hemeron/world'
mkdirSync(folder, { recursive: true })
const drillsFile = join(folder, 'drills.json')
const drills = new Set<Drill>(existsSync(drillsFile) ? (JSON.parse(readFileSync(drillsFile, 'utf8')) as Drill[]) : [])
const has = (drill: Drill) => drills.has(drill)

/** Starts every stand-in on loopback and a control address that the application and the links ask. */
async function main(): Promise<void> {
  const authority = await makeAuthority()
  const targets = new Targets(authority, has)
  await targets.start()
  const tray = new Tray(join(folder, 'tray.jsonl'))
  Object.assign(targets.ports, await startNameServers(has), await startFleet(authority, has), await broker())
  const mailPort = await startMailServer(tray, Number(process.env.HEMERON_WORLD_MAIL_PORT ?? 0), () => has('mail-server-away'))
  const phones = new Phones(tray, () => has('nobody-answers'))
  const httpPort = await startHttpReceivers(tray, devices(join(folder, 'devices.json')), Number(process.env.HEMERON_WORLD_HTTP_PORT ?? 0), phones, () => has('hook-broken'))
  const facts = (): WorldFacts & { mailPort: number; httpPort: number } => ({ servers: targets.ports, machines: [...targets.machines(), ...serversOn(has)], authority: authority.pem, drills: [...drills], mailPort, httpPort })

  const control = http.createServer((request, response) => {
    const reply = (value: unknown, status = 200) => response.writeHead(status, { 'content-type': 'application/json' }).end(JSON.stringify(value))
    const url = new URL(request.url ?? '/', 'http://localhost')
    if (url.pathname === '/facts') return reply(facts())
    if (url.pathname === '/tray') return reply({ messages: tray.newest(Number(url.searchParams.get('limit') ?? 100)), count: tray.count, repeats: tray.repeats })
    if (url.pathname === '/drills') return reply(Object.entries(DRILLS).map(([key, drill]) => ({ key, ...drill, on: drills.has(key as Drill) })))
    if (request.method === 'POST' && url.pathname === '/press') {
      void phones.press(url.searchParams.get('call') ?? '', url.searchParams.get('key') ?? '').then((said) => (said === undefined ? reply({ error: 'no such call' }, 404) : reply({ said })))
      return undefined
    }
    const [, key, turn] = /^\/drills\/([a-z0-9-]+)\/(on|off)$/.exec(url.pathname) ?? []
    if (request.method !== 'POST' || !key || !(key in DRILLS)) return reply({ error: 'not found' }, 404)
    if (turn === 'on') drills.add(key as Drill)
    else drills.delete(key as Drill)
    writeFileSync(drillsFile, JSON.stringify([...drills]))
    void targets.follow().then(() => reply({ key, on: turn === 'on' }))
    return undefined
  })
  control.listen(Number(process.env.HEMERON_WORLD_PORT ?? 0), '127.0.0.1', () => process.stdout.write('stand-in world started\n'))
  if (process.env.HEMERON_WORLD_TELLS) void tell(join(folder, 'inlets.json'), process.env.HEMERON_WORLD_TELLS, has)
  const stop = () => process.exit(0)
  process.once('SIGTERM', stop)
  process.once('SIGINT', stop)
}

void main()
