import { HOUR, MINUTE, SECOND } from '../units'
import type { Call } from '../inside/inside'
import { judgeCalls, type CallRule } from './judge-calls'
import { readCall } from './read-call'
import { cronProblem, nextTime, timesUpTo } from './rhythm'
import { openRuns, runsOf, took } from './runs'

const DAY0 = Date.parse('2026-03-01T00:00:00Z')
const begin = (at: number, run?: string): Call => ({ at: DAY0 + at, event: 'begin', ...(run ? { run } : {}) })
const end = (at: number, exit = 0, more: Partial<Call> = {}): Call => ({ at: DAY0 + at, event: 'end', exit, ...more })

describe('runs', () => {
  it('are put together from beginnings and ends', () => {
    const runs = runsOf([begin(0), end(5 * MINUTE), begin(HOUR), end(HOUR + MINUTE, 2)])
    expect(runs.map((run) => [took(run), run.exit, run.overlapped])).toEqual([[5 * MINUTE, 0, false], [MINUTE, 2, false]])
  })

  it('are known by their end alone when a job says nothing else', () => {
    expect(runsOf([end(MINUTE), end(2 * MINUTE)]).map((run) => [run.began, run.ended])).toEqual([[undefined, DAY0 + MINUTE], [undefined, DAY0 + 2 * MINUTE]])
  })

  it('are told apart by name when they go on side by side', () => {
    const runs = runsOf([begin(0, 'a'), begin(MINUTE, 'b'), end(2 * MINUTE, 0, { run: 'a' }), end(9 * MINUTE, 1, { run: 'b' })])
    expect(runs.map((run) => [run.run, took(run), run.exit, run.overlapped])).toEqual([['a', 2 * MINUTE, 0, false], ['b', 8 * MINUTE, 1, true]])
  })

  it('without names: the end belongs to the last that began, and the end of those before is never heard', () => {
    const runs = runsOf([begin(0), begin(HOUR), end(HOUR + MINUTE)])
    expect(runs.map((run) => [run.ended === undefined, run.lost ?? false])).toEqual([[true, true], [false, false]])
    expect(openRuns(runs)).toEqual([])
  })

  it('said twice to begin under one name have begun once', () => {
    expect(runsOf([begin(0, 'a'), begin(SECOND, 'a'), end(MINUTE, 0, { run: 'a' })])).toHaveLength(1)
  })
})

