import { readMoment, readTaking } from './rehearse-question'

describe('the question of a rehearsal', () => {
  const now = Date.parse('2026-11-24T02:00:00Z')
  it('reads moments as people say them, in the zone', () => {
    const read = (text: string) => readMoment(text, 'Europe/Oslo', now)
    expect(read('Saturday 03:00')).toBe('2026-11-28T03:00')
    expect(read('sat 03:00')).toBe('2026-11-28T03:00')
    expect(read('Tuesday 03:00')).toBe('2026-12-01T03:00')
    expect(read('Tuesday 03:01')).toBe('2026-11-24T03:01')
    expect(read('2026-12-24 18:00')).toBe('2026-12-24T18:00')
    expect(read(' now ')).toBe('now')
    for (const wrong of ['someday 03:00', 'Saturday 25:00', 'soon', '2026-13-40 99:00']) expect(read(wrong)).toBeUndefined()
  })
  it('reads when somebody takes it', () => {
    expect(readTaking('nobody takes it')).toBe('never')
    expect(readTaking('it is taken after 5 min')).toBe('5m')
    expect(readTaking('sometime')).toBeUndefined()
  })
})
