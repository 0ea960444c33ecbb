import { spawn, type ChildProcess } from 'node:child_process'
import { existsSync, mkdirSync, readFileSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'

interface Context { say: (text: string) => void; webPages: () => Promise<void>; root: string }

/** Runs everything: types, lint, import rules, unit tests, then the running application. Stops at the first failure. */
export async function test(parameters: string[], { say, webPages, root }: Context): Promise<void> {
  const node = (name: string, file: string, args: string[], env: Record<string, string> = {}) => {
    say(name)
    return run(process.execPath, [join(root, 'node_modules', file), ...args], { ...env })
  }
  const onlyUnit = parameters.includes('unit')
  await node('types', 'typescript/bin/tsc', ['--noEmit'])
  await node('lint', 'eslint/bin/eslint.js', ['.', '--max-warnings', '0'])
  await node('import rules', 'dependency-cruiser/bin/dependency-cruise.mjs', ['--config', '.dependency-cruiser.cjs', '--output-type', 'err', 'src', 'app', 'standins', 'scripts'])
  await node('unit tests', 'jest/bin/jest.js', ['--silent=false'])
  if (onlyUnit) return
  await webPages()
  const home = join(root, '.hemeron', 'test')
  rmSync(home, { recursive: true, force: true })
  mkdirSync(home, { recursive: true })
  say('starting the demo and an empty workspace')
  const demo = await begin(root, 'demo', home, 4300)
  const empty = await begin(root, 'start', home, 4400)
  try {
    await node('the running application', 'jest/bin/jest.js', ['--config', 'jest.browser.config.mjs', '--runInBand'], { HEMERON_TEST_HOME: home, HEMERON_TEST_EMPTY: 'http://127.0.0.1:4400' })
  } finally {
    await Promise.all([demo, empty].map(stop))
  }
  say('all passed')
}

function run(file: string, parameters: string[], env: Record<string, string>): Promise<void> {
  return new Promise((resolve, reject) => {
    const child = spawn(file, parameters, { stdio: ['ignore', 'inherit', 'inherit'], env: { ...process.env, ...env } })
    child.once('exit', (code) => (code === 0 ? resolve() : reject(new Error(`${parameters[0]?.split('/').slice(-1)} failed`))))
  })
}

async function begin(root: string, command: 'demo' | 'start', home: string, port: number): Promise<ChildProcess> {
  const child = spawn(process.execPath, [join(root, 'scripts/hemeron.mjs'), command, '--home', home, '--port', String(port)], { stdio: ['ignore', 'pipe', 'pipe'] })
  let output = ''
  const take = (chunk: Buffer) => { output += chunk.toString() }
  child.stdout.on('data', take)
  child.stderr.on('data', take)
  for (let waited = 0; waited < 900_000; waited += 200) {
    if (output.includes('everything runs')) return child
    if (child.exitCode !== null) break
    await sleep(200)
  }
  throw new Error(`${command} did not start:\n${output}${existsSync(join(home, command, 'database/error.log')) ? readFileSync(join(home, command, 'database/error.log'), 'utf8').slice(-2000) : ''}`)
}

async function stop(child: ChildProcess): Promise<void> {
  const over = new Promise((resolve) => child.once('exit', resolve))
  child.kill('SIGTERM')
  await Promise.race([over, sleep(40_000)])
}
