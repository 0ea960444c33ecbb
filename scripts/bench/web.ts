import { spawn, type ChildProcess } from 'node:child_process'
import { join } from 'node:path'
import { setTimeout as sleep } from 'node:timers/promises'

/** Starts the web process over a database; gives it when it answers. */
export async function startWeb(url: string, root: string, port: number): Promise<ChildProcess> {
  const web = spawn(process.execPath, [join(root, 'node_modules/next/dist/bin/next'), 'start', '-p', String(port), '-H', '127.0.0.1'], {
    cwd: root, env: { ...process.env, HEMERON_DATABASE: url, NODE_ENV: 'production', NODE_OPTIONS: '--max-old-space-size=380' }, stdio: ['ignore', 'ignore', 'inherit']
  })
  for (let tries = 0; tries < 100 && !(await fetch(`http://127.0.0.1:${port}/api/health`).catch(() => undefined))?.ok; tries += 1) await sleep(100)
  return web
}