describe('a job at an interval', () => {
  const rule: CallRule = { rhythm: { every: HOUR }, grace: 10 * MINUTE, longest: 30 * MINUTE, overlap: 'fails' }
  const judge = (calls: Call[], at: number, more: Partial<CallRule> = {}, away?: { from: number; to: number }) =>
    judgeCalls({ ...rule, ...more }, { calls, made: DAY0, ...(away ? { away: { from: DAY0 + away.from, to: DAY0 + away.to } } : {}) }, 'UTC', DAY0 + at)

  it('is awaited before its first call, and missing when that never comes', () => {
    expect(judge([], 30 * MINUTE)).toMatchObject({ verdict: 'warn', reason: 'call-awaited' })
    expect(judge([], 70 * MINUTE).verdict).toBe('warn')
    expect(judge([], 70 * MINUTE + 1)).toMatchObject({ verdict: 'fail', reason: 'call-late' })
    expect(judge([], 5 * HOUR).reason).toBe('call-missing')
  })

  it('passes until its grace is over, is then late, and missing after a whole interval', () => {
    const calls = [end(0)]
    expect(judge(calls, 70 * MINUTE).verdict).toBe('pass')
    expect(judge(calls, 71 * MINUTE)).toMatchObject({ verdict: 'fail', reason: 'call-late', sentence: expect.stringContaining('due 01:00') as string })
    expect(judge(calls, 2 * HOUR + 11 * MINUTE)).toMatchObject({ reason: 'call-missing', sentence: expect.stringContaining('2 runs in a row') as string })
    expect(judge([...calls, end(3 * HOUR)], 3 * HOUR + MINUTE)).toMatchObject({ verdict: 'pass', lateness: 2 * HOUR })
  })

  it('has failed until a run ends well', () => {
    const failing = [end(0), end(HOUR, 3, { output: 'reading\nno space left\n' })]
    expect(judge(failing, HOUR + MINUTE)).toMatchObject({ verdict: 'fail', reason: 'call-failed', sentence: expect.stringContaining('exit code 3: no space left') as string })
    expect(judge([...failing, begin(2 * HOUR)], 2 * HOUR + MINUTE).reason).toBe('call-failed')
    expect(judge([...failing, end(2 * HOUR)], 2 * HOUR + MINUTE).verdict).toBe('pass')
  })

  it('takes too long only while it runs longer than it may', () => {
    expect(judge([begin(0)], 30 * MINUTE).verdict).toBe('pass')
    expect(judge([begin(0)], 31 * MINUTE).reason).toBe('call-too-long')
    expect(judge([begin(0), end(40 * MINUTE)], 41 * MINUTE).verdict).toBe('pass')
  })

  it('overlaps when a run begins before the last has ended, and that fails, warns or is fine', () => {
    const calls = [begin(0), begin(20 * MINUTE)]
    expect(judge(calls, 21 * MINUTE).reason).toBe('call-overlaps')
    expect(judge(calls, 21 * MINUTE, { overlap: 'warns' })).toMatchObject({ verdict: 'warn', reason: 'call-overlaps' })
    expect(judge(calls, 21 * MINUTE, { overlap: 'is fine' }).verdict).toBe('pass')
    expect(judge([...calls, end(22 * MINUTE)], 23 * MINUTE).verdict).toBe('pass')
  })

  it('is given its grace anew after a time in which nobody could call', () => {
    const away = { from: 55 * MINUTE, to: 3 * HOUR }
    expect(judge([end(0)], 3 * HOUR + 10 * MINUTE, {}, away).verdict).toBe('pass')
    expect(judge([end(0)], 3 * HOUR + 11 * MINUTE, {}, away).verdict).toBe('fail')
    // what was missing before stays missing
    expect(judge([end(0)], 6 * HOUR + MINUTE, {}, { from: 5 * HOUR, to: 6 * HOUR }).reason).toBe('call-missing')
  })
})

describe('a job at the times of a cron expression', () => {
  const rule: CallRule = { rhythm: { cron: '30 3 * * *', zone: 'Europe/Oslo' }, grace: 15 * MINUTE, overlap: 'fails' }
  const at = (text: string) => Date.parse(text)
  const judge = (calls: Call[], now: number, made = at('2026-03-01T00:00:00Z')) => judgeCalls(rule, { calls, made }, 'Europe/Oslo', now)

  it('is expected on the clock of its zone, right across daylight saving', () => {
    expect(new Date(nextTime('30 3 * * *', 'Europe/Oslo', at('2026-03-28T12:00:00Z'))).toISOString()).toBe('2026-03-29T01:30:00.000Z')
    expect(new Date(nextTime('30 3 * * *', 'Europe/Oslo', at('2026-03-27T12:00:00Z'))).toISOString()).toBe('2026-03-28T02:30:00.000Z')
    expect(timesUpTo('0 0 29 2 *', 'UTC', at('2026-03-01T00:00:00Z'), 1).map((time) => new Date(time).toISOString())).toEqual(['2024-02-29T00:00:00.000Z'])
  })

  it('is late, then missing when the next time is reached without a call', () => {
    const calls = [{ at: at('2026-03-10T02:30:04Z'), event: 'end' as const, exit: 0 }]
    expect(judge(calls, at('2026-03-11T02:44:00Z')).verdict).toBe('pass')
    expect(judge(calls, at('2026-03-11T02:46:00Z')).reason).toBe('call-late')
    expect(judge(calls, at('2026-03-12T02:40:00Z')).reason).toBe('call-late')
    expect(judge(calls, at('2026-03-12T02:46:00Z'))).toMatchObject({ reason: 'call-missing', sentence: expect.stringContaining('2 runs') as string })
    expect(judge([...calls, { at: at('2026-03-12T02:50:00Z'), event: 'end', exit: 0 }], at('2026-03-12T03:00:00Z'))).toMatchObject({ verdict: 'pass', lateness: 20 * MINUTE })
  })

  it('takes a call a little early for the time it belongs to', () => {
    const calls = [{ at: at('2026-03-11T02:29:30Z'), event: 'end' as const, exit: 0 }]
    expect(judge(calls, at('2026-03-11T05:00:00Z'))).toMatchObject({ verdict: 'pass', lateness: 0 })
  })

  it('owes nothing for times before it was made', () => {
    expect(judge([], at('2026-03-11T05:00:00Z'), at('2026-03-11T04:00:00Z')).reason).toBe('call-awaited')
  })

  it.each(['61 * * * *', '* * * *', '* * * * * *', '0 0 30 2 *', 'nonsense', ''])('refuses %j', (cron) => {
    expect(cronProblem(cron)).toContain('cron expression')
  })
})

