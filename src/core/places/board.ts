import type { Block } from '../ribbons/ribbon'
import type { CheckState } from '../states/check-state'
import type { Instant } from '../units'

/** One check on a board, with the latest at each of its locations. */
export interface BoardLine {
  key: string
  name: string
  state: CheckState
  /** How long it has been in that state, in words. */
  since: string
  sentence: string
  blocks: Block[]
  begins: Instant
  cells: ('fail' | 'slow' | 'warn' | 'pass' | 'none')[]
}

/** What a board shows at a moment, worst first. */
export interface BoardView {
  name: string
  zone: string
  at: Instant
  range: { from: Instant; to: Instant }
  /** Places, in the order of every line's cells. */
  locations: string[]
  lines: BoardLine[]
  title: string
}
