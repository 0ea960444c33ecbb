import fc from 'fast-check'
import { fromLocal, readLocal, toLocal, writeLocal } from '../time/zoned'
import { DAY, HOUR, MINUTE } from '../units'
import { Calendar } from './calendar'
import { readCalendar, writeCalendar } from './icalendar'
import { concerns, type Planned } from './planned'
import { readPlanned } from './read-planned'
import { nextOccurrence, occurrences } from './recurrence'

const at = (text: string) => Date.parse(text)
const document = { planned: 'move', title: 'Moving the database', from: '2026-11-24T02:00', zone: 'Europe/Oslo', lasts: '2h' }
const planned = (more: object = {}): Planned => {
  const read = readPlanned({ ...document, ...more })
  if ('problems' in read) throw new Error(JSON.stringify(read.problems))
  return read.planned
}
const times = (entry: Planned, from: string, to: string, ends = {}) => occurrences(entry, { from: at(from), to: at(to) }, ends).map((each) => [new Date(each.from).toISOString(), (each.to - each.from) / MINUTE])

describe('local times', () => {
  it('stand for an instant in their zone, also where the clock skips or repeats an hour', () => {
    expect(fromLocal(readLocal('2026-07-01T02:00')!, 'Europe/Oslo')).toBe(at('2026-07-01T00:00:00Z'))
    expect(fromLocal(readLocal('2026-12-01T02:00')!, 'Europe/Oslo')).toBe(at('2026-12-01T01:00:00Z'))
    expect(fromLocal(readLocal('2026-03-29T02:30')!, 'Europe/Oslo')).toBe(at('2026-03-29T01:30:00Z'))
    expect(fromLocal(readLocal('2026-10-25T02:30')!, 'Europe/Oslo')).toBe(at('2026-10-25T00:30:00Z'))
  })

  it('are read back from any instant outside the hour that comes twice', () => {
    fc.assert(fc.property(fc.integer({ min: at('2026-01-01T00:00:00Z') / MINUTE, max: at('2027-01-01T00:00:00Z') / MINUTE }), fc.constantFrom('Europe/Oslo', 'America/St_Johns', 'Asia/Kathmandu', 'UTC'), (minutes, zone) => {
      const local = toLocal(minutes * MINUTE, zone)
      expect(readLocal(writeLocal(local))).toBe(local)
      expect(toLocal(fromLocal(local, zone), zone)).toBe(local)
    }))
  })

  it.each(['2026-13-01T00:00', '2026-02-30', 'tomorrow', '2026-11-24 02:00'])('refuse %j', (text) => expect(readLocal(text)).toBeUndefined())
})

