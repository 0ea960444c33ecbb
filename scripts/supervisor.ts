import { randomBytes } from 'node:crypto'
import { spawn, type ChildProcess } from 'node:child_process'
import { createWriteStream, existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { constants, setPriority } from 'node:os'
import { join, resolve } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'
import { parseArgs } from 'node:util'
import { openPool } from '../src/store/database'
import { migrate } from '../src/store/migrate'
import { holdInside } from '../src/store/probes'
import { writeSettings } from '../src/store/settings'
import { makeDemo, type DemoAccess } from '../standins/history/make-demo'
import { startDatabase, type DatabaseServer } from './mariadb'
import { choosePorts, type Ports } from './ports'
import { prepareWorkspace } from './workspace'

export interface Context {
  say: (text: string) => void
  webPages: () => Promise<void>
  root: string
}

interface Access {
  databasePassword: string
  key: string
}

/** Starts everything, watches over it and stops it again: `npm run demo` and `npm start`. */
export async function supervise(command: 'demo' | 'start', parameters: string[], context: Context): Promise<void> {
  const { values } = parseArgs({ args: parameters, options: { fresh: { type: 'boolean' }, port: { type: 'string' }, host: { type: 'string' }, home: { type: 'string' } } })
  const port = values.port === undefined ? undefined : Number(values.port)
  if (port !== undefined && !(Number.isInteger(port) && port > 0 && port < 65_536)) throw new Error('--port needs a number from 1 to 65535.')
  const home = resolve(values.home ?? join(context.root, '.hemeron'))
  const folder = join(home, command)
  if (values.fresh) rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  const ports = await choosePorts(join(folder, 'ports.json'), port)
  const access = readAccess(join(folder, 'access.json'))
  const building = context.webPages()
  building.catch(() => undefined)

  context.say('starting MariaDB')
  const database = await startDatabase(join(folder, 'database'), ports.database, access.databasePassword)
  const supervisor = new Supervisor(folder, context)
  supervisor.own(database)
  try {
    await migrate(database.url, join(context.root, 'src/store/migrations'))
    const url = `http://127.0.0.1:${ports.web}`
    process.env.HEMERON_KEY = access.key
    const demo = command === 'demo' ? await demoWorld(database, folder, ports, context) : undefined
    const probeToken = demo?.probeToken ?? await prepareWorkspace(database.url, join(folder, 'probe.json'))
    await judgeInside(database.url, probeToken)
    const environment = environmentOf(database, ports, access, folder, command)
    if (command === 'demo') await supervisor.start('world', 'build/world.js', environment)
    await supervisor.start('engine', 'build/engine.js', environment)
    await building
    await supervisor.start('web', 'node_modules/next/dist/bin/next', { ...environment, NODE_ENV: 'production' }, ['start', '-p', String(ports.web), '-H', values.host ?? '127.0.0.1'])
    await waitFor(`${url}/api/health`)
    await supervisor.start('probe', 'build/probe.js', { ...environment, HEMERON_URL: url, HEMERON_PROBE_TOKEN: probeToken }, ['--spool', join(folder, 'spool')])
    announce(home, url, demo, context)
  } catch (error) {
    console.error(error instanceof Error ? error.stack : error)
    await supervisor.stop(1)
    throw error
  }
  await supervisor.ended
}

async function judgeInside(url: string, probeToken: string): Promise<void> {
  const pool = openPool(url, 1)
  await holdInside(pool, probeToken).finally(() => pool.end())
}

function readAccess(file: string): Access {
  if (!existsSync(file)) writeFileSync(file, JSON.stringify({ databasePassword: randomBytes(18).toString('base64url'), key: randomBytes(32).toString('base64') }), { mode: 0o600 })
  return JSON.parse(readFileSync(file, 'utf8')) as Access
}

async function demoWorld(database: DatabaseServer, folder: string, ports: Ports, context: Context): Promise<DemoAccess> {
  const pool = openPool(database.url)
  try {
    const demo = await makeDemo(pool, { folder, mailPort: ports.mail, receiversPort: ports.receivers, say: context.say })
    await writeSettings(pool, { world: `http://127.0.0.1:${ports.world}`, address: `http://127.0.0.1:${ports.web}` })
    return demo
  } finally {
    await pool.end()
  }
}

function environmentOf(database: DatabaseServer, ports: Ports, access: Access, folder: string, command: string): Record<string, string> {
  return {
    HEMERON_DATABASE: database.url, HEMERON_KEY: access.key, HEMERON_FOLDER: folder, NODE_OPTIONS: '--enable-source-maps --max-old-space-size=380',
    ...(command === 'demo' ? {
      HEMERON_WORLD: `http://127.0.0.1:${ports.world}`, HEMERON_WORLD_PORT: String(ports.world), HEMERON_WORLD_MAIL_PORT: String(ports.mail),
      HEMERON_WORLD_HTTP_PORT: String(ports.receivers), HEMERON_WORLD_FOLDER: join(folder, 'world'), HEMERON_WORLD_TELLS: `http://127.0.0.1:${ports.web}`
    } : {})
  }
}

function announce(home: string, url: string, demo: DemoAccess | undefined, context: Context): void {
  context.say('everything runs')
  if (!demo) {
    console.log(`\n  Hemeron is at ${url}\n  Ctrl C stops it.\n`)
    return
  }
  writeFileSync(join(home, 'demo.json'), `${JSON.stringify({ url, mail: demo.mail, password: demo.password, token: demo.token }, null, 2)}\n`, { mode: 0o600 })
  console.log(`\n  Hemeron is at ${url}\n  Sign in as ${demo.mail} with the password ${demo.password}\n  (both, with an API token, are in .hemeron/demo.json). Ctrl C stops it.\n`)
}

async function waitFor(url: string): Promise<void> {
  for (let attempt = 0; attempt < 300; attempt += 1) {
    const answer = await fetch(url, { signal: AbortSignal.timeout(5000) }).catch(() => undefined)
    if (answer?.ok) return
    await sleep(100)
  }
  throw new Error(`${url} did not answer within 30 s; see the logs in the data folder.`)
}

/** What the engine makes of observations can wait a moment; measuring and answering cannot. Where the system does not allow it, all are alike. */
function yielding(name: string, pid: number): void {
  if (name !== 'engine') return
  try {
    setPriority(pid, constants.priority.PRIORITY_BELOW_NORMAL)
  } catch {
    // they share as they come
  }
}

/** Keeps processes running: one that ends by itself is started again, soon at first and then more slowly. */
class Supervisor {
  private readonly children = new Map<string, ChildProcess>()
  private database?: DatabaseServer
  private stopping = false
  private finish: () => void = () => undefined
  readonly ended = new Promise<void>((resolve) => { this.finish = resolve })

  constructor(private readonly folder: string, private readonly context: Context) {
    mkdirSync(join(folder, 'logs'), { recursive: true })
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void this.stop())
  }

  own(database: DatabaseServer): void {
    this.database = database
    database.child.once('exit', () => void this.databaseEnded())
  }

  async start(name: string, file: string, environment: Record<string, string>, parameters: string[] = []): Promise<void> {
    const log = createWriteStream(join(this.folder, 'logs', `${name}.log`), { flags: 'a' })
    const begun = Date.now()
    const child = spawn(process.execPath, [join(this.context.root, file), ...parameters], { cwd: this.context.root, env: { ...process.env, ...environment }, stdio: ['ignore', 'pipe', 'pipe'], detached: true })
    this.children.set(name, child)
    child.stdout.pipe(log)
    child.stderr.pipe(log)
    child.once('exit', (code, signal) => {
      if (this.stopping) return
      this.context.say(`${name} ended (${signal ?? code}); it is started again`)
      void sleep(Date.now() - begun < 5000 ? 2000 : 200).then(() => (this.stopping ? undefined : this.start(name, file, environment, parameters)))
    })
    writeFileSync(join(this.folder, `${name}.pid`), String(child.pid))
    if (child.pid !== undefined) yielding(name, child.pid)
  }

  async stop(code = 0): Promise<void> {
    if (this.stopping) return
    this.stopping = true
    this.context.say('stopping')
    for (const name of ['probe', 'web', 'engine', 'world']) await this.end(this.children.get(name))
    await this.end(this.database?.child)
    this.context.say('stopped')
    this.finish()
    process.exit(code)
  }

  private async databaseEnded(): Promise<void> {
    if (this.stopping || !this.database) return
    this.context.say('MariaDB ended; it is started again')
    const [, password, port] = /:([^:@]+)@127\.0\.0\.1:(\d+)/.exec(this.database.url)!
    await sleep(300)
    if (!this.stopping) this.own(await startDatabase(join(this.folder, 'database'), Number(port), password!))
  }

  private async end(child: ChildProcess | undefined): Promise<void> {
    if (!child || child.exitCode !== null || child.signalCode !== null) return
    const over = new Promise<void>((resolve) => child.once('exit', () => resolve()))
    child.kill('SIGTERM')
    await Promise.race([over, sleep(12_000).then(() => void child.kill('SIGKILL'))])
  }
}