describe('every order of calls', () => {
  // whatever comes in, in whatever order it is given, is judged the same way and never throws
  it('gives the same runs and a verdict of the list', () => {
    let seed = 7
    const random = () => (seed = (seed * 16_807) % 2_147_483_647) / 2_147_483_647
    for (let round = 0; round < 400; round += 1) {
      const calls = Array.from({ length: Math.floor(random() * 12) }, (): Call => {
        const at = Math.floor(random() * 6 * HOUR)
        const run = random() < 0.3 ? String(Math.floor(random() * 3)) : undefined
        return random() < 0.5 ? begin(at, run) : end(at, random() < 0.2 ? 1 : 0, run ? { run } : {})
      })
      const shuffled = [...calls].sort(() => random() - 0.5)
      const distinct = new Set(calls.map((call) => call.at)).size === calls.length
      if (distinct) expect(runsOf(shuffled)).toEqual(runsOf(calls))
      const ends = calls.filter((call) => call.event === 'end').length
      expect(runsOf(calls).filter((run) => run.ended !== undefined)).toHaveLength(ends)
      const judged = judgeCalls({ rhythm: { every: HOUR }, grace: MINUTE, longest: HOUR, overlap: 'fails' }, { calls, made: DAY0 }, 'UTC', DAY0 + 6 * HOUR)
      expect(['pass', 'warn', 'fail']).toContain(judged.verdict)
      expect(judged.verdict === 'pass').toBe(judged.reason === undefined)
    }
  })
})

describe('what a job says', () => {
  const read = (query: string, body = '', type = '') => readCall(new URLSearchParams(query), body, type)

  it('is an end that went well unless it says otherwise', () => {
    expect(read('')).toEqual({ call: { event: 'end', exit: 0 } })
    expect(read('exit=17&run=night', 'no space left\n', 'text/plain')).toEqual({ call: { event: 'end', exit: 17, run: 'night', output: 'no space left\n' } })
    expect(read('event=begin')).toEqual({ call: { event: 'begin' } })
    expect(read('', '{"event":"end","exit":2,"output":"x"}', 'application/json')).toEqual({ call: { event: 'end', exit: 2, output: 'x' } })
  })

  it('keeps the end of a long output', () => {
    const read = readCall(new URLSearchParams(), `${'a'.repeat(20_000)}the end`, 'text/plain')
    expect('call' in read && read.call.output!.length).toBe(10_000)
    expect('call' in read && read.call.output!.endsWith('the end')).toBe(true)
  })

  it.each([['event=over', '', ''], ['exit=-1', '', ''], ['exit=256', '', ''], ['exit=$?', '', ''], ['', '[1]', 'application/json'], ['', '{"exit":', 'application/json'], ['run=', '', ''], ['', '{"output":4}', 'application/json']])('refuses %s %s', (query, body, type) => {
    expect(read(query, body, type)).toMatchObject({ problems: [expect.objectContaining({ expected: expect.any(String) as string })] })
  })
})
