import { beatsOf, nextRun, nextRunAnywhere, periodOf, requestsAnHour } from '../schedule/next-run'
import { spread } from '../schedule/spread'
import { allNeeds, circleThrough } from '../needs/needs'
import { locationsOf, speakChoice } from './places'

const place = (id: number, key: string, country: string, network: string, networkType: 'access' | 'mobile' | 'transit') => ({ id, key, place: key[0]!.toUpperCase() + key.slice(1), country, network, networkType })
const places = [
  place(1, 'bergen', 'NO', 'Nordvik Fibre', 'access'), place(2, 'lisbon', 'PT', 'Tagus Mobile', 'mobile'), place(3, 'valparaiso', 'CL', 'Pacífico Cable', 'access'),
  place(4, 'valparaiso-mobile', 'CL', 'Cordillera Mobile', 'mobile'), place(5, 'valparaiso-transit', 'CL', 'Andes Transit', 'transit')
]
const keys = (from: Parameters<typeof locationsOf>[0]) => locationsOf(from, places).map((each) => each.key)

describe('from where', () => {
  it('is everywhere, by name, or whatever fits a country and a network', () => {
    expect(keys('all')).toHaveLength(5)
    expect(keys(['lisbon', 'gone', 'bergen'])).toEqual(['bergen', 'lisbon'])
    expect(keys({ networks: ['mobile'] })).toEqual(['lisbon', 'valparaiso-mobile'])
    expect(keys({ countries: ['CL'], networks: ['access', 'Andes Transit'] })).toEqual(['valparaiso', 'valparaiso-transit'])
    expect(keys({ countries: ['SE'] })).toEqual([])
  })

  it('is said in words', () => {
    expect(speakChoice('all', places)).toBe('all 5 locations')
    expect(speakChoice(['bergen', 'lisbon'], places)).toBe('Bergen and Lisbon')
    expect(speakChoice(['bergen', 'lisbon', 'valparaiso'], places)).toBe('3 locations')
    expect(speakChoice({ networks: ['mobile', 'Andes Transit'], countries: ['CL', 'PT'] }, places)).toBe('mobile networks and Andes Transit in CL and PT (3 locations)')
  })

  it('asks one of every country before a second of any', () => {
    for (let check = 1; check < 30; check += 1) expect(new Set(spread(places, check).slice(0, 3).map((each) => each.country)).size).toBe(3)
  })
})

describe('turns', () => {
  const order = [5, 2, 9, 7]

  it('visit one location every cadence, and each once a round', () => {
    const beats = beatsOf(31, order, 60_000, 'in-turn')
    const runs: { at: number; location: number }[] = []
    for (let now = 1_000_000_000; runs.length < 12;) {
      const next = nextRunAnywhere(beats, now)!
      runs.push(next)
      now = next.at
    }
    for (let index = 1; index < runs.length; index += 1) expect(runs[index]!.at - runs[index - 1]!.at).toBe(60_000)
    for (let index = 0; index < 8; index += 1) expect(new Set(runs.slice(index, index + 4).map((each) => each.location)).size).toBe(4)
    expect(periodOf(beats[0]!)).toBe(240_000)
    expect(nextRun(beats[2]!, 0) % 240_000).toBeGreaterThanOrEqual(120_000)
  })

  it('send as many requests as one location alone would', () => {
    expect(requestsAnHour(60_000, 12, 1, 'in-turn')).toBe(60)
    expect(requestsAnHour(60_000, 12, 2, 'together')).toBe(1440)
  })
})

describe('needs', () => {
  const needs = new Map([['site', ['host', 'names']], ['host', ['power']], ['power', []], ['a', ['b']], ['b', ['c']], ['c', ['a']], ['self', ['self']]])

  it('are found through one another, nearest first', () => {
    expect(allNeeds('site', needs)).toEqual(['host', 'names', 'power'])
    expect(allNeeds('a', needs)).toEqual(['b', 'c'])
  })

  it('that lead back are named along the circle', () => {
    expect(circleThrough('a', needs)).toEqual(['a', 'b', 'c', 'a'])
    expect(circleThrough('self', needs)).toEqual(['self', 'self'])
    expect(circleThrough('site', needs)).toBeUndefined()
  })
})
