import { freeKey, keyFromName } from '../definitions/key'
import type { Kinds } from '../definitions/kind'

/** The most lines that are taken from one paste. */
export const LINES_MOST = 5000

/** One pasted address: what it became, or why it cannot be watched. */
export interface PastedRow {
  /** The line of the paste, from 1. */
  line: number
  text: string
  name: string
  kind?: string
  /** The written form of the kind's target. */
  target?: Record<string, unknown>
  address: string
  problem?: string
  /** What has the same address: a line before, or a check that stands. */
  duplicate?: { line: number } | { check: string }
}

/**
 * Reads a pasted list, one address a line; a line may begin or end with a name set apart by a tab, a comma or a semicolon.
 * Empty lines and lines that begin with `#` are passed over.
 * @param standing names of checks by the address they go to
 */
export function readAddresses(text: string, kinds: Kinds, standing: ReadonlyMap<string, string>): { rows: PastedRow[]; left: number } {
  const lines = text.split(/\r\n|\r|\n/).map((line, index) => ({ line: index + 1, text: line.trim() })).filter((each) => each.text !== '' && !each.text.startsWith('#'))
  const seen = new Map<string, number>()
  const rows = lines.slice(0, LINES_MOST).map((each): PastedRow => {
    const row = readLine(each.text, kinds)
    const address = normalised(row.address)
    const check = standing.get(address)
    const before = seen.get(address)
    if (row.target && before === undefined) seen.set(address, each.line)
    const duplicate = before !== undefined ? { line: before } : check !== undefined ? { check } : undefined
    return { ...row, line: each.line, text: each.text.slice(0, 2000), ...(row.target && duplicate ? { duplicate } : {}) }
  })
  return { rows, left: Math.max(0, lines.length - LINES_MOST) }
}

/** The form in which addresses are compared: without a slash at the end, scheme and host in lower case. */
export function normalised(address: string): string {
  return (URL.canParse(address) ? new URL(address).href : address.toLowerCase()).replace(/\/$/, '')
}

function readLine(text: string, kinds: Kinds): Omit<PastedRow, 'line' | 'text'> {
  const cells = text.split(/[\t;,]/).map((cell) => cell.trim().replace(/^["'<]|["'>]$/g, '')).filter((cell) => cell !== '')
  for (const [index, cell] of cells.entries()) {
    const found = guess(cell, kinds)
    if (!found) continue
    const name = cells.find((_, at) => at !== index)
    return { ...found, name: (name ?? found.name).slice(0, 200) }
  }
  return { name: '', address: text.slice(0, 200), problem: problemOf(cells[0] ?? text) }
}

function guess(cell: string, kinds: Kinds): { kind: string; target: Record<string, unknown>; address: string; name: string } | undefined {
  for (const [kind, definition] of Object.entries(kinds)) {
    const target = definition.guess(cell)
    if (target) return { kind, target: target.written, address: target.address, name: target.name }
  }
  return undefined
}

function problemOf(cell: string): string {
  const scheme = /^([a-z][a-z0-9+.-]*):\/\//i.exec(cell)?.[1]
  if (scheme && !/^https?$/i.test(scheme)) return `${scheme} addresses cannot be watched`
  if (/\s/.test(cell)) return 'an address has no spaces'
  return 'this is no address'
}

/** Keys for new checks, free among those that stand and among themselves. */
export function freeKeys(names: string[], isTaken: (key: string) => boolean): string[] {
  const given = new Set<string>()
  return names.map((name) => {
    const key = freeKey(keyFromName(name), (wanted) => isTaken(wanted) || given.has(wanted))
    given.add(key)
    return key
  })
}
