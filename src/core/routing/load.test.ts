import { loadOf } from './load'

describe('how much each was told', () => {
  const at = (time: string) => Date.parse(`2026-11-24T${time}:00Z`)
  it('counts messages, nights in the zone, and what was acted on by incident', () => {
    const load = loadOf([
      { name: 'Ines', person: 1, incident: 7, at: at('20:30'), holder: 1, notReal: false }, { name: 'Ines', person: 1, incident: 7, at: at('21:30'), holder: 1, notReal: false },
      { name: 'Ines', person: 1, incident: 8, at: at('06:30'), holder: 2, notReal: true }, { name: 'Log', incident: 7, at: at('12:00'), holder: 1, notReal: false }
    ], 'Europe/Oslo')
    expect(load).toEqual([
      { name: 'Ines', isPerson: true, told: 3, atNight: 1, actedOn: 0.5, notReal: 0.5 }, { name: 'Log', isPerson: false, told: 1, atNight: 0, actedOn: 1, notReal: 0 }
    ])
  })
  it('is empty when nothing was sent', () => {
    expect(loadOf([], 'UTC')).toEqual([])
  })
})
