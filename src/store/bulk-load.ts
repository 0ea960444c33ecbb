import { Readable } from 'node:stream'
import type { Pool } from 'mysql2/promise'
import { OBSERVATION_COLUMNS, observationRow } from './observations'
import { STEP_COLUMNS, stepRows } from './steps'
import type { Observation } from '../core/observation'
import { METRICS } from './rollups'

const ROLLUP_COLUMNS = ['check_id', 'location_id', 'span', 'at', 'passes', 'warns', 'slows', 'fails']
const SKETCH_COLUMNS = METRICS.map((metric) => `${metric}_sketch`)

/** Loads many observations at once, as a restore or a made-up past needs it; faster than inserts by far. */
export async function loadObservations(pool: Pool, observations: Observation[], numbers: ReadonlyMap<string, number>): Promise<void> {
  await load(pool, 'observation', `(${OBSERVATION_COLUMNS})`, observations.map((each) => line(observationRow(each, numbers))))
  await load(pool, 'observation_step', `(${STEP_COLUMNS})`, observations.flatMap((each) => stepRows(each, numbers).map(line)))
}

/** Loads many rollup rows, as windowRow makes them. */
export async function loadWindows(pool: Pool, windowRows: unknown[][]): Promise<void> {
  await load(pool, 'rollup', `(${[...ROLLUP_COLUMNS, ...SKETCH_COLUMNS.map((column) => `@${column}`)].join(', ')}) SET ${SKETCH_COLUMNS.map((column) => `${column} = UNHEX(@${column})`).join(', ')}`, windowRows.map(line))
}

/** Loads many packed days: check, day, location, content. */
export async function loadDays(pool: Pool, days: unknown[][]): Promise<void> {
  await load(pool, 'tries_day', '(check_id, day, location_id, @content) SET content = UNHEX(@content)', days.map(line))
}

function line(values: unknown[]): string {
  return `${values.map((value) => (value === null ? '\\N' : Buffer.isBuffer(value) ? value.toString('hex') : String(value))).join('\t')}\n`
}

/** Loads lines of values that are written already, for the given columns of a table. */
export const loadRaw = (pool: Pool, table: 'observation', columns: string, lines: string[]): Promise<void> => load(pool, table, columns, lines)

async function load(pool: Pool, table: string, columns: string, lines: string[]): Promise<void> {
  if (lines.length === 0) return
  const chunks: string[] = []
  for (let start = 0; start < lines.length; start += 2000) chunks.push(lines.slice(start, start + 2000).join(''))
  await pool.query({ sql: `LOAD DATA LOCAL INFILE 'rows' IGNORE INTO TABLE ${table} CHARACTER SET utf8mb4 ${columns}`, infileStreamFactory: () => Readable.from(chunks.map((chunk) => Buffer.from(chunk)), { objectMode: false }) } as never)
}
