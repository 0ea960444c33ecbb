import { execFile } from 'node:child_process'
import { promisify } from 'node:util'
import type { Call, InsideAnswer, InsideQuestion, Member, Push } from '../../src/core/inside/inside'
import { readExposition } from '../../src/core/numbers/read-exposition'
import { MINUTE } from '../../src/core/units'
import { Servers, tryKind } from './try-kind'

const servers = new Servers()
afterAll(() => servers.close())

/** Hemeron as it would answer, with what a test says it was told. */
function told(facts: { calls?: Call[]; pushes?: Push[]; members?: Member[]; made?: number | null; away?: InsideAnswer['away'] }): { inside: (question: InsideQuestion) => Promise<InsideAnswer>; asked: InsideQuestion[] } {
  const asked: InsideQuestion[] = []
  const made = facts.made === undefined ? Date.now() - 60 * MINUTE : facts.made
  return {
    asked,
    inside: (question) => {
      asked.push(question)
      return Promise.resolve({ now: Date.now(), zone: 'Europe/Oslo', ...(made === null ? {} : { made }), ...(facts.away ? { away: facts.away } : {}), calls: facts.calls ?? [], pushes: facts.pushes ?? [], members: facts.members ?? [] })
    }
  }
}
const ago = (minutes: number) => Date.now() - minutes * MINUTE

describe('a call', () => {
  const call = { comes: '10m', grace: '1m', longest: '5m' }

  it('passes with the time and the output of the last run', async () => {
    const result = await tryKind({ call, pass: [{ text: '9 berths' }, { took: { max: '3m' } }] }, told({ calls: [{ at: ago(4), event: 'begin' }, { at: ago(2), event: 'end', exit: 0, output: '9 berths\n' }] }))
    expect(result).toMatchObject({ verdict: 'pass', readings: { exit: 0, running: 0 } })
    expect(result.readings!.took).toBeCloseTo(2 * MINUTE, -3)
    expect(result.evidence!.tables![0]!.rows).toHaveLength(1)
  })

  it('tells late, missing, failed, too long and overlapping apart', async () => {
    const reason = async (...calls: Call[]) => (await tryKind({ call }, told({ calls, made: ago(300) }))).reason
    expect(await reason({ at: ago(12), event: 'end', exit: 0 })).toBe('call-late')
    expect(await reason({ at: ago(40), event: 'end', exit: 0 })).toBe('call-missing')
    expect(await reason({ at: ago(1), event: 'end', exit: 7 })).toBe('call-failed')
    expect(await reason({ at: ago(6), event: 'begin' })).toBe('call-too-long')
    expect(await reason({ at: ago(4), event: 'begin' }, { at: ago(1), event: 'begin' })).toBe('call-overlaps')
    expect(await reason()).toBe('call-missing')
  })

  it('judges conditions on the output only once there is one', async () => {
    expect((await tryKind({ call, pass: [{ text: 'done' }] }, told({ calls: [{ at: ago(1), event: 'begin' }] }))).verdict).toBe('pass')
    expect((await tryKind({ call, pass: [{ text: 'done' }] }, told({ calls: [{ at: ago(1), event: 'end', exit: 0, output: 'almost' }] }))).verdict).toBe('fail')
  })

  it('says nothing when Hemeron cannot be asked', async () => {
    expect(await tryKind({ call }, { inside: () => Promise.reject(new Error('connect ECONNREFUSED')) })).toMatchObject({ verdict: 'fail', reason: 'cannot-tell' })
    expect(await tryKind({ call })).toMatchObject({ reason: 'cannot-tell' })
  })

  it('of a check that is not saved is awaited', async () => {
    expect(await tryKind({ call }, told({ made: null }))).toMatchObject({ verdict: 'warn', reason: 'call-awaited' })
  })
})

