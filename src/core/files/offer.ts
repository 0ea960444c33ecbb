import type { Problem } from '../problems'

/** Something a file offers to watch, before anybody has said yes. */
export interface Offer {
  kind: 'check' | 'service' | 'workspace'
  document: Record<string, unknown>
  /** What it is, in a line. */
  label: string
  /** Whether it is taken unless somebody says otherwise. */
  chosen: boolean
  /** Where in the file it stands. */
  line?: number
  note?: string
}

/** What a file holds, and everything in it that cannot be read. */
export interface FileRead {
  format: 'CSV' | 'HAR' | 'OpenAPI' | 'definitions'
  offers: Offer[]
  problems: Problem[]
}

/** The largest file that is read, in characters, and the most that one file offers. */
export const FILE_MOST = 40_000_000
export const OFFERS_MOST = 2000

export const fileProblem = (format: FileRead['format'], found: string, expected: string, line?: number): FileRead =>
  ({ format, offers: [], problems: [{ path: '', found, expected, ...(line === undefined ? {} : { line }) }] })
