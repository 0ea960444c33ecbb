import type { Brought, Trying } from './attempt'

const ROWS_SHOWN = 20
const COLUMNS_SHOWN = 8

/** What the rows of a database say: shown as a table, the first column as values, a single number as a number. */
export function broughtByRows(columns: string[], rows: unknown[][], trying: Trying): Brought {
  const said = (value: unknown) => (value === null || value === undefined ? 'NULL' : value instanceof Date ? value.toISOString() : Buffer.isBuffer(value) ? value.toString('hex') : typeof value === 'object' ? JSON.stringify(value) : String(value as string | number)).slice(0, 500)
  trying.evidence.tables = [{
    title: rows.length > ROWS_SHOWN ? `The first ${ROWS_SHOWN} of ${rows.length} rows` : 'Rows',
    columns: columns.slice(0, COLUMNS_SHOWN).map((name, index) => ({ name: columns.indexOf(name) === index ? name : `${name} ${index + 1}`, as: 'code' as const })), rows: rows.slice(0, ROWS_SHOWN).map((row) => row.slice(0, COLUMNS_SHOWN).map(said))
  }]
  const values = rows.slice(0, 1000).map((row) => said(row[0]))
  const number = values[0] !== undefined && values[0].trim() !== '' ? Number(values[0]) : Number.NaN
  const body = JSON.stringify(rows.slice(0, 1000).map((row) => Object.fromEntries(columns.map((name, index) => [name, row[index]]))))
  return { body, readings: { rows: rows.length, ...(Number.isNaN(number) ? {} : { number }) }, facts: { value: values } }
}
