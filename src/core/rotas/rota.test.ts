import ICAL from 'ical.js'
import { readSignedName, signedName } from '../inside/signed-name'
import { writeShifts } from './rota-calendar'
import { fromLocal, readLocal, speakExactly, toLocal, writeLocal } from '../time/zoned'
import { DAY, HOUR } from '../units'
import { readRota } from './read-rota'
import { onCall, shifts, type Rota } from './rota'

const zone = 'Europe/Oslo'
const at = (local: string) => fromLocal(readLocal(local)!, zone)
const people = new Set(['ines', 'mael', 'priya'])
const read = (document: object): Rota => {
  const found = readRota(document, people)
  if ('problems' in found) throw new Error(JSON.stringify(found.problems))
  return found.rota
}
const weekly = { rota: 'ticketing', name: 'Ticketing', zone, layers: [{ people: ['ines', 'mael'], from: '2026-03-02T08:00', every: 'week' }] }

describe('who is on call', () => {
  it('changes every week at the hand-over and comes round again', () => {
    const rota = read(weekly)
    expect(onCall(rota, at('2026-03-02T08:00'))?.person).toBe('ines')
    expect(onCall(rota, at('2026-03-09T07:59'))?.person).toBe('ines')
    expect(onCall(rota, at('2026-03-09T08:00'))?.person).toBe('mael')
    expect(onCall(rota, at('2026-03-16T08:00'))?.person).toBe('ines')
  })

  it('hands over at the same time on the wall on both sides of daylight saving', () => {
    const rota = read({ ...weekly, layers: [{ people: ['ines', 'mael'], from: '2026-03-02T00:30', every: 'day' }] })
    for (const day of ['2026-03-28', '2026-03-29', '2026-03-30', '2026-10-24', '2026-10-25', '2026-10-26']) {
      const turn = at(`${day}T00:30`)
      expect(onCall(rota, turn - 1)?.person).not.toBe(onCall(rota, turn)?.person)
    }
  })

  it('hands over by a rule of its own, at the same time on the wall, years ahead', () => {
    const rota = read({ ...weekly, layers: [{ people: ['ines', 'mael', 'priya'], from: '2026-03-02T08:00', every: 'FREQ=WEEKLY;BYDAY=MO,FR' }] })
    expect(['2026-03-02T08:00', '2026-03-06T07:59', '2026-03-06T08:00', '2026-03-09T08:00', '2026-03-13T08:00', '2026-03-30T07:59', '2026-03-30T08:00'].map((local) => onCall(rota, at(local))?.person))
      .toEqual(['ines', 'ines', 'mael', 'priya', 'ines', 'mael', 'priya'])
    expect(onCall(rota, at('2026-03-02T07:59'))).toBeUndefined()
    const all = shifts(rota, { from: at('2030-10-20T00:00'), to: at('2030-11-05T00:00') })
    expect(new Set(all.slice(1).map((each) => writeLocal(toLocal(each.from, zone)).slice(11)))).toEqual(new Set(['08:00']))
    expect(new Set(all.slice(1).map((each) => new Date(each.from).getUTCDay()))).toEqual(new Set([1, 5]))
  })

  it('falls through to the next layer outside of a layer’s hours', () => {
    const rota = read({ ...weekly, layers: [{ people: ['priya'], from: '2026-03-02T08:00', every: 'week', hours: 'mon-fri 08:00-16:00' }, ...weekly.layers] })
    expect(onCall(rota, at('2026-03-03T12:00'))).toEqual({ person: 'priya', layer: 0 })
    expect(onCall(rota, at('2026-03-03T16:00'))).toEqual({ person: 'ines', layer: 1 })
    expect(onCall(rota, at('2026-03-07T12:00'))).toEqual({ person: 'ines', layer: 1 })
  })

  it('lets cover go before everything, the latest cover before earlier', () => {
    const cover = [{ from: '2026-03-03T00:00', to: '2026-03-04T00:00', person: 'mael' }, { from: '2026-03-03T12:00', to: '2026-03-03T14:00', person: 'priya' }]
    const rota = read({ ...weekly, cover })
    expect(onCall(rota, at('2026-03-03T10:00'))?.person).toBe('mael')
    expect(onCall(rota, at('2026-03-03T13:00'))?.person).toBe('priya')
    expect(onCall(rota, at('2026-03-04T00:00'))?.person).toBe('ines')
  })

  it('knows nobody before the first hand-over', () => {
    expect(onCall(read(weekly), at('2026-03-02T07:59'))).toBeUndefined()
  })
})

