import { readdir, readFile } from 'node:fs/promises'
import { join } from 'node:path'
import mysql from 'mysql2/promise'
import { DAY } from '../core/units'
import { change, rows, type Queryable } from './database'

/** Tables by day, and by which retention they are kept. */
const PARTITIONED = { observation: 'observation', observation_step: 'observation', evidence: 'evidence' } as const

/** Brings the database to the newest numbered migration in a folder. Each runs once; a failed one stops everything. */
export async function migrate(url: string, folder: string): Promise<number> {
  const connection = await mysql.createConnection({ uri: url, multipleStatements: true })
  try {
    await connection.query('CREATE TABLE IF NOT EXISTS migration (name VARCHAR(100) NOT NULL PRIMARY KEY, at BIGINT UNSIGNED NOT NULL)')
    const done = new Set((await rows<{ name: string }>(connection, 'SELECT name FROM migration')).map((each) => each.name))
    const files = (await readdir(folder)).filter((name) => /^\d{3}-.*\.sql$/.test(name)).sort()
    for (const name of files.filter((each) => !done.has(each))) {
      await connection.query(await readFile(join(folder, name), 'utf8'))
      await change(connection, 'INSERT INTO migration (name, at) VALUES (?, ?)', [name, Date.now()])
    }
    return files.length
  } finally {
    await connection.end()
  }
}

/** Makes the partitions of the days up to two ahead of `now`, and drops those that ended before the retention. */
export async function keepPartitions(on: Queryable, now: number, keep: { observation: number; evidence: number }, firstDay = now): Promise<void> {
  for (const [table, kept] of Object.entries(PARTITIONED)) {
    const existing = await rows<{ name: string; until: string }>(on,
      'SELECT partition_name AS name, partition_description AS until FROM information_schema.partitions WHERE table_schema = DATABASE() AND table_name = ?', [table])
    const ends = existing.map((each) => Number(each.until))
    const newest = Math.max(...ends)
    const wanted: string[] = []
    const first = Math.max(newest, Math.floor(firstDay / DAY) * DAY)
    if (newest === 0 && first > 0) wanted.push(`PARTITION d${first / DAY} VALUES LESS THAN (${first})`)
    for (let end = first + DAY; end <= Math.floor(now / DAY) * DAY + 3 * DAY; end += DAY) {
      if (end > newest) wanted.push(`PARTITION d${end / DAY} VALUES LESS THAN (${end})`)
    }
    if (wanted.length > 0) await change(on, `ALTER TABLE ${table} ADD PARTITION (${wanted.join(', ')})`)
    const over = existing.filter((each) => Number(each.until) > 0 && Number(each.until) < now - keep[kept])
    if (over.length > 0 && over.length < existing.length) await change(on, `ALTER TABLE ${table} DROP PARTITION ${over.map((each) => each.name).join(', ')}`)
  }
}
