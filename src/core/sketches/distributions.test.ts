import { twoDistributions } from './distributions'
import { addValue, emptySketch } from './sketch'

const of = (values: number[]) => {
  const sketch = emptySketch()
  for (const value of values) addValue(sketch, value)
  return sketch
}
const sum = (values: number[]) => values.reduce((total, each) => total + each, 0)

describe('two distributions', () => {
  const before = of(Array.from({ length: 900 }, (_, index) => 90_000 + 20 * index))
  const after = of([...Array.from({ length: 200 }, (_, index) => 95_000 + 20 * index), ...Array.from({ length: 100 }, () => 800_000)])
  const points = twoDistributions(before, after)
  it('are shares of each side, over the same rising times', () => {
    expect(sum(points.map((each) => each.before))).toBeCloseTo(1, 9)
    expect(sum(points.map((each) => each.after))).toBeCloseTo(1, 9)
    expect(points.every((each, index) => index === 0 || each.at > points[index - 1]!.at)).toBe(true)
  })
  it('lie where the times lie', () => {
    expect(points[0]!.at).toBeGreaterThan(89)
    expect(points.at(-1)).toMatchObject({ before: 0 })
    expect(points.at(-1)!.after).toBeCloseTo(1 / 3, 6)
    expect(points.at(-1)!.at).toBeLessThan(810)
  })
  it('of one side alone leave the other empty, and of none there is nothing', () => {
    expect(sum(twoDistributions(emptySketch(), after).map((each) => each.before))).toBe(0)
    expect(twoDistributions(emptySketch(), emptySketch())).toEqual([])
  })
  it('of one single time are one step', () => expect(twoDistributions(of([5000]), emptySketch()).filter((each) => each.before > 0)).toHaveLength(1))
})
