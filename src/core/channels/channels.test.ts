import { gatewayFor, readPhone, type Gateway } from '../people/phone'
import { readPreferences } from '../people/preferences'
import { standIn } from '../routing/back-off'
import { insteadKey, momentOfKey, overKey, routeOfKey, stepKey } from '../routing/step-key'
import { healthOf } from './health'
import { behaviourProblems, readChannel } from './read-channel'

const expected = (read: object) => ('problems' in read ? (read.problems as { path: string; expected: string }[]).map((each) => `${each.path}: ${each.expected}`) : [])

describe('a channel', () => {
  it.each([
    ['mail', { to: 'ines' }, 'to: a mail address'], ['sms', { number: '12' }, 'number: a phone number with its country, such as +44 7700 900123'], ['voice', { number: '07700 900123' }, 'number: a phone number with its country, such as +44 7700 900123'],
    ['chat', { url: 'nonsense' }, 'url: an http or https address'], ['webhook', { url: 'https://log.example/', secret: 'short' }, 'secret: a secret of 8 characters or more, to sign with'], ['push', { endpoint: 'https://push.example/' }, 'p256dh: what the browser gives']
  ] as const)('by %s is refused for a place that is none', (kind, given, problem) => expect(expected(readChannel(kind, given))[0]).toBe(problem))

  it('keeps its place in one form, and nothing else', () => {
    expect(readChannel('sms', { number: ' 0044 7700 900123', colour: 'red' })).toEqual({ config: { number: '+447700900123' } })
    expect(readChannel('chat', { url: 'https://chat.example/in', topic: '' })).toEqual({ config: { url: 'https://chat.example/in' } })
  })

  it('behaves as it is told, or says what is wrong', () => {
    const others = new Map([['b', 'c'], ['c', undefined], ['d', 'a']])
    const problems = (behaviour: object) => behaviourProblems('a', 'webhook', behaviour, others).map((each) => `${each.path}: ${each.found}`)
    expect(problems({ fallback: 'b', limit: { most: 5, minutes: 60 }, words: '{"what": "${subject}"}' })).toEqual([])
    expect(problems({ fallback: 'd' })).toEqual(['fallback: a circle: a to d to a'])
    expect(problems({ fallback: 'none' })).toEqual(['fallback: "none"'])
    expect(problems({ limit: { most: 0, minutes: 60 } })).toEqual(['limit: 0 in 60 min'])
    expect(problems({ words: '{"what": "${colour}"}' })).toEqual(['words: ${colour}'])
    expect(problems({ words: '{"what": ${subject' })).toEqual(['words: text that is not JSON'])
  })

  it('is judged by what it carried', () => {
    const carried = [{ took: 400, tries: 1 }, { took: 900, tries: 3 }, { tries: 12 }, { tries: 3 }].map((each) => ({ channel: 1, ...each }))
    expect(healthOf(carried).get(1)).toEqual({ messages: 4, median: 400, slowest: 900, failing: 0.75, lostInARow: 2 })
    expect(healthOf([{ channel: 2, tries: 12 }]).get(2)).toEqual({ messages: 1, failing: 1, lostInARow: 1 })
  })

  it('has another of the same kind stand in first, then the one noticed soonest', () => {
    const all = [{ kind: 'mail' as const, key: 'm' }, { kind: 'sms' as const, key: 's' }, { kind: 'voice' as const, key: 'v' }]
    expect([standIn('voice', all)?.key, standIn('push', all)?.key, standIn('mail', [])]).toEqual(['v', 's', undefined])
  })
})

describe('keys of messages', () => {
  it('say the route, and what belongs to the same moment whoever stands in for whom', () => {
    const key = stepKey(7, 'down', 'vital', 1, 0, 12)
    expect([routeOfKey(key), routeOfKey(overKey(7, 12)), momentOfKey(key), momentOfKey(overKey(7, 12))]).toEqual(['vital', undefined, 'incident/7/down/vital/1/0', 'incident/7/over'])
    expect(insteadKey(insteadKey(key, 13), 14)).toBe('incident/7/down/vital/1/0/instead/14')
  })
})

describe('numbers and gateways', () => {
  const gateway = (name: string, countries: string[], means: Gateway['means'] = 'sms'): Gateway => ({ name, means, url: 'https://carrier.example/', token: '', from: '', countries })
  const all = [gateway('rest', []), gateway('north', ['NO', 'SE']), gateway('calls', [], 'voice')]
  it.each([['+47 21 00 00 00', 'north'], ['+353 1 555 0100', 'rest'], ['+44 7700 900123', 'rest']])('carry %s through %s', (number, name) => expect(gatewayFor(all, 'sms', readPhone(number)!)?.name).toBe(name))
  it('is carried by nobody where no gateway serves', () => expect(gatewayFor([gateway('north', ['NO'])], 'sms', readPhone('+447700900123')!)).toBeUndefined())
  it.each(['', '12', 'abc', '+4', '07700900123'])('takes %p as no number', (text) => expect(readPhone(text)).toBeUndefined())
})

describe('preferences', () => {
  it.each([[{ quiet: 'late' }, 'quiet'], [{ zone: 'Mars/Base' }, 'zone'], [{ by: { down: ['pigeon'] } }, 'by.down[0]'], [{ by: { loud: [] } }, 'by'], [{ colour: 'red' }, '']])('%j are refused', (given, path) => {
    const read = readPreferences(given)
    expect('problems' in read && read.problems[0]!.path).toBe(path)
  })
  it('are kept as they are said', () => expect(readPreferences({ quiet: 'daily 22:00-07:00', by: { slow: [] }, takeByLink: false })).toEqual({ preferences: { quiet: ['daily 22:00-07:00'], by: { slow: [] }, takeByLink: false } }))
})