describe('shifts', () => {
  const layered = read({
    ...weekly, cover: [{ from: '2026-03-28T20:00', to: '2026-03-29T04:00', person: 'mael' }],
    layers: [{ people: ['priya', 'ines'], from: '2026-03-03T09:00', every: 'day', hours: ['mon-fri 07:30-17:00', 'sat,sun 22:00-02:30'] }, { people: ['mael', 'ines'], from: '2026-03-05T18:00', every: 'week', hours: 'daily 18:00-06:00' }]
  })

  it('cover a range without a break and agree with who is on call at every quarter of an hour, across daylight saving', () => {
    for (const month of ['2026-03', '2026-10']) {
      const range = { from: at(`${month}-20T11:00`), to: at(`${month}-31T11:00`) }
      const found = shifts(layered, range)
      expect(found[0]!.from).toBe(range.from)
      expect(found.at(-1)!.to).toBe(range.to)
      for (let index = 1; index < found.length; index += 1) expect(found[index]!.from).toBe(found[index - 1]!.to)
      for (let moment = range.from; moment < range.to; moment += HOUR / 4) {
        const shift = found.find((each) => each.from <= moment && moment < each.to)!
        expect([speakExactly(moment, zone), shift.person]).toEqual([speakExactly(moment, zone), onCall(layered, moment)?.person])
      }
    }
  })

  it('show holes as shifts without a person', () => {
    const office = read({ ...weekly, layers: [{ ...weekly.layers[0]!, hours: 'mon-fri 08:00-16:00' }] })
    const holes = shifts(office, { from: at('2026-03-03T00:00'), to: at('2026-03-03T00:00') + DAY }).filter((each) => each.person === undefined)
    expect(holes.map((each) => each.to - each.from)).toEqual([8 * HOUR, 8 * HOUR])
  })
})

describe('a rota with mistakes', () => {
  const problems = (document: object) => {
    const found = readRota(document, people)
    return 'problems' in found ? found.problems.map(({ path, expected }) => `${path}: ${expected}`) : []
  }
  it('is refused with the place of the mistake', () => {
    expect(problems({ ...weekly, layers: [] })).toEqual(['layers: at least one layer with people'])
    expect(problems({ ...weekly, layers: [{ ...weekly.layers[0]!, people: [] }] })).toEqual(['layers[0].people: the keys of 1 to 100 people'])
    expect(problems({ ...weekly, layers: [{ ...weekly.layers[0]!, people: ['ines', 'nobody'] }] })).toEqual(['layers[0].people[1]: the key of a person'])
    expect(problems({ ...weekly, layers: [{ ...weekly.layers[0]!, every: 'FREQ=HOURLY' }] })).toEqual(['layers[0].every: day, week, or an RRULE (RFC 5545) with FREQ= one of DAILY, WEEKLY, MONTHLY, YEARLY'])
    expect(problems({ ...weekly, layers: [{ ...weekly.layers[0]!, every: 'fortnight' }] })[0]).toMatch(/^layers\[0\]\.every: day, week, or an RRULE/)
    expect(problems({ ...weekly, zone: 'Nowhere/Else' })).toEqual(['zone: an IANA time zone such as Europe/Oslo'])
    expect(problems({ ...weekly, cover: [{ from: '2026-03-04T00:00', to: '2026-03-03T00:00', person: 'ines' }] })).toEqual(['cover[0].to: an end after the beginning'])
    expect(problems({ ...weekly, when: 'always' })[0]).toContain('only these fields')
  })
})

describe('a calendar of shifts', () => {
  const names = new Map([['ines', 'Ines Falk'], ['mael', 'Mael Kerjean']])
  const now = Date.parse('2026-03-20T12:00:00Z')
  it('holds every shift of a rota, each known by its beginning, and of a person only their own', () => {
    const all = ICAL.parse(writeShifts([read(weekly)], names, now))
    const events = new ICAL.Component(all).getAllSubcomponents('vevent').map((each) => new ICAL.Event(each))
    const ahead = shifts(read(weekly), { from: now - 14 * DAY, to: now + 90 * DAY }).filter((each) => each.person !== undefined)
    expect(events.map((each) => each.startDate.toJSDate().getTime())).toEqual(ahead.map((each) => each.from))
    expect(new Set(events.map((each) => each.uid)).size).toBe(events.length)
    const own = writeShifts([read(weekly)], names, now, ahead[0]!.person)
    expect(own.match(/BEGIN:VEVENT/g)).toHaveLength(ahead.filter((each) => each.person === ahead[0]!.person).length)
    expect(own).not.toContain(names.get(ahead[0]!.person!)!)
  })
  it('has an address that nobody can guess', () => {
    const name = signedName('rota', 'ticketing', 'key')
    expect(readSignedName(name, 'key')).toEqual({ kind: 'rota', subject: 'ticketing' })
    for (const wrong of [name.replace('ticketing', 'network'), name.replace('rota.', 'board.'), name.replace(/\.[\w-]+$/, '.abc'), 'rota.ticketing', '']) expect(readSignedName(wrong, 'key')).toBeUndefined()
    expect(readSignedName(name, 'other')).toBeUndefined()
  })
})
