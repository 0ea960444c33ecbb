import { documentOf, rankOf, wouldStart, type GridRow } from './grid-row'

const row: GridRow = { line: 1, text: 'x', name: 'Tides', kind: 'http', target: { url: 'https://tides.example/' }, address: 'https://tides.example/', service: '', every: '', importance: '', tags: '', result: { verdict: 'pass', words: '200', total: 90 } }
const judging = new Set(['harbour'])

describe('a pasted row', () => {
  it('says only what was filled in, and begins with a condition where its service brings none', () => {
    expect(documentOf(row, judging)).toEqual({ check: 'new-check', name: 'Tides', http: { url: 'https://tides.example/' }, pass: [{ status: '200-299' }] })
    expect(documentOf({ ...row, name: '', service: 'harbour', every: '5m', importance: 'high', tags: ' sensors, live ,' }, judging)).toEqual({
      check: 'new-check', name: 'https://tides.example/', service: 'harbour', tags: ['sensors', 'live'], every: '5m', importance: 'high', http: { url: 'https://tides.example/' }
    })
  })

  it('is started when it passed, or only warns, and nothing else has its address', () => {
    expect([row, { ...row, result: { verdict: 'warn' as const, words: '' } }].map(wouldStart)).toEqual([true, true])
    expect([{ ...row, result: { verdict: 'fail' as const, words: '' } }, { ...row, result: 'running' as const }, { ...row, duplicate: { line: 1 } }, { ...row, target: undefined, problem: 'no address' }].map(wouldStart)).toEqual([false, false, false, false])
  })

  it('stands higher the more it needs a person', () => {
    const rows: GridRow[] = [row, { ...row, result: 'running' }, { ...row, duplicate: { check: 'T' } }, { ...row, result: { verdict: 'slow', words: '' } }, { ...row, result: { verdict: 'fail', words: '' } }, { ...row, problem: 'no address' }]
    expect(rows.map(rankOf)).toEqual([5, 4, 3, 2, 1, 0])
  })
})