describe('planned work', () => {
  it('takes place once, or again at the same time on the clock through daylight saving', () => {
    expect(times(planned(), '2026-11-01T00:00:00Z', '2026-12-31T00:00:00Z')).toEqual([['2026-11-24T01:00:00.000Z', 120]])
    const weekly = planned({ from: '2026-10-18T02:30', repeats: 'FREQ=WEEKLY;BYDAY=SU', lasts: '90m' })
    expect(times(weekly, '2026-10-01T00:00:00Z', '2026-11-02T00:00:00Z')).toEqual([['2026-10-18T00:30:00.000Z', 90], ['2026-10-25T00:30:00.000Z', 90], ['2026-11-01T01:30:00.000Z', 90]])
  })

  it('leaves out what is excepted, and ends early or late where somebody said so', () => {
    const daily = planned({ from: '2026-11-24T02:00', repeats: 'FREQ=DAILY;COUNT=3', except: ['2026-11-25T02:00'] })
    expect(times(daily, '2026-11-20T00:00:00Z', '2026-12-20T00:00:00Z').map(([from]) => from)).toEqual(['2026-11-24T01:00:00.000Z', '2026-11-26T01:00:00.000Z'])
    const ends = { [at('2026-11-24T01:00:00Z')]: at('2026-11-24T01:20:00Z'), [at('2026-11-26T01:00:00Z')]: at('2026-11-26T06:00:00Z') }
    expect(times(daily, '2026-11-24T00:00:00Z', '2026-11-27T00:00:00Z', ends).map(([, length]) => length)).toEqual([20, 300])
  })

  it('that began before a range and reaches into it is part of it', () => {
    expect(times(planned({ lasts: '10d' }), '2026-12-01T00:00:00Z', '2026-12-02T00:00:00Z')).toHaveLength(1)
    expect(nextOccurrence(planned(), at('2026-11-24T02:59:00Z'))).toBeDefined()
    expect(nextOccurrence(planned(), at('2026-11-24T03:00:00Z'))).toBeUndefined()
  })

  it.each([
    [{ repeats: 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30' }, 'never'], [{ repeats: 'FREQ=DAILY;UNTIL=20200101T000000Z' }, 'never'], [{ repeats: 'FREQ=DAILY;COUNT=1', except: ['2026-11-24T02:00'] }, 'never'],
    [{ repeats: 'FREQ=MINUTELY' }, 'FREQ='], [{ repeats: 'every Tuesday' }, 'FREQ='], [{ repeats: 'FREQ=WEEKLY;BYDAY=XX' }, 'RRULE'], [{ zone: 'Europe/Atlantis' }, 'IANA'], [{ zone: undefined }, 'IANA'],
    [{ from: 'tonight' }, 'local time'], [{ lasts: '0s' }, 'from 60s'], [{ for: { hosts: ['a'] } }, 'services, tags, checks']
  ])('is refused with a reason: %j', (more, words) => {
    const read = readPlanned({ ...document, ...more })
    const said = 'problems' in read ? read.problems.map((each) => each.expected).join() : 'accepted'
    expect(said).toContain(words)
  })

  it('that never fires is found out quickly', () => {
    const begun = performance.now()
    readPlanned({ ...document, repeats: 'FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30' })
    expect(performance.now() - begun).toBeLessThan(5000)
  })

  it('on the 29th of February waits for a leap year', () => {
    expect(times(planned({ repeats: 'FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=29' }), '2026-11-01T00:00:00Z', '2029-01-01T00:00:00Z')).toEqual([['2028-02-29T01:00:00.000Z', 120]])
  })
})

describe('what it concerns', () => {
  const check = { key: 'home', service: 'sales', tags: ['booking'] }
  it('is everything, or what is named by itself, by service or by tag', () => {
    expect([{}, { checks: ['home'] }, { services: ['sales'] }, { tags: ['booking'] }, { services: ['other'], tags: ['booking'] }].map((what) => concerns(what, check))).toEqual([true, true, true, true, true])
    expect([{ checks: ['other'] }, { services: ['other'] }, { tags: [] }].map((what) => concerns(what, check))).toEqual([false, false, false])
  })

  it('is worked out again whenever something begins or ends', () => {
    const window = planned({ planned: 'release', does: 'window', repeats: 'FREQ=DAILY', lasts: '30m', for: { services: ['sales'] } })
    const calendar = new Calendar([{ planned: planned({ for: { tags: ['booking'] } }), ends: { [at('2026-11-24T01:00:00Z')]: at('2026-11-24T01:10:00Z') } }, { planned: window, ends: {} }])
    const seen = (time: string) => [Boolean(calendar.workOn(check, at(time))), Boolean(calendar.windowOf(check, at(time))), Boolean(calendar.windowOf({ ...check, service: 'other' }, at(time)))]
    expect(['2026-11-24T00:59:59Z', '2026-11-24T01:00:00Z', '2026-11-24T01:10:00Z', '2026-11-24T01:30:00Z', '2026-11-25T01:05:00Z'].map(seen)).toEqual([[false, false, false], [true, true, false], [false, true, false], [false, false, false], [false, true, false]])
  })
})

describe('iCalendar', () => {
  const all = [planned({ public: 'Tickets cannot be bought.' }), planned({ planned: 'weekly', title: 'Weekly; with, signs', repeats: 'FREQ=WEEKLY;BYDAY=SU', except: ['2026-12-06T02:00'], zone: 'America/St_Johns' }), planned({ planned: 'utc', zone: 'UTC' })]

  it('is read back as it was written', () => {
    const { documents, problems } = readCalendar(writeCalendar(all, at('2026-11-23T12:00:00Z')), 'Europe/Oslo', () => false)
    expect(problems).toEqual([])
    expect(documents.map(({ title, from, zone, lasts, repeats, except }) => [title, from, zone, lasts, repeats, except])).toEqual([
      ['Moving the database', '2026-11-24T02:00', 'Europe/Oslo', '2h', undefined, undefined], ['Weekly; with, signs', '2026-11-24T02:00', 'America/St_Johns', '2h', 'FREQ=WEEKLY;BYDAY=SU', ['2026-12-06T02:00']], ['Moving the database', '2026-11-24T02:00', 'UTC', '2h', undefined, undefined]
    ])
    expect(documents[0]).toMatchObject({ public: 'Tickets cannot be bought.' })
  })

  it('says the changes of each zone', () => {
    const text = writeCalendar(all, at('2026-11-23T12:00:00Z'))
    expect(text).toMatch(/BEGIN:VTIMEZONE[\s\S]*TZID:Europe\/Oslo[\s\S]*BEGIN:DAYLIGHT\r\nDTSTART:20270328T020000\r\nTZOFFSETFROM:\+0100\r\nTZOFFSETTO:\+0200/)
    expect(text).not.toContain('TZID:UTC')
  })

  it('takes ends, lengths and whole days of others, and refuses what has no beginning', () => {
    const event = (lines: string) => `BEGIN:VCALENDAR\r\nVERSION:2.0\r\nBEGIN:VEVENT\r\nUID:1\r\n${lines}\r\nEND:VEVENT\r\nEND:VCALENDAR`
    const read = (lines: string) => readCalendar(event(lines), 'Europe/Oslo', (key) => key === 'a')
    expect(read('SUMMARY:A\r\nDTSTART:20261124T010000Z\r\nDTEND:20261124T023000Z').documents).toMatchObject([{ planned: 'a-2', from: '2026-11-24T01:00', zone: 'UTC', lasts: '90m' }])
    expect(read('DTSTART;VALUE=DATE:20261124').documents).toMatchObject([{ title: 'Planned work', from: '2026-11-24T00:00', lasts: '1d', zone: 'Europe/Oslo' }])
    expect(read('SUMMARY:B').problems).toMatchObject([{ path: 'VEVENT 1', expected: 'the time it begins' }])
    expect(read('DTSTART:20261124T010000Z\r\nDTEND:20261124T010000Z').problems).toHaveLength(1)
    for (const text of ['', 'nonsense', 'BEGIN:VCALENDAR', 'BEGIN:VCALENDAR\r\nEND:VCALENDAR']) expect(readCalendar(text, 'UTC', () => false).problems.length).toBeGreaterThan(0)
  })
})

it('counts hours of the stopwatch in the night when the clocks change', () => {
  const [[, length]] = times(planned({ from: '2026-10-25T01:00', lasts: '4h' }), '2026-10-24T00:00:00Z', '2026-10-26T00:00:00Z') as [[string, number]]
  expect(length * MINUTE).toBe(4 * HOUR)
  expect(DAY / HOUR).toBe(24)
})
