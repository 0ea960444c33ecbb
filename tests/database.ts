import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { startDatabase } from '../scripts/mariadb'
import { openPool, type Pool } from '../src/store/database'
import { migrate } from '../src/store/migrate'

export interface TestDatabase {
  pool: Pool
  url: string
  stop: () => Promise<void>
}

/** A MariaDB of its own, empty and brought to the newest migration. */
export async function startTestDatabase(port: number): Promise<TestDatabase> {
  process.env.HEMERON_KEY ??= Buffer.alloc(32, 7).toString('base64')
  const folder = mkdtempSync(join(tmpdir(), 'hemeron-store-'))
  const server = await startDatabase(join(folder, 'database'), port, 'test')
  await migrate(server.url, 'src/store/migrations')
  const pool = openPool(server.url)
  return {
    pool, url: server.url,
    stop: async () => {
      await pool.end()
      const over = new Promise((resolve) => server.child.once('exit', resolve))
      server.child.kill('SIGTERM')
      await over
      rmSync(folder, { recursive: true, force: true })
    }
  }
}