describe('numbers that are pushed', () => {
  const push = (minutes: number, ...samples: [string, number][]): Push => ({ at: ago(minutes), samples })
  const condition = { metric: 'disk.used', value: { max: '95%', warn: '85%' }, for: '3m' }

  it('are judged by what they were for long enough', async () => {
    const world = told({ pushes: [push(4, ['disk.used', 0.99]), push(2, ['disk.used', 0.98]), push(0.5, ['disk.used', 0.97], ['cpu.busy', 0.2])] })
    const result = await tryKind({ numbers: {}, pass: [condition] }, world)
    expect(result).toMatchObject({ verdict: 'fail', reason: 'condition', readings: { 'disk.used': 0.97, 'cpu.busy': 0.2 } })
    expect(world.asked[0]!.pushes!.names).toEqual(['disk.used'])
    expect((await tryKind({ numbers: {}, pass: [condition] }, told({ pushes: [push(4, ['disk.used', 0.5]), push(2, ['disk.used', 0.98]), push(0.5, ['disk.used', 0.97])] }))).verdict).toBe('pass')
    expect((await tryKind({ numbers: {}, pass: [condition] }, told({ pushes: [push(4, ['disk.used', 0.9]), push(0.5, ['disk.used', 0.9])] }))).verdict).toBe('warn')
  })

  it('that stop are a silent script where the host answers a ping, and a silent host where it does not', async () => {
    const world = { ...told({ pushes: [push(10, ['a', 1])] }) }
    const ping = (...times: (number | null)[]) => ({ link: { ping: () => Promise.resolve(times) } })
    const numbers = { host: '192.0.2.9', silent: '2m' }
    expect(await tryKind({ numbers }, { ...world, ...ping(null, 12, 11) })).toMatchObject({ verdict: 'fail', reason: 'numbers-stopped', sentence: expect.stringContaining('the script is silent') as string })
    expect(await tryKind({ numbers }, { ...world, ...ping(null, null, null) })).toMatchObject({ verdict: 'fail', reason: 'host-silent' })
    expect(await tryKind({ numbers: { silent: '2m' } }, world)).toMatchObject({ reason: 'numbers-stopped' })
  })

  it('that could not come while Hemeron was away have not stopped', async () => {
    expect((await tryKind({ numbers: { silent: '2m' } }, told({ pushes: [push(30, ['a', 1])], away: { from: ago(29), to: ago(1) } }))).verdict).toBe('pass')
  })

  it('are awaited at first', async () => {
    expect(await tryKind({ numbers: {} }, told({ made: Date.now() - 1000 }))).toMatchObject({ verdict: 'warn', reason: 'numbers-awaited' })
    expect(await tryKind({ numbers: {} }, told({}))).toMatchObject({ verdict: 'fail', reason: 'numbers-stopped' })
  })
})

describe('numbers that are fetched', () => {
  const serve = (answer: () => { status?: number; type?: string; body: string }) => servers.web((request, _body, response) => {
    const { status = 200, type = 'text/plain; version=0.0.4', body } = answer()
    if (request.headers.authorization !== undefined && request.headers.authorization !== 'Bearer right') return response.writeHead(401).end()
    return response.writeHead(status, { 'content-type': type }).end(body)
  })

  it('are judged, and counters by how fast they grow from one try to the next', async () => {
    let count = 100
    const port = await serve(() => ({ body: `# TYPE queue gauge\nqueue{name="a"} 7\nqueue{name="b"} 12\nsent_total ${count}\n` }))
    const memory = new Map<string, unknown>()
    const check = { numbers: { scrape: `http://127.0.0.1:${port}/metrics` }, pass: [{ metric: 'queue', value: { max: 10 } }] }
    expect(await tryKind(check, { memory })).toMatchObject({ verdict: 'fail', sentence: expect.stringContaining('queue{name="b"} is 12') as string })
    const growing = { ...check, pass: [{ metric: 'sent_total', rate: true, value: { min: 1 } }] }
    const counting = new Map<string, unknown>()
    expect((await tryKind(growing, { memory: counting })).verdict).toBe('pass')
    count = 110
    await new Promise((resolve) => setTimeout(resolve, 200))
    const second = await tryKind(growing, { memory: counting })
    expect(second.verdict).toBe('pass')
    expect(second.readings!['sent_total a second']).toBeGreaterThan(5)
    await new Promise((resolve) => setTimeout(resolve, 50))
    expect(await tryKind(growing, { memory: counting })).toMatchObject({ verdict: 'fail', sentence: expect.stringContaining('sent_total grows by 0 a second') as string })
  })

  it.each([
    ['a page', { body: '<html>hello</html>', type: 'text/html' }, 'bad-answer'], ['nothing', { body: '' }, 'bad-answer'], ['an error', { status: 503, body: 'queue 1' }, 'status'], ['half a line', { body: 'queue{name="a' }, 'bad-answer']
  ] as const)('%s is no exposition', async (_, answer, reason) => {
    expect(await tryKind({ numbers: { scrape: `http://127.0.0.1:${await serve(() => answer)}/` } })).toMatchObject({ verdict: 'fail', reason })
  })

  it('need the right token, which is never recorded', async () => {
    const port = await serve(() => ({ body: 'a 1\n' }))
    const scrape = `http://127.0.0.1:${port}/`
    expect((await tryKind({ numbers: { scrape, token: 'right' } })).verdict).toBe('pass')
    const wrong = await tryKind({ numbers: { scrape, token: 'wrong-token' } })
    expect(wrong).toMatchObject({ verdict: 'fail', reason: 'login-refused' })
    expect(JSON.stringify(wrong)).not.toContain('wrong-token')
  })
})

