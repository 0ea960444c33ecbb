import type { Dots } from '@/core/findout/dots'
import type { Heat } from '@/core/sketches/heat'

/** Where a chart of tries lies on its canvas, and what it shows. */
export interface Frame {
  width: number
  height: number
  left: number
  right: number
  top: number
  bottom: number
  from: number
  to: number
  /** The greatest value that is drawn; what is beyond stands at the top edge. */
  most: number
}

export const xOf = (frame: Frame, at: number): number => frame.left + ((at - frame.from) / (frame.to - frame.from)) * (frame.width - frame.left - frame.right)
export const atOf = (frame: Frame, x: number): number => frame.from + ((x - frame.left) / (frame.width - frame.left - frame.right)) * (frame.to - frame.from)
export const yOf = (frame: Frame, value: number): number => frame.height - frame.bottom - (Math.min(value, frame.most) / frame.most) * (frame.height - frame.top - frame.bottom)

/** Round steps for an axis: 1, 2 or 5 times a power of ten. */
export function ticks(most: number, wanted = 4): number[] {
  const rough = most / wanted
  const power = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].map((each) => each * power).find((each) => each >= rough) ?? 10 * power
  return Array.from({ length: Math.floor(most / step) + 1 }, (_, index) => index * step)
}

const CELL = 4

/** For finding the dot under the pointer: the first dot of every small square. */
export interface DotIndex { columns: number; cells: Int32Array }

/** Groups that are told apart, and one slot for all others. */
const SLOTS = 21

/** Where every dot is drawn; dots that would lie on each other exactly are drawn once. */
export function placeDots(dots: Dots, frame: Frame): { index: DotIndex; byGroup: Int32Array[]; x: Float32Array; y: Float32Array } {
  const columns = Math.ceil(frame.width / CELL)
  const cells = new Int32Array(columns * Math.ceil(frame.height / CELL)).fill(-1)
  const [x, y] = [new Float32Array(dots.count), new Float32Array(dots.count)]
  const [wide, high] = [Math.ceil(frame.width) + 1, Math.ceil(frame.height) + 1]
  const taken = new Uint8Array(wide * high * SLOTS)
  const groups: number[][] = []
  for (let place = 0; place < dots.count; place += 1) {
    const failed = Number.isNaN(dots.value[place]!)
    x[place] = xOf(frame, frame.from + dots.at[place]!)
    y[place] = failed ? frame.height - frame.bottom + 5 : yOf(frame, dots.value[place]!)
    const cell = Math.floor(y[place]! / CELL) * columns + Math.floor(x[place]! / CELL)
    if (cells[cell] === -1 || failed) cells[cell] = place
    const group = dots.group[place]!
    const key = (Math.round(x[place]!) * high + Math.max(0, Math.round(y[place]!))) * SLOTS + Math.min(group, SLOTS - 1)
    if (taken[key] === 1) continue
    taken[key] = 1
    ;(groups[group] ??= []).push(place)
  }
  return { index: { columns, cells }, byGroup: Array.from({ length: 256 }, (_, group) => Int32Array.from(groups[group] ?? [])), x, y }
}

/** The dot nearest to a point, within some pixels; −1 when there is none. */
export function nearestDot({ columns, cells }: DotIndex, placed: { x: Float32Array; y: Float32Array }, x: number, y: number, reach = 9): number {
  let [best, distance] = [-1, reach * reach]
  const [cx, cy, span] = [Math.floor(x / CELL), Math.floor(y / CELL), Math.ceil(reach / CELL)]
  for (let row = Math.max(0, cy - span); row <= cy + span; row += 1) {
    for (let column = Math.max(0, cx - span); column <= Math.min(columns - 1, cx + span); column += 1) {
      const place = cells[row * columns + column] ?? -1
      if (place < 0) continue
      const away = (placed.x[place]! - x) ** 2 + (placed.y[place]! - y) ** 2
      if (away < distance) [best, distance] = [place, away]
    }
  }
  return best
}

export function drawDots(context: CanvasRenderingContext2D, dots: Dots, placed: ReturnType<typeof placeDots>, group: number, colour: string, alpha: number, down: string): void {
  context.globalAlpha = alpha
  context.fillStyle = colour
  for (const place of placed.byGroup[group]!) {
    if (Number.isNaN(dots.value[place]!)) {
      context.globalAlpha = 1
      context.fillStyle = down
      context.fillRect(placed.x[place]! - 1.5, placed.y[place]! - 1.5, 3, 3)
      context.globalAlpha = alpha
      context.fillStyle = colour
    } else context.fillRect(placed.x[place]! - 1.25, placed.y[place]! - 1.25, 2.5, 2.5)
  }
  context.globalAlpha = 1
}

