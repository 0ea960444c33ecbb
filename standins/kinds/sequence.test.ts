import { evaluate } from '../../src/core/sequence/evaluate'
import { fillIn, namesIn, parseExpression } from '../../src/core/sequence/template'
import { Servers, tryKind } from './try-kind'

const servers = new Servers()
afterAll(() => servers.close())

interface Asked { method: string; url: string; body: string; cookie: string; authorization: string; signature: string }
const asked: Asked[] = []
let orderStatus = 201
let port: number

beforeAll(async () => {
  port = await servers.web((request, body, response) => {
    const { url = '', method = '', headers } = request
    asked.push({ method, url, body, cookie: headers.cookie ?? '', authorization: headers.authorization ?? '', signature: String(headers['x-signature'] ?? '') })
    if (url === '/sign-in') return response.writeHead(302, { location: '/home', 'set-cookie': ['visit=v-1; Path=/; HttpOnly', 'other=x; Path=/elsewhere'] }).end()
    if (url === '/home') return response.end('<a data-key="k-77">home</a>')
    if (url === '/token') return response.setHeader('x-part', 'p9').end('{"token":"t-42","user":{"id":7}}')
    if (url === '/order') return response.writeHead(orderStatus, { 'content-type': 'text/xml' }).end('<order id="o-5"><state>open</state></order>')
    if (url.startsWith('/order/')) return response.end('gone')
    if (url === '/slow') return setTimeout(() => response.end('late'), 300)
    return response.writeHead(404).end()
  })
})
beforeEach(() => { asked.length = 0 })

const at = (path: string) => `http://127.0.0.1:${port}${path}`
const run = (sequence: object, more: object = {}) => tryKind({ sequence, wait: '3s', ...more })

