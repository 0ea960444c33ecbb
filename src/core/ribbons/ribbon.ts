import type { Instant } from '../units'

export const TROUBLES = ['fail', 'slow', 'warn', 'silent', 'planned'] as const
export type Trouble = (typeof TROUBLES)[number]

/** One location in trouble of one kind without a break. `to` is missing while it lasts. */
export interface Stretch {
  check: number
  location: number
  kind: Trouble
  from: Instant
  to?: Instant
  reason?: string
}

/** A rectangle of the ribbon: shares of the width and height, trouble of one kind. */
export interface Block {
  kind: Trouble
  from: Instant
  to: Instant
  /** The largest share of locations affected at the same time, 0 to 1. */
  share: number
}

/**
 * Puts stretches of many locations together into blocks: the share of locations affected at each moment,
 * with consecutive trouble of one kind as one block that has the height of its worst moment.
 * @param gap stretches closer together than this become one block (what a pixel or two cannot show)
 * @param locations how many locations there are of each check
 */
export function blocksOf(stretches: Stretch[], range: { from: Instant; to: Instant }, gap: number, locations: (check: number) => number): Block[] {
  return TROUBLES.flatMap((kind) => blocksOfKind(kind, stretches.filter((stretch) => stretch.kind === kind), range, gap, locations))
}

function blocksOfKind(kind: Trouble, stretches: Stretch[], range: { from: Instant; to: Instant }, gap: number, locations: (check: number) => number): Block[] {
  const edges = stretches
    .map((stretch) => ({ ...stretch, from: Math.max(stretch.from, range.from), to: Math.min(stretch.to ?? range.to, range.to) }))
    .filter((stretch) => stretch.to >= stretch.from && stretch.from < range.to && stretch.to > range.from - 1)
    .flatMap((stretch) => [{ at: stretch.from, step: 1, check: stretch.check }, { at: stretch.to, step: -1, check: stretch.check }])
    .sort((a, b) => a.at - b.at || b.step - a.step)
  const open = new Map<number, number>()
  const blocks: Block[] = []
  let current: Block | undefined
  let active = 0
  for (const edge of edges) {
    const count = (open.get(edge.check) ?? 0) + edge.step
    open.set(edge.check, count)
    active += edge.step
    if (edge.step === 1) {
      if (!current || (active === 1 && edge.at - current.to > gap)) blocks.push(current = { kind, from: edge.at, to: edge.at, share: 0 })
      current.share = Math.max(current.share, Math.min(1, count / Math.max(1, locations(edge.check))))
    }
    if (current && (edge.step === -1 || active > 0)) current.to = Math.max(current.to, edge.at)
  }
  return blocks
}

/** A block in pixels, from the left edge and with its height above the hairline. */
export interface Drawn extends Block {
  x: number
  width: number
  height: number
}

/** The smallest block that is still seen. */
export const SMALLEST = { width: 6, height: 5 }

/** Lays blocks out in pixels; the smallest is 6 by 5, and none leaves the ribbon. */
export function drawBlocks(blocks: Block[], range: { from: Instant; to: Instant }, width: number, height: number): Drawn[] {
  const scale = width / (range.to - range.from)
  return blocks.map((block) => {
    const wide = Math.min(width, Math.max(SMALLEST.width, (block.to - block.from) * scale))
    const x = Math.max(0, Math.min(width - wide, (block.from - range.from) * scale))
    return { ...block, x: round(x), width: round(wide), height: round(Math.max(SMALLEST.height, block.share * height)) }
  })
}

const round = (value: number) => Math.round(value * 10) / 10
