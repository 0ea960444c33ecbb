/** A mark on a map with the size of its label, in pixels. */
export interface Labelled { x: number; y: number; radius: number; width: number; height: number }
export interface PlacedLabel { x: number; y: number; side: 'left' | 'right' }

interface Box { left: number; right: number; top: number; bottom: number }
const overlap = (a: Box, b: Box): number => Math.max(0, Math.min(a.right, b.right) - Math.max(a.left, b.left)) * Math.max(0, Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top))
const GAP = 6

/**
 * Puts a label beside each mark, on the side and height nearest to it at which it covers no other label and no mark; where there is no
 * such place, at the one that covers least. `y` is the middle of the label; the largest marks are served first.
 */
export function placeLabels(marks: readonly Labelled[], width: number, height: number): PlacedLabel[] {
  const taken: Box[] = marks.map(({ x, y, radius }) => ({ left: x - radius, right: x + radius, top: y - radius, bottom: y + radius }))
  const placed: PlacedLabel[] = []
  const order = marks.map((_, index) => index).sort((a, b) => marks[b]!.radius - marks[a]!.radius || marks[a]!.y - marks[b]!.y)
  for (const index of order) {
    const mark = marks[index]!
    const others = taken.filter((_, place) => place !== index)
    let best: { label: PlacedLabel; box: Box; cost: number } | undefined
    for (const away of [0, 1, -1, 2, -2, 3, -3, 4, -4, 6, -6]) {
      for (const side of ['right', 'left'] as const) {
        const x = side === 'right' ? mark.x + mark.radius + GAP : mark.x - mark.radius - GAP
        const y = mark.y + away * 9
        const box = { left: side === 'right' ? x : x - mark.width, right: side === 'right' ? x + mark.width : x, top: y - mark.height / 2, bottom: y + mark.height / 2 }
        const outside = Math.max(0, -box.left) + Math.max(0, box.right - width) + Math.max(0, -box.top) + Math.max(0, box.bottom - height)
        const cost = others.reduce((sum, each) => sum + overlap(box, each), 0) + 1000 * outside + Math.abs(away)
        if (!best || cost < best.cost) best = { label: { x, y, side }, box, cost }
      }
    }
    taken.push(best!.box)
    placed[index] = best!.label
  }
  return placed
}
