import fc from 'fast-check'
import type { Dots } from '@/core/findout/dots'
import { atOf, nearestDot, placeDots, spreadLabels, ticks, xOf, yOf, type Frame } from './draw-chart'

const frame: Frame = { width: 1200, height: 270, left: 52, right: 150, top: 14, bottom: 34, from: 1_000_000, to: 1_000_000 + 21_600_000, most: 400 }
const dotsOf = (all: { at: number; value: number; group?: number }[]): Dots => ({
  count: all.length, at: Uint32Array.from(all, (each) => each.at), value: Float32Array.from(all, (each) => each.value), group: Uint8Array.from(all, (each) => each.group ?? 0),
  verdict: Uint8Array.from(all, (each) => (Number.isNaN(each.value) ? 3 : 0)), check: new Uint32Array(all.length), location: new Uint16Array(all.length)
})
const moment = fc.integer({ min: 0, max: 21_599_999 })

describe('the place of a moment and of a value', () => {
  it('leads back to the moment', () => fc.assert(fc.property(moment, (at) => expect(atOf(frame, xOf(frame, frame.from + at))).toBeCloseTo(frame.from + at, 3))))
  it('lies between the edges, and what is beyond stands at the upper one', () => {
    expect(yOf(frame, 0)).toBe(frame.height - frame.bottom)
    expect(yOf(frame, frame.most)).toBe(frame.top)
    expect(yOf(frame, 10 * frame.most)).toBe(frame.top)
    expect([xOf(frame, frame.from), xOf(frame, frame.to)]).toEqual([frame.left, frame.width - frame.right])
  })
})

describe('the steps of an axis', () => {
  it('are round, begin at nothing and end within what is drawn', () => fc.assert(fc.property(fc.double({ min: 0.02, max: 1e6, noNaN: true }), (most) => {
    const found = ticks(most)
    expect(found[0]).toBe(0)
    expect(found.length).toBeGreaterThanOrEqual(2)
    expect(found.length).toBeLessThanOrEqual(6)
    expect(found.at(-1)!).toBeLessThanOrEqual(most * 1.000001)
    const step = found[1]!
    expect([1, 2, 5, 10].some((each) => Math.abs(step / 10 ** Math.floor(Math.log10(step) + 1e-9) - each) < 1e-6)).toBe(true)
  })))
})

describe('dots', () => {
  it('that lie on each other are drawn once in each group, and failures stand below the line', () => {
    const { byGroup, y } = placeDots(dotsOf([{ at: 1000, value: 100 }, { at: 1001, value: 100 }, { at: 1000, value: 100, group: 1 }, { at: 5_000_000, value: 100 }, { at: 1000, value: NaN }, { at: 1000, value: 50, group: 255 }]), frame)
    expect(Array.from(byGroup[0]!)).toEqual([0, 3, 4])
    expect(Array.from(byGroup[1]!)).toEqual([2])
    expect(Array.from(byGroup[255]!)).toEqual([5])
    expect(y[4]).toBe(frame.height - frame.bottom + 5)
  })
  it('are all drawn somewhere: each place on the screen that has one', () => fc.assert(fc.property(fc.array(fc.record({ at: moment, value: fc.integer({ min: 0, max: 900 }), group: fc.constantFrom(0, 1, 19, 255) }), { maxLength: 200 }), (all) => {
    const { byGroup, x, y } = placeDots(dotsOf(all), frame)
    const places = (wanted: Iterable<number>, group: number) => new Set([...wanted].map((place) => `${Math.round(x[place]!)}/${Math.round(y[place]!)}/${group}`))
    for (const group of [0, 1, 19, 255]) {
      const own = all.flatMap((each, place) => (each.group === group ? [place] : []))
      expect(places(byGroup[group]!, group)).toEqual(places(own, group))
      expect(byGroup[group]!.length).toBe(places(own, group).size)
    }
  })))
  it('are found under the pointer, the nearest one, and none from afar', () => {
    const placed = placeDots(dotsOf([{ at: 3_000_000, value: 200 }, { at: 3_030_000, value: 230 }, { at: 15_000_000, value: NaN }]), frame)
    const at = (place: number, dx = 0, dy = 0) => nearestDot(placed.index, placed, placed.x[place]! + dx, placed.y[place]! + dy)
    expect([at(0), at(1), at(2)]).toEqual([0, 1, 2])
    expect(at(0, -6, 2)).toBe(0)
    expect(at(0, -40)).toBe(-1)
    expect(at(2, 0, -30)).toBe(-1)
  })
})

describe('the labels of lines', () => {
  it('keep their order and their distance, and stay within the chart where they fit', () => fc.assert(fc.property(fc.array(fc.integer({ min: 0, max: 270 }), { minLength: 1, maxLength: 12 }), (heights) => {
    const wanted = heights.map((y, key) => ({ y, key: String(key) }))
    const placed = spreadLabels(wanted, 18, 236)
    const found = [...placed].sort((a, b) => a[1] - b[1])
    for (let index = 1; index < found.length; index += 1) expect(found[index]![1] - found[index - 1]![1]).toBeGreaterThanOrEqual(15)
    expect(found.at(-1)![1]).toBeLessThanOrEqual(236)
    const order = wanted.toSorted((a, b) => a.y - b.y).map((each) => each.y)
    expect(found.map(([key]) => wanted[Number(key)]!.y)).toEqual(order)
  })))
  it('stay where they are when nothing is in their way', () => expect(spreadLabels([{ y: 40, key: 'a' }, { y: 90, key: 'b' }], 18, 236)).toEqual(new Map([['a', 40], ['b', 90]])))
})
