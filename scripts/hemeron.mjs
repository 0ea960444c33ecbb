// Every command of Hemeron begins here, with nothing but Node.js on the machine: this file installs what is missing,
// builds what has changed and hands over. It uses no package.
import { createHash } from 'node:crypto'
import { spawn, spawnSync } from 'node:child_process'
import { existsSync, mkdirSync, readdirSync, readFileSync, statSync, writeFileSync } from 'node:fs'
import { join, dirname } from 'node:path'
import { fileURLToPath } from 'node:url'

const root = join(dirname(fileURLToPath(import.meta.url)), '..')
process.chdir(root)
const [command, ...rest] = process.argv.slice(2)
const started = Date.now()
const say = (text) => console.log(`${((Date.now() - started) / 1000).toFixed(1).padStart(6)} s  ${text}`)

const NEEDS = {
  demo: ['mariadb', 'fping', 'traceroute'], start: ['mariadb', 'fping', 'traceroute'], probe: [], test: ['mariadb', 'chromium', 'curl', 'fping', 'traceroute', 'nsd', 'openssl', 'dovecot', 'dovecotPop3', 'redis', 'mosquitto', 'postgresql', 'vsftpd', 'chrony'], bench: ['mariadb', 'curl', 'chromium', 'fping']
}
const PACKAGES = {
  mariadb: { file: ['/usr/sbin/mariadbd', '/usr/bin/mariadbd'], name: 'mariadb-server' },
  chromium: { file: ['/usr/bin/chromium'], name: 'chromium' },
  curl: { file: ['/usr/bin/curl'], name: 'curl' },
  openssl: { file: ['/usr/bin/openssl'], name: 'openssl' },
  dovecot: { file: ['/usr/lib/dovecot/imap'], name: 'dovecot-imapd' },
  dovecotPop3: { file: ['/usr/lib/dovecot/pop3'], name: 'dovecot-pop3d' },
  redis: { file: ['/usr/bin/redis-server'], name: 'redis-server' },
  mosquitto: { file: ['/usr/sbin/mosquitto'], name: 'mosquitto' },
  postgresql: { file: ['/usr/lib/postgresql'], name: 'postgresql' },
  vsftpd: { file: ['/usr/sbin/vsftpd'], name: 'vsftpd' },
  chrony: { file: ['/usr/sbin/chronyd'], name: 'chrony' },
  nsd: { file: ['/usr/sbin/nsd'], name: 'nsd' },
  fping: { file: ['/usr/bin/fping'], name: 'fping' },
  traceroute: { file: ['/usr/bin/traceroute', '/usr/sbin/traceroute'], name: 'traceroute' }
}

if (!(command in NEEDS)) {
  console.error(`Unknown command ${command ?? ''}. There are: ${Object.keys(NEEDS).join(', ')}.`)
  process.exit(2)
}

function run(file, parameters, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(file, parameters, { stdio: options.quiet ? ['ignore', 'pipe', 'pipe'] : 'inherit', env: { ...process.env, ...options.env } })
    let output = ''
    child.stdout?.on('data', (chunk) => { output += chunk })
    child.stderr?.on('data', (chunk) => { output += chunk })
    child.on('error', reject)
    child.on('exit', (code) => (code === 0 ? resolve() : reject(new Error(`${file} ${parameters.join(' ')} ended with ${code}\n${output.slice(-4000)}`))))
  })
}

async function debianPackages() {
  const missing = NEEDS[command].filter((need) => !PACKAGES[need].file.some(existsSync)).map((need) => PACKAGES[need].name)
  if (missing.length === 0) return
  const isRoot = process.getuid?.() === 0
  const sudo = !isRoot && spawnSync('sudo', ['-n', 'true'], { stdio: 'ignore' }).status === 0
  if (!isRoot && !sudo) {
    console.error(`Hemeron needs these Debian packages: ${missing.join(', ')}. Please run\n\n  sudo apt-get update && sudo apt-get install --no-install-recommends ${missing.join(' ')}\n\nand start again.`)
    process.exit(1)
  }
  say(`installing ${missing.join(', ')}`)
  const apt = (parameters) => run(isRoot ? 'apt-get' : 'sudo', isRoot ? parameters : ['apt-get', ...parameters], { quiet: true, env: { DEBIAN_FRONTEND: 'noninteractive', RUNLEVEL: '1' } })
  await apt(['update'])
  await apt(['install', '-y', '--no-install-recommends', ...missing])
}

const hashOf = (paths) => {
  const hash = createHash('sha256')
  const visit = (path) => {
    if (!existsSync(path)) return
    if (statSync(path).isDirectory()) for (const name of readdirSync(path).sort()) visit(join(path, name))
    else hash.update(path).update(readFileSync(path))
  }
  paths.forEach(visit)
  return hash.digest('hex')
}
const stamp = (name) => join('build', `${name}.stamp`)
const isFresh = (name, hash) => existsSync(stamp(name)) && readFileSync(stamp(name), 'utf8') === hash
const keepStamp = (name, hash) => {
  mkdirSync('build', { recursive: true })
  writeFileSync(stamp(name), hash)
}

async function npmPackages() {
  const hash = hashOf(['package-lock.json'])
  if (existsSync('node_modules') && isFresh('packages', hash)) return
  say('installing npm packages')
  await run('npm', ['install', '--no-save', '--no-audit', '--no-fund', '--loglevel=error'], { quiet: true, env: { NODE_ENV: 'development' } })
  keepStamp('packages', hash)
}

async function processes() {
  const { build } = await import('esbuild')
  const entries = { engine: 'src/engine/main.ts', probe: 'src/probe/main.ts', world: 'standins/main.ts', supervisor: 'scripts/supervisor.ts', bench: 'scripts/bench.ts', aside: 'src/aside/main.ts', 'test-run': 'tests/run.ts' }
  await build({
    entryPoints: Object.fromEntries(Object.entries(entries).filter(([, file]) => existsSync(file))), outdir: 'build', bundle: true, platform: 'node', target: 'node20',
    format: 'esm', packages: 'external', sourcemap: true, logLevel: 'error', splitting: true, chunkNames: 'chunks/[name]-[hash]', alias: { '@': './src' }, jsx: 'automatic'
  })
}

async function webPages() {
  const hash = hashOf(['app', 'src', 'proxy.ts', 'next.config.mjs', 'package-lock.json', 'postcss.config.mjs', 'public'])
  if (existsSync('.next/BUILD_ID') && isFresh('web', hash)) return
  say('building the web application')
  await run('node', ['node_modules/next/dist/bin/next', 'build'], { quiet: true, env: { NODE_ENV: 'production', NEXT_TELEMETRY_DISABLED: '1' } })
  keepStamp('web', hash)
  say('web application built')
}

try {
  await Promise.all([debianPackages(), npmPackages()])
  await processes()
  const load = (name) => import(join(root, 'build', `${name}.js`))
  if (command === 'probe') {
    process.argv = [process.argv[0], 'probe', ...rest]
    await load('probe')
  } else if (command === 'test') {
    await (await load('test-run')).test(rest, { say, webPages, root })
  } else if (command === 'bench') {
    await webPages()
    await (await load('bench')).bench(rest, { say, root })
  } else {
    await (await load('supervisor')).supervise(command, rest, { say, webPages, root })
  }
} catch (error) {
  console.error(error instanceof Error ? error.message : error)
  process.exit(1)
}
