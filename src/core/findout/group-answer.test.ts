import { groupAnswer, groupOfParts, statisticOf, worstFirst, type Measured } from './group-answer'

const measured = (tries: number, fails: number, times: number[]): Measured => ({ tries, fails, percentile: (share) => (times.length === 0 ? undefined : [...times].sort((a, b) => a - b)[Math.ceil(share * times.length) - 1]) })

describe('what is said of a group', () => {
  const all = measured(12, 3, [1, 2, 3, 4, 5, 6, 7, 8, 9])
  it('is the statistic that was asked for, beside the middle and the 95th percentile', () => {
    expect(groupAnswer('a', 0, all, [1, null], 'p75')).toEqual({ name: 'a', code: 0, tries: 12, fails: 3, p50: 5, p95: 9, value: 7, line: [1, null] })
    expect(groupAnswer('a', 0, all, [], 'share failing', 0.25)).toMatchObject({ value: 0.25, loss: 0.25, p50: 5 })
  })
  it('leaves out what is not known', () => {
    expect(groupAnswer('a', 2, measured(4, 4, []), [], 'p95')).toEqual({ name: 'a', code: 2, tries: 4, fails: 4, line: [] })
    expect([statisticOf(measured(0, 0, []), 'share failing'), statisticOf(measured(5, 0, []), 'share failing')]).toEqual([undefined, 0])
  })
  it('follows its parts along the line, with gaps where nothing was tried', () => {
    const parts = [measured(4, 1, [10, 20, 30]), measured(0, 0, []), measured(8, 2, [5])]
    expect(groupOfParts('a', 0, all, parts, 'p50').line).toEqual([20, null, 5])
    expect(groupOfParts('a', 0, all, parts, 'share failing').line).toEqual([0.25, null, 0.25])
  })
  it('stands worst first, what has no value last', () => {
    const group = (name: string, value: number | undefined, fails = 0) => ({ name, code: 0, tries: 10, fails, line: [], ...(value === undefined ? {} : { value }) })
    expect(worstFirst([group('none', undefined), group('b', 5), group('c', 9), group('a', 5), group('failing', 5, 2)]).map((each) => each.name)).toEqual(['c', 'failing', 'a', 'b', 'none'])
  })
})
