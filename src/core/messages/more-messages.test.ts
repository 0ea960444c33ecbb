import { digestMessage } from './digest'
import { codeMessage, type Message } from './message'
import { shortText, spokenText } from './short'
import { readTakeToken, takeToken } from './take-link'
import { fillTemplate, templateProblems } from './template'

const message: Message = {
  news: 'down', subject: 'Sailings API is down', urgent: true, thread: 'incident-7', link: 'https://hemeron.example/incidents/7', facts: { check: 'Sailings API', reason: 'the status is "503"', incident: 7 },
  lines: ['Sailings API is down, in Ticket sales.', 'Why: the status is 503', 'Where: at 5 of 12 locations: Bergen.', 'Since 02:14:05.', 'Target: https://book.example/api']
}
const at = (clock: string) => Date.parse(`2026-11-24T${clock}:00Z`)

describe('a text', () => {
  it('says first things first and keeps its link whole', () => {
    expect(shortText(message)).toBe('Sailings API is down. Why: the status is 503. Where: at 5 of 12 locations: Bergen. Since 02:14:05. https://hemeron.example/incidents/7')
    const short = shortText({ ...message, lines: ['', `Why: ${'x'.repeat(500)}`] })
    expect([short.length, short.endsWith(message.link!)]).toEqual([300, true])
  })
})

describe('a voice', () => {
  it('leaves out what nobody can write down, and says the key where there is one', () => {
    expect(spokenText(message, { take: true })).toBe('Hemeron. Sailings API is down. Why: the status is 503. Where: at 5 of 12 locations: Bergen. To take it, press 1.')
    expect(spokenText({ ...message, news: 'over' }, { take: true })).not.toContain('press')
    expect(spokenText(codeMessage('012345', 'Orrin'), { take: false })).toContain('Your code is 0 1 2 3 4 5.')
  })
})

describe('own words', () => {
  it('are filled in, and stay JSON whatever the values say', () => {
    expect(fillTemplate('${check}: ${reason} ${ended}', message)).toBe('Sailings API: the status is "503" ')
    expect(JSON.parse(fillTemplate('{"why": "${reason}", "n": "${incident}", "all": "${text}"}', message, 'json'))).toMatchObject({ why: 'the status is "503"', n: '7', all: expect.stringContaining('\n') as unknown })
  })
  it('may name known values only', () => {
    expect(templateProblems('words', '${subject} ${password}', 'text')).toEqual([{ path: 'words', found: '${password}', expected: expect.stringContaining('${subject}') as unknown }])
    expect(templateProblems('words', '${constructor}', 'text')).toHaveLength(1)
    expect(templateProblems('words', 'x'.repeat(4001), 'text')).toHaveLength(1)
  })
})

describe('a digest', () => {
  const held = (clock: string, thread: string, news: Message['news'], subject: string) => ({ at: at(clock), message: { ...message, thread, news, subject } })
  it('says per incident what came and how it went on, and what is not over', () => {
    const digest = digestMessage([held('02:31', 'a', 'over', 'Up again: Tides'), held('02:14', 'a', 'slow', 'Tides is slow'), held('04:00', 'b', 'down', 'Crew portal is down')], 'UTC', 'https://hemeron.example')
    expect(digest.subject).toBe('2 incidents in your quiet hours, 1 not over')
    expect(digest.lines.slice(1)).toEqual(['02:14 Tides is slow; 02:31 Up again: Tides (https://hemeron.example/incidents/7)', '04:00 Crew portal is down (https://hemeron.example/incidents/7)'])
    expect(digestMessage([held('02:14', 'a', 'over', 'Up again: Tides')], 'UTC').subject).toBe('1 incident in your quiet hours, all over')
  })
})

describe('a link that takes an incident', () => {
  const token = takeToken(4711, 2_000_000, 'key')
  it('says which delivery it belongs to until its time is over', () => {
    expect(readTakeToken(token, 'key', 1_999_999)).toEqual({ delivery: 4711 })
    expect(readTakeToken(token, 'key', 2_000_001)).toEqual({ wrong: 'too-late' })
  })
  it.each([`${token}x`, token.replace(/^[^.]+/, '1'), token.replace(/\.[^.]+\./, '.zzzz.'), '', '..', 'a.b.c'])('is not believed when it was changed: %s', (changed) => expect(readTakeToken(changed, 'key', 0)).toEqual({ wrong: 'not-signed' }))
  it('is not believed with another key, or none', () => {
    expect(readTakeToken(token, 'other', 0)).toEqual({ wrong: 'not-signed' })
    expect(readTakeToken(takeToken(1, 9e9, ''), '', 0)).toEqual({ wrong: 'not-signed' })
  })
})