/** Shades a stretch of time, as far as the frame shows it. */
export function shade(context: CanvasRenderingContext2D, frame: Frame, { from, to }: { from: number; to: number }, colour: string, alpha: number): void {
  const [left, right] = [xOf(frame, Math.max(from, frame.from)), xOf(frame, Math.min(to, frame.to))]
  context.fillStyle = colour
  context.globalAlpha = alpha
  context.fillRect(left, frame.top, right - left, frame.height - frame.top - frame.bottom)
  context.globalAlpha = 1
}

export function drawLine(context: CanvasRenderingContext2D, frame: Frame, line: readonly (number | null)[], step: number, colour: string, width: number, broken: number[] = []): void {
  context.setLineDash(broken)
  context.strokeStyle = colour
  context.lineWidth = width
  context.lineJoin = 'round'
  context.beginPath()
  let open = false
  line.forEach((value, index) => {
    const at = Math.min(frame.to, frame.from + (index + 0.5) * step)
    if (value === null) return void (open = false)
    if (open) context.lineTo(xOf(frame, at), yOf(frame, value))
    else context.moveTo(xOf(frame, at), yOf(frame, value))
    open = true
  })
  context.stroke()
  context.setLineDash([])
}

/** The same from what was counted before: a column for every point of the line. */
export function drawHeatCells(context: CanvasRenderingContext2D, frame: Frame, { counts, rows, most }: Heat, step: number, ink: string): void {
  const greatest = counts.reduce((found, count) => Math.max(found, count), 1)
  context.fillStyle = ink
  counts.forEach((count, cell) => {
    if (count === 0) return
    const [point, row] = [Math.floor(cell / rows), cell % rows]
    const [left, right] = [xOf(frame, frame.from + point * step), xOf(frame, Math.min(frame.to, frame.from + (point + 1) * step))]
    const [top, bottom] = [yOf(frame, ((row + 1) / rows) * most), yOf(frame, (row / rows) * most)]
    context.globalAlpha = inkOf(count, greatest)
    context.fillRect(left, top, Math.max(1, right - left - 1), Math.max(1, bottom - top - 1))
  })
  context.globalAlpha = 1
}

const inkOf = (count: number, most: number) => 0.1 + 0.9 * (Math.log1p(count) / Math.log1p(most))

/** How often each value was seen at each time, as squares of one ink. */
export function drawHeat(context: CanvasRenderingContext2D, frame: Frame, dots: Dots, ink: string): void {
  const size = 8
  const [columns, rows] = [Math.ceil((frame.width - frame.left - frame.right) / size), Math.ceil((frame.height - frame.top - frame.bottom) / size)]
  const counts = new Uint32Array(columns * rows)
  for (let place = 0; place < dots.count; place += 1) {
    if (Number.isNaN(dots.value[place]!)) continue
    const column = Math.min(columns - 1, Math.max(0, Math.floor((xOf(frame, frame.from + dots.at[place]!) - frame.left) / size)))
    const row = Math.min(rows - 1, Math.max(0, Math.floor((frame.height - frame.bottom - yOf(frame, dots.value[place]!)) / size)))
    counts[row * columns + column]! += 1
  }
  const most = counts.reduce((found, count) => Math.max(found, count), 1)
  context.fillStyle = ink
  counts.forEach((count, cell) => {
    if (count === 0) return
    context.globalAlpha = inkOf(count, most)
    context.fillRect(frame.left + (cell % columns) * size, frame.height - frame.bottom - (Math.floor(cell / columns) + 1) * size, size - 1, size - 1)
  })
  context.globalAlpha = 1
}

/** Labels at the ends of lines, moved apart so that none lies on another. */
export function spreadLabels(wanted: { y: number; key: string }[], least: number, greatest: number, gap = 15): Map<string, number> {
  const sorted = [...wanted].sort((a, b) => a.y - b.y)
  let before = -Infinity
  const placed = sorted.map((each) => ({ key: each.key, y: (before = Math.max(each.y, before + gap, least)) }))
  let after = greatest + gap
  for (const each of placed.reverse()) each.y = after = Math.min(each.y, after - gap)
  return new Map(placed.map((each) => [each.key, each.y]))
}
