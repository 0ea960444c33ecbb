import type { Verdict } from '../observation'
import type { Milliseconds } from '../units'

/** The latest of a check at a location. */
export interface GridCell { verdict: Verdict; total: Milliseconds; at: number; reason?: string; status?: number; failing: boolean; slow: boolean }
export interface GridRow<Check> { check: Check; cells: (GridCell | undefined)[]; rank: number }

const weight = (cell: GridCell | undefined) => (!cell ? 0 : cell.failing ? 100 : cell.verdict === 'fail' ? 30 : cell.slow ? 10 : cell.verdict === 'slow' ? 5 : cell.verdict === 'warn' ? 2 : 0)

/** Checks by locations, worst first: confirmed failures weigh most, then single ones, then slowness. */
export function gridOf<Check>(checks: readonly Check[], locations: readonly number[], cellOf: (check: Check, location: number) => GridCell | undefined): GridRow<Check>[] {
  return checks.map((check) => {
    const cells = locations.map((location) => cellOf(check, location))
    return { check, cells, rank: cells.reduce((sum, cell) => sum + weight(cell), 0) }
  }).sort((a, b) => b.rank - a.rank)
}

/** How bad a location is over all checks: the share of its checks that fail or are slow there. */
export function placeTrouble(rows: readonly GridRow<unknown>[], column: number): { bad: number; slow: number; all: number } {
  const cells = rows.flatMap((row) => row.cells[column] ?? [])
  return { bad: cells.filter((cell) => cell.verdict === 'fail').length, slow: cells.filter((cell) => cell.slow || cell.verdict === 'slow').length, all: cells.length }
}