describe('the script for hosts', () => {
  it('pushes the numbers of this machine as an exposition', async () => {
    let body = ''
    const port = await servers.web((_request, given, response) => {
      body = given
      response.end('{}')
    })
    await promisify(execFile)('sh', ['public/host-numbers.sh'], { env: { ...process.env, HEMERON_PUSH: `http://127.0.0.1:${port}/push/x`, HEMERON_EVERY: '0', HEMERON_MEASURE: '1' } })
    const numbers = new Map(readExposition(body))
    for (const name of ['cpu.busy', 'memory.used']) expect(numbers.get(name)).toBeGreaterThanOrEqual(0)
    for (const name of ['cpu.busy', 'memory.used']) expect(numbers.get(name)).toBeLessThanOrEqual(1)
    expect(numbers.get('memory.free_bytes')).toBeGreaterThan(1e6)
    expect(numbers.get('load.one')).toBeGreaterThanOrEqual(0)
    expect(numbers.get('uptime.seconds')).toBeGreaterThan(0)
  })

  it('ends with an error when it reaches nobody, and when it is not told where', async () => {
    const run = (env: Record<string, string>) => promisify(execFile)('sh', ['public/host-numbers.sh'], { env: { ...process.env, HEMERON_EVERY: '0', HEMERON_MEASURE: '0', ...env } })
    await expect(run({ HEMERON_PUSH: 'http://127.0.0.1:1/' })).rejects.toMatchObject({ code: 7 })
    await expect(run({})).rejects.toMatchObject({ stderr: expect.stringContaining('HEMERON_PUSH') as string })
  })
})

describe('checks judged together', () => {
  const members = (...states: Member['state'][]): Member[] => states.map((state, index) => ({ key: `ns-${index}`, name: `NS ${index}`, state, since: 0 }))
  const derived = { of: ['ns-0', 'ns-1'], least: 'any', warn: 'all' }

  it('pass, warn, fail, or say nothing', async () => {
    expect(await tryKind({ derived }, told({ members: members('up', 'slow') }))).toMatchObject({ verdict: 'pass', readings: { good: 2, bad: 0, open: 0 } })
    expect(await tryKind({ derived }, told({ members: members('up', 'down') }))).toMatchObject({ verdict: 'warn', reason: 'too-few-up' })
    expect(await tryKind({ derived }, told({ members: members('down', 'down') }))).toMatchObject({ verdict: 'fail', reason: 'too-few-up', sentence: '0 of 2 are up, 1 must be; down: NS 0, NS 1' })
    expect(await tryKind({ derived }, told({ members: members('down', 'nodata') }))).toMatchObject({ reason: 'cannot-tell' })
  })

  it.each([[{ of: ['a', 'a'] }], [{ of: ['a'], least: 2 }], [{ of: ['a'], weights: { b: 1 } }], [{ of: ['a'], weights: { a: -1 } }], [{ of: [] }], [{ of: ['A B'] }], [{ of: ['a'], least: '120%' }]])('refuse %j', async (wrong) => {
    await expect(tryKind({ derived: wrong }, told({ members: members('up') }))).rejects.toThrow(/derived/)
  })
})

describe('a number that lingers within its margin', () => {
  it('stays bad after it has passed the limit, and was never bad when it has not', async () => {
    const check = { numbers: {}, pass: [{ metric: 'a', value: { max: 10 }, margin: '20%' }] }
    const pushes = (first: number): Push[] => [first, 9, 9, 9].map((value, index) => ({ at: ago(60 - 19 * index), samples: [['a', value]] }))
    expect((await tryKind(check, told({ pushes: pushes(11) }))).verdict).toBe('fail')
    expect((await tryKind(check, told({ pushes: pushes(9.9) }))).verdict).toBe('pass')
    const world = told({ pushes: pushes(11) })
    await tryKind(check, world)
    expect(Date.now() - world.asked[0]!.pushes!.since).toBeGreaterThanOrEqual(120 * MINUTE)
  })
})
