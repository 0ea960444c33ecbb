import { mkdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { benchEngine } from './bench/engine-bench'
import { benchKinds } from './bench/kinds-bench'
import { benchProbe } from './bench/probe-bench'
import { benchFindOut } from './bench/find-out-bench'
import type { Measured } from './bench/measured'
import { benchViews } from './bench/view-bench'
import { benchRouting } from './bench/routing-bench'
import { benchWorkshop } from './bench/workshop-bench'
import { startDatabase } from './mariadb'
import { migrate } from '../src/store/migrate'


const PARTS = ['probe', 'kinds', 'engine', 'routing', 'workshop', 'find-out', 'views']

/** Measures the budgets in one run on one machine and prints them as a table: all of them, or the parts that are named. */
export async function bench(parameters: string[], { say, root }: { say: (text: string) => void; root: string }): Promise<void> {
  const folder = join(root, '.hemeron', 'bench')
  rmSync(folder, { recursive: true, force: true })
  mkdirSync(folder, { recursive: true })
  const rows: Measured[] = []
  const unknown = parameters.find((part) => !PARTS.includes(part))
  if (unknown !== undefined) throw new Error(`${unknown} is no part of the bench: ${PARTS.join(', ')}`)
  const measure = async (part: string, run: () => Promise<Measured[]>): Promise<void> => {
    if (parameters.length > 0 && !parameters.includes(part)) return
    say(part)
    rows.push(...(await run()))
  }
  await measure('probe', benchProbe)
  await measure('kinds', benchKinds)
  const database = await startDatabase(join(folder, 'database'), 4906, 'bench')
  try {
    await migrate(database.url, join(root, 'src/store/migrations'))
    await measure('engine', () => benchEngine(database.url, root))
    await measure('routing', async () => benchRouting())
    await measure('workshop', () => benchWorkshop(database.url))
    await measure('find-out', () => benchFindOut(database.url, root, say))
    await measure('views', () => benchViews(database.url, root))
  } finally {
    database.child.kill('SIGTERM')
  }
  const width = (key: keyof Measured) => Math.max(...rows.map((row) => String(row[key]).length), key.length)
  const line = (row: Record<keyof Measured, string>) => `| ${row.what.padEnd(width('what'))} | ${row.budget.padEnd(width('budget'))} | ${row.measured.padEnd(width('measured'))} | ${row.met.padEnd(4)} |`
  console.log(`\n${line({ what: 'what', budget: 'budget', measured: 'measured', met: 'met' })}`)
  for (const row of rows) console.log(line({ ...row, met: row.met ? 'yes' : 'NO' }))
  process.exit(0)
}
