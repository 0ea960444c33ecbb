import { placeLabels, type Labelled, type PlacedLabel } from './labels'

const mark = (x: number, y: number, radius = 5): Labelled => ({ x, y, radius, width: 90, height: 16 })
const boxOf = ({ width, height }: Labelled, { x, y, side }: PlacedLabel) => ({ left: side === 'right' ? x : x - width, right: side === 'right' ? x + width : x, top: y - height / 2, bottom: y + height / 2 })
const touch = (a: ReturnType<typeof boxOf>, b: ReturnType<typeof boxOf>) => a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom

describe('labels on a map', () => {
  it('stand to the right of their mark where there is room', () => expect(placeLabels([mark(100, 50)], 600, 300)).toEqual([{ x: 111, y: 50, side: 'right' }]))
  it('stand to the left at the right edge', () => expect(placeLabels([mark(560, 50)], 600, 300)[0]).toEqual({ x: 549, y: 50, side: 'left' }))
  it('cover no other label and no mark, in a crowd', () => {
    const marks = [mark(300, 100), mark(310, 108), mark(330, 104), mark(290, 120), mark(340, 130)]
    const boxes = placeLabels(marks, 800, 300).map((label, index) => boxOf(marks[index]!, label))
    for (const [index, box] of boxes.entries()) {
      for (const other of boxes.slice(index + 1)) expect(touch(box, other)).toBe(false)
      for (const each of marks.filter((_, place) => place !== index)) expect(touch(box, { left: each.x - 4, right: each.x + 4, top: each.y - 4, bottom: each.y + 4 })).toBe(false)
    }
  })
  it('stay on the map', () => {
    const marks = [mark(5, 4), mark(596, 296), mark(4, 297)]
    for (const [index, label] of placeLabels(marks, 600, 300).entries()) {
      const box = boxOf(marks[index]!, label)
      expect([box.left >= 0, box.right <= 600, box.top >= 0, box.bottom <= 300]).toEqual([true, true, true, true])
    }
  })
})
