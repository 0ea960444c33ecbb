import fc from 'fast-check'
import { applyEdit, BULK_PARTS, type BulkEdit } from '../bulk/bulk-edit'
import type { CheckDocument } from '../definitions/check'
import { DAY } from '../units'
import { contrast, markColours } from './tag-colour'
import { FLAPS, matches, readFilter, type Filter, type Filterable } from './filter'

const row: Filterable = {
  key: 'sailings-api', name: 'Sailings API', address: 'https://book.orrinsound.example/api/sailings', service: 'Ticket sales', serviceKey: 'ticket-sales', stage: 'production', client: 'skarvoy', kind: 'http',
  state: 'down', since: 0, muted: false, importance: 'vital', tags: ['booking'], locations: ['bergen', 'lisbon'], overrides: ['every'], told: ['ines-falk'], troubles: 2
}
const passes = (filter: Filter, changes: Partial<Filterable> = {}, now = DAY) => matches({ ...row, ...changes }, filter, now)

describe('the filter of the table', () => {
  it('looks for every word of a text, in any case, wherever a person may mean it', () => {
    expect(['sailings', 'SALES api', 'booking', 'orrinsound book', ''].map((text) => passes({ text }))).toEqual([true, true, true, true, true])
    expect(passes({ text: 'sailings freight' })).toBe(false)
  })

  it.each<[Filter, boolean]>([
    [{ state: 'down' }, true], [{ state: 'up' }, false], [{ service: 'ticket-sales' }, true], [{ service: 'freight' }, false], [{ stage: 'staging' }, false], [{ client: 'skarvoy' }, true], [{ kind: 'http' }, true],
    [{ tag: 'booking' }, true], [{ tag: 'book' }, false], [{ location: 'lisbon' }, true], [{ location: 'galway' }, false], [{ importance: 'vital' }, true], [{ told: 'ines-falk' }, true], [{ told: 'jonas-wiik' }, false], [{ state: 'down', importance: 'low' }, false]
  ])('%j keeps a row: %s', (filter, kept) => expect(passes(filter)).toBe(kept))

  it('answers questions that are not about one field', () => {
    expect([passes({ only: 'overrides' }), passes({ only: 'overrides' }, { overrides: [] })]).toEqual([true, false])
    expect([passes({ only: 'flaps' }), passes({ only: 'flaps' }, { troubles: FLAPS })]).toEqual([false, true])
    expect([passes({ only: 'weeks' }, {}, 13 * DAY), passes({ only: 'weeks' }, {}, 14 * DAY), passes({ only: 'weeks' }, { state: 'slow' }, 20 * DAY)]).toEqual([false, true, false])
    expect([passes({ only: 'muted' }), passes({ only: 'unserved' }, { serviceKey: '' })]).toEqual([false, true])
    expect([passes({ only: 'unrouted' }), passes({ only: 'unrouted' }, { told: [] })]).toEqual([false, true])
    expect(passes({ only: 'nonsense' as never })).toBe(false)
  })

  it('is read from an address, where empty parts mean nothing', () => {
    expect(readFilter(new URLSearchParams('text=api&state=&tag=booking&sort=name'))).toEqual({ text: 'api', tag: 'booking' })
  })
})

describe('one change for many checks', () => {
  const document: CheckDocument = { check: 'x', name: 'X', service: 'sales', tags: ['booking'], every: '60s', http: { url: 'https://x.example/' } }
  const edited = (edit: BulkEdit) => applyEdit(document, edit)

  it('adds and removes tags without touching others', () => {
    expect(edited({ act: 'add-tags', tags: ['piers', 'booking'] })).toEqual({ document: { ...document, tags: ['booking', 'piers'] } })
    expect(edited({ act: 'remove-tags', tags: ['booking', 'other'] })).toEqual({ document: { check: 'x', name: 'X', service: 'sales', every: '60s', http: document.http } })
  })

  it('moves to another service or to none, and to other locations', () => {
    expect(edited({ act: 'service', key: 'freight' })).toMatchObject({ document: { service: 'freight' } })
    expect((edited({ act: 'service', key: null }) as { document: object }).document).not.toHaveProperty('service')
    expect(edited({ act: 'from', from: { countries: ['NO'] } })).toMatchObject({ document: { from: { countries: ['NO'] } } })
  })

  it('sets a part as typed, and gives one back', () => {
    expect(edited({ act: 'set', part: 'every', text: '5 minutes' })).toMatchObject({ document: { every: '5m' } })
    expect(edited({ act: 'set', part: 'down.tries', text: '3 of the last 5 tries' })).toMatchObject({ document: { down: { tries: 3, of: 5 } } })
    expect((edited({ act: 'give-back', part: 'every' }) as { document: object }).document).not.toHaveProperty('every')
  })

  it('says what it expected of nonsense, and leaves addresses and conditions alone', () => {
    expect(edited({ act: 'set', part: 'every', text: 'often' })).toMatchObject({ expected: expect.stringContaining('duration') as string })
    expect(edited({ act: 'set', part: 'http.url', text: 'https://y.example/' })).toHaveProperty('expected')
  })

  it('takes the example it offers for every part', () => {
    for (const { part, example } of BULK_PARTS) expect([part, edited({ act: 'set', part, text: example })]).toEqual([part, { document: expect.anything() as object }])
  })

  it('never changes the document it was given', () => {
    const before = JSON.stringify(document)
    for (const { part, example } of BULK_PARTS) edited({ act: 'set', part, text: example })
    expect(JSON.stringify(document)).toBe(before)
  })
})

describe('the colour of a tag', () => {
  it('stands out from the card in both themes, whatever was chosen', () => {
    fc.assert(fc.property(fc.integer({ min: 0, max: 0xffffff }), (number) => {
      const { day, night } = markColours(`#${number.toString(16).padStart(6, '0')}`)
      expect(contrast(day, '#ffffff')).toBeGreaterThanOrEqual(3)
      expect(contrast(night, '#1a2227')).toBeGreaterThanOrEqual(3)
    }))
  })

  it('stays as chosen where it stands out already', () => {
    expect(markColours('#c13b1b').day).toBe('#c13b1b')
    expect(contrast('#000000', '#ffffff')).toBeCloseTo(21)
  })
})