describe('a sequence', () => {
  const order = {
    before: [{ name: 'sign in', url: 'SIGN', body: 'user=ines&password=salt', take: [{ as: 'visit', cookie: 'visit' }] }],
    steps: [
      { name: 'home', url: 'HOME', take: [{ as: 'key', pattern: 'data-key="([^"]+)"' }], pass: [{ text: 'home' }] },
      { name: 'token', url: 'TOKEN', take: [{ as: 'token', json: '$.token' }, { as: 'part', header: 'X-Part' }] },
      { name: 'order', url: 'ORDER', headers: { authorization: 'Bearer {=token}', 'x-signature': "{=hmac(key, concat(token, ':', part))}" }, body: '{"part":"{=part}","code":"{=base64(token)}"}', take: [{ as: 'order', xml: '/order/@id' }], pass: [{ status: 201 }, { xml: '/order/state', is: 'open' }] }
    ],
    after: [{ name: 'delete', method: 'DELETE', url: 'GONE/{=order}' }]
  }
  const placed = () => JSON.parse(JSON.stringify(order).replace('SIGN', at('/sign-in')).replace('HOME', at('/home')).replace('TOKEN', at('/token')).replace('"ORDER"', `"${at('/order')}"`).replace('GONE', at('/order'))) as object

  it('passes values and cookies on, and shows every request', async () => {
    const result = await run(placed(), { pass: [{ slowest: { max: '2s' } }, { status: 201 }] })
    expect(result).toMatchObject({ verdict: 'pass', status: 201, readings: { done: 4 } })
    const [sign, redirected, home, , ordered, deleted] = asked
    expect(sign).toMatchObject({ method: 'POST', body: 'user=ines&password=salt', cookie: '' })
    expect([redirected!.cookie, home!.cookie]).toEqual(['visit=v-1', 'visit=v-1'])
    expect(ordered).toMatchObject({ authorization: 'Bearer t-42', body: `{"part":"p9","code":"${Buffer.from('t-42').toString('base64')}"}` })
    expect(ordered!.signature).toBe(evaluate(parseExpression("hmac('k-77', 't-42:p9')"), new Map(), { now: () => 0, random: () => 0, uuid: () => '' }))
    expect(deleted).toMatchObject({ method: 'DELETE', url: '/order/o-5' })
    const rows = result.evidence!.tables![0]!.rows
    expect(rows.map((row) => row[0])).toEqual(['1. sign in', '2. home', '3. token', '4. order', '5. delete, clean-up'])
    expect(rows.every((row) => typeof row[2] === 'number' && row[4] === 'passed')).toBe(true)
    expect(rows[2]![3]).toBe('token, part')
    // clean-up is no step of the try
    expect(result.steps!.map(({ name, status }) => [name, status])).toEqual([['sign in', 200], ['home', 200], ['token', 200], ['order', 201]])
    expect(result.steps!.reduce((sum, each) => sum + each.took, 0)).toBeLessThanOrEqual(result.total + 1)
  })

  it('names the request that fails, and cleans up after it', async () => {
    orderStatus = 500
    const result = await run({ ...placed(), after: [{ name: 'sign out', url: at('/home') }] })
    orderStatus = 201
    expect(result).toMatchObject({ verdict: 'fail', reason: 'status', sentence: expect.stringMatching(/^request 4 \(order\): the status is 500; it passes when/) as string, readings: { done: 3 } })
    expect(result.steps!.map((each) => each.failed === true)).toEqual([false, false, false, true])
    expect(result.steps!.at(-1)).toMatchObject({ name: 'order', status: 500 })
    expect(asked.at(-1)).toMatchObject({ url: '/home' })
  })

  it('cleans up after its time is over too, without that counting', async () => {
    const result = await tryKind({ sequence: { steps: [{ url: at('/slow') }], after: [{ url: at('/home') }] }, wait: '150ms' })
    expect(result).toMatchObject({ verdict: 'fail', reason: 'timed-out-wait' })
    expect(result.total).toBeLessThan(250)
    expect(asked.at(-1)).toMatchObject({ url: '/home' })
  })

  it('takes no credentials along to another host, and keeps none that were given', async () => {
    const heard: Record<string, string>[] = []
    const elsewhere = await servers.web((request, _body, response) => {
      heard.push({ authorization: request.headers.authorization ?? '', cookie: request.headers.cookie ?? '', accept: request.headers['accept-language'] ?? '' })
      response.end('{"session":"a-session-of-some-length","echo":"typed-credential"}')
    })
    const first = await servers.web((_request, _body, response) => response.writeHead(307, { location: `http://localhost:${elsewhere}/` }).end())
    const result = await run({ steps: [{ url: `http://127.0.0.1:${first}/`, headers: { authorization: 'Bearer typed-credential', cookie: 'a=b', 'accept-language': 'nb' }, take: [{ as: 'session', json: '$.session' }] }] })
    expect(result).toMatchObject({ verdict: 'pass' })
    expect(heard).toEqual([{ authorization: '', cookie: '', accept: 'nb' }])
    expect(JSON.stringify(result)).not.toMatch(/a-session-of-some-length|typed-credential/)
  })

  it.each(['ftp://x.example/', 'http://['])('follows no redirect to %s', async (location) => {
    const odd = await servers.web((_request, _body, response) => response.writeHead(302, { location }).end())
    expect(await run({ steps: [{ url: `http://127.0.0.1:${odd}/` }] })).toMatchObject({ verdict: 'fail', reason: 'bad-redirect' })
    expect(await tryKind({ domain: { name: 'orrinsound.example', server: `http://127.0.0.1:${odd}/` } })).toMatchObject({ verdict: 'fail', reason: 'bad-redirect' })
    expect(await tryKind({ http: { url: `http://127.0.0.1:${odd}/` } })).toMatchObject({ verdict: 'fail', reason: 'bad-redirect' })
  })

  it('says which value is not in an answer, and takes none from a broken one', async () => {
    expect(await run({ steps: [{ url: at('/token'), take: [{ as: 'x', json: '$.gone' }] }] })).toMatchObject({ verdict: 'fail', reason: 'bad-answer', sentence: expect.stringContaining('x is not in the answer: json $.gone') as string })
    expect(await run({ steps: [{ url: at('/home'), take: [{ as: 'x', json: '$.a' }] }] })).toMatchObject({ verdict: 'fail', reason: 'bad-answer' })
    expect(await run({ steps: [{ url: at('/missing') }] })).toMatchObject({ verdict: 'fail', reason: 'status' })
  })

  it.each<[object, string]>([
    [{ steps: [] }, 'at least one request'], [{ steps: [{ url: 'ftp://x.example/' }] }, 'an address'], [{ steps: [{ url: 'http://x.example/{=later}' }] }, 'earlier request takes'],
    [{ steps: [{ url: 'http://x.example/', body: '{=run(1)}' }] }, 'places such as'], [{ steps: [{ url: 'http://x.example/', take: [{ as: 'a b', json: '$.x' }] }] }, 'letters, digits'], [{ steps: [{ url: 'http://x.example/', take: [{ as: 'a', json: '$[' }] }] }, 'JSONPath'],
    [{ steps: [{ url: 'http://x.example/', pass: [{ loss: { max: '1%' } }] }] }, 'a condition on one of'], [{ steps: [{ url: 'http://x.example/', colour: 'red' }] }, 'only these fields']
  ])('%j is refused in words', async (sequence, words) => {
    await expect(run(sequence)).rejects.toThrow(words)
  })
})

describe('expressions', () => {
  const sources = { now: () => Date.UTC(2026, 10, 23, 12), random: () => 0.5, uuid: () => 'u-1' }
  const fill = (text: string) => fillIn(text, (expression) => evaluate(expression, new Map([['token', 'a&b']]), sources))

  it.each([
    ['{=now()}', '2026-11-23T12:00:00.000Z'], ["{=now('unix')}", String(Date.UTC(2026, 10, 23, 12) / 1000)], ['{=random(10)}', '5'], ['{=uuid()}', 'u-1'], ['{=base64(token)}', 'YSZi'], ['x{=url(token)}y', 'xa%26by'],
    ["{=json('say \"hi\"')}", 'say \\"hi\\"'], ["{=sha256('')}", 'e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855'], ["{=hmac('key', 'The quick brown fox jumps over the lazy dog')}", 'f7bc83f430538424b13298e6aa6fb143ef4d59a14946175997479dbc2d1a3cd8'],
    ["{=concat('a', 'it\\'s', 3)}", "ait's3"], ['{ "a": {"b": 1} }', '{ "a": {"b": 1} }']
  ])('%s is %s', (text, expected) => expect(fill(text)).toBe(expected))

  it.each(['process', 'base64', 'base64()', 'a b', "'open", 'a.b', 'constructor()', 'concat(a,', 'now(1,2)', ''])('“%s” runs nothing', (source) => {
    expect(() => evaluate(parseExpression(source), new Map(), sources)).toThrow(/\S/)
  })

  it('say which names they need', () => {
    expect(namesIn("{=token}/{=hmac(key, 'x')}{=base64(concat(a, b))}")).toEqual(['token', 'key', 'a', 'b'])
  })
})
