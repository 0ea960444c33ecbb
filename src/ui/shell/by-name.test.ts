import { byName } from './by-name'

const things = [
  { label: 'Incident: Tide station, live', description: 'open' },
  { label: 'Today', description: 'does anything need me?' },
  { label: 'Locations', description: 'where checks run from' },
  { label: 'Tide station, live', description: 'Harbour data' },
  { label: 'Berths', description: 'Harbour data' },
  { description: 'without a name' }
]
const found = (text: string) => byName(text, things).map((each) => each.label)

describe('finding by name', () => {
  it('puts the thing of that name before what is about it', () => {
    expect(found('Tide station')).toEqual(['Tide station, live', 'Incident: Tide station, live'])
    expect(found('  tide STATION, live ')).toEqual(['Tide station, live', 'Incident: Tide station, live'])
    expect(found('incident')).toEqual(['Incident: Tide station, live'])
  })

  it('finds by what is said of a thing, after names, in the order things stand in', () => {
    expect(found('harbour')).toEqual(['Tide station, live', 'Berths'])
    expect(found('live')).toEqual(['Incident: Tide station, live', 'Tide station, live'])
    expect(found('a')).toEqual(['Incident: Tide station, live', 'Today', 'Locations', 'Tide station, live', 'Berths', undefined])
  })

  it('keeps everything as it stands when nothing is typed, and finds nothing where nothing is', () => {
    expect(byName(' ', things)).toEqual(things)
    expect(found('no such thing')).toEqual([])
  })
})
