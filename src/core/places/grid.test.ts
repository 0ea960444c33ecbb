import { gridOf, placeTrouble, type GridCell } from './grid'

const cell = (change: Partial<GridCell> = {}): GridCell => ({ verdict: 'pass', total: 90, at: 0, failing: false, slow: false, ...change })
describe('the grid of checks by locations', () => {
  const cells: Record<string, (GridCell | undefined)[]> = {
    fine: [cell(), cell()], slow: [cell({ verdict: 'slow', slow: true }), cell()], once: [cell({ verdict: 'fail' }), cell()], down: [cell({ verdict: 'fail', failing: true }), cell({ verdict: 'fail', failing: true })], silent: [undefined, undefined]
  }
  const rows = gridOf(Object.keys(cells), [0, 1], (check, location) => cells[check]![location])
  it('puts what is confirmed first, then single failures, then slowness', () => expect(rows.map((row) => row.check)).toEqual(['down', 'once', 'slow', 'fine', 'silent']))
  it('counts what is bad at each place', () => expect([placeTrouble(rows, 0), placeTrouble(rows, 1)]).toEqual([{ bad: 2, slow: 1, all: 4 }, { bad: 1, slow: 0, all: 4 }]))
})
