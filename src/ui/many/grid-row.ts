import type { CheckDocument } from '@/core/definitions/check'
import type { PastedRow } from '@/core/many/read-addresses'
import type { Verdict } from '@/core/observation'
import { NEW_KEY } from '../editor/blank'

/** A row of the grid: what was pasted, what was changed since, and what its try brought. */
export interface GridRow extends PastedRow {
  service: string
  every: string
  importance: string
  tags: string
  result?: { verdict: Verdict; words: string; total?: number } | 'running'
}

export const FIELDS = ['name', 'service', 'every', 'importance', 'tags'] as const
export type Field = (typeof FIELDS)[number]

/**
 * The document of a row; fields that are left empty come from the service and the workspace.
 * @param judging keys of the services that bring conditions; other rows begin with a condition on the status
 */
export function documentOf(row: GridRow, judging: ReadonlySet<string>): CheckDocument {
  const tags = row.tags.split(',').map((tag) => tag.trim()).filter((tag) => tag !== '')
  return {
    check: NEW_KEY, name: row.name || row.address, ...(row.service === '' ? {} : { service: row.service }), ...(tags.length > 0 ? { tags } : {}),
    ...(row.every === '' ? {} : { every: row.every }), ...(row.importance === '' ? {} : { importance: row.importance }), [row.kind!]: row.target, ...(judging.has(row.service) ? {} : { pass: [{ status: '200-299' }] })
  }
}

/** Whether a row would be started: it can be watched, is watched by nothing else, and its try passed. */
export function wouldStart(row: GridRow): boolean {
  return row.target !== undefined && row.duplicate === undefined && typeof row.result === 'object' && row.result.verdict !== 'fail'
}

/** What needs a person first: what cannot be watched, failures, warnings, then duplicates, then what runs, then what passes. */
export function rankOf(row: GridRow): number {
  if (row.problem !== undefined) return 0
  if (row.duplicate) return 3
  if (typeof row.result !== 'object') return 4
  return { fail: 1, slow: 2, warn: 2, pass: 5 }[row.result.verdict]
}
