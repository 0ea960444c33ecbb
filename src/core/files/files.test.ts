import fc from 'fast-check'
import { kinds } from '../../kinds/definitions'
import { settleCheck } from '../layers/settle'
import { sequenceOf } from './har-sequence'
import { readAny } from './read-any'
import { OFFERS_MOST } from './offer'
import { readCsv, writeCsv } from './read-csv'
import { readDefinitions, writeDefinitions } from './read-definitions'

const read = (text: string, name = '') => readAny(text, name, kinds)
const documents = (text: string, name = '') => read(text, name).offers.map((offer) => offer.document)

describe('a CSV', () => {
  it('becomes checks, line by line, with any separator', () => {
    const text = 'Name;Address;Tags;Every;Importance;From\nTides;tides.example/now;sensors|live;5m;high;bergen|galway\n"Home, front";https://home.example;;30 s;;all\n'
    expect(documents(text)).toEqual([
      { check: 'tides', name: 'Tides', tags: ['sensors', 'live'], importance: 'high', every: '5m', from: ['bergen', 'galway'], http: { url: 'https://tides.example/now' } },
      { check: 'home-front', name: 'Home, front', every: '30s', from: 'all', http: { url: 'https://home.example' } }
    ])
    expect(read(text).offers.map((offer) => offer.line)).toEqual([2, 3])
  })

  it.each([
    ['name,link\nA,https://a.example', 1, 'a column address'], ['address,colour,size\nhttps://a.example,red,5', 1, 'only the columns'], ['address,name\nhttps://a.example,A\nnot an address,B', 3, 'an address such as'],
    ['address,name\nhttps://a.example,A,too many', 2, 'as many values']
  ])('says where %j is wrong', (text, line, expected) => expect(read(text, 'a.csv').problems[0]).toMatchObject({ line, expected: expect.stringContaining(expected) as string }))

  it('is read back as it was written, with cells that begin like formulas made harmless', () => {
    const row = { key: 'a', name: 'A, "quoted"', address: 'https://a.example/', service: 'sales', tags: 'x;y', every: '60s', importance: 'high', from: 'all' }
    expect(readCsv(writeCsv([row]), kinds).offers[0]!.document).toEqual({ check: 'a', name: 'A, "quoted"', service: 'sales', tags: ['x', 'y'], importance: 'high', every: '60s', from: 'all', http: { url: 'https://a.example/' } })
    expect(writeCsv([{ ...row, name: '=SUM(A1)' }])).toContain("'=SUM(A1)")
  })
})

describe('a HAR recording', () => {
  const entry = (method: string, url: string, status: number, mimeType: string, more: object = {}) => ({ request: { method, url, headers: [{ name: 'Accept', value: '*/*' }, { name: 'Cookie', value: 'session=1' }, { name: 'X-Client', value: 'web' }], ...more }, response: { status, content: { mimeType } } })
  const har = JSON.stringify({ log: { entries: [
    entry('GET', 'https://book.example/api/sailings?day=1#top', 200, 'application/json'), entry('GET', 'https://book.example/logo.png', 200, 'image/png'), entry('GET', 'https://book.example/app', 200, 'text/javascript'),
    entry('POST', 'https://book.example/api/orders', 201, 'application/json', { postData: { text: '{"a":1}' } }), entry('GET', 'https://book.example/api/sailings?day=1', 200, 'application/json'), entry('GET', 'data:text/plain,x', 200, ''), entry('', 'nonsense', 0, '')
  ] } })

  it('offers each request once; what is static or may change something is left out at first', () => {
    expect(read(har).offers.map(({ label, chosen, note }) => [label, chosen, note])).toEqual([
      ['GET https://book.example/api/sailings?day=1', true, undefined], ['GET https://book.example/logo.png', false, 'a static file'], ['GET https://book.example/app', false, 'a static file'], ['POST https://book.example/api/orders', false, 'POST may change something']
    ])
  })

  it('keeps what belongs to the request and nothing of the visit', () => {
    const [first, , , order] = documents(har)
    expect(first).toEqual({ check: 'book-example-api-sailings', name: 'book.example/api/sailings', http: { url: 'https://book.example/api/sailings?day=1', headers: { 'x-client': 'web' } }, pass: [{ status: 200 }] })
    expect(order).toMatchObject({ http: { method: 'POST', body: '{"a":1}' }, pass: [{ status: 201 }] })
    expect(JSON.stringify(documents(har))).not.toContain('session')
  })

  it('says which entry cannot be read, and where a file is cut off', () => {
    expect(read(har).problems).toMatchObject([{ path: 'log.entries[6].request' }])
    expect(read(`${har.slice(0, 300)}`, 'visit.har').problems[0]).toMatchObject({ found: 'a file that ends in the middle' })
    expect(read('{"log":{}}').problems[0]).toMatchObject({ found: 'no list log.entries' })
    expect(read('{"log":{"entries":[null,5,{"request":[]}]}}').problems).toHaveLength(3)
  })
})

describe('an OpenAPI document', () => {
  const api = {
    openapi: '3.1.0', servers: [{ url: 'https://{region}.api.example/v1', variables: { region: { default: 'north' } } }],
    paths: {
      '/ships': { get: { operationId: 'listShips', responses: { 200: {}, default: {} } }, post: { responses: { 201: {} } } },
      '/ships/{id}': { parameters: [{ $ref: '#/components/parameters/Id' }], get: { summary: 'One ship', responses: { '204': {} }, parameters: [{ name: 'full', in: 'query', required: true, schema: { default: true } }] } },
      '/crew/{who}': { get: { parameters: [{ name: 'who', in: 'path' }], responses: {} } },
      '/loop': { $ref: '#/components/paths/A' }, '/away': { $ref: 'https://elsewhere.example/#/x' }, '/gone': { $ref: '#/nowhere' }
    },
    components: { parameters: { Id: { name: 'id', in: 'path', schema: { type: 'integer', example: 7 } } }, paths: { A: { $ref: '#/components/paths/B' }, B: { $ref: '#/components/paths/A' } } }
  }

  it('offers each GET with the status it promises, and examples in place', () => {
    expect(documents(JSON.stringify(api))).toEqual([
      { check: 'listships', name: 'listShips', http: { url: 'https://north.api.example/v1/ships' }, pass: [{ status: 200 }] },
      { check: 'one-ship', name: 'One ship', http: { url: 'https://north.api.example/v1/ships/7?full=true' }, pass: [{ status: 204 }] },
      { check: 'get-crew-who', name: 'GET /crew/{who}', http: { url: 'https://north.api.example/v1/crew/${who}' }, pass: [{ status: '200-299' }] }
    ])
    expect(read(JSON.stringify(api)).offers[2]).toMatchObject({ chosen: false, note: 'a value is needed for who' })
  })

  it('says which references go round in a circle or lead nowhere', () => {
    expect(read(JSON.stringify(api)).problems.map(({ path, found }) => [path, found])).toEqual([
      ['paths["/loop"]', expect.stringContaining('goes round in a circle')], ['paths["/away"]', expect.stringContaining('elsewhere')], ['paths["/gone"]', expect.stringContaining('where nothing stands')]
    ])
  })

  it('is read from YAML too, and leaves a missing server to a variable', () => {
    expect(documents('openapi: 3.0.3\npaths:\n  /health:\n    get:\n      responses: { "200": {} }\n')).toMatchObject([{ http: { url: '${BASE}/health' } }])
    expect(read('openapi: 9.0\npaths: {}\n').problems[0]).toMatchObject({ found: 'version 9' })
    expect(documents('swagger: "2.0"\nhost: old.example\nbasePath: /v0\npaths:\n  /a:\n    get: { responses: { "200": {} } }\n')).toMatchObject([{ http: { url: 'https://old.example/v0/a' } }])
  })
})

describe('Hemeron’s definitions', () => {
  const service = { service: 'sales', name: 'Sales', variables: { BASE: 'https://x.example' } }
  const check = { check: 'home', name: 'Home', service: 'sales', http: { url: '${BASE}/' }, pass: [{ status: '200-299' }] }

  it('are read back as they were written, as YAML documents, a list, or JSON', () => {
    for (const text of [writeDefinitions([service, check]), JSON.stringify([service, check]), JSON.stringify({ definitions: [service, check] })]) {
      expect(readDefinitions(text).offers.map(({ kind, document }) => [kind, document])).toEqual([['service', service], ['check', check]])
    }
  })

  it('say the line at which each stands, and what none of them is', () => {
    const { offers, problems } = readDefinitions('check: a\nname: A\nhttp: { url: https://a.example }\n---\nroute: x\n---\nworkspace: defaults\nevery: 60s\n')
    expect(offers.map(({ kind, line, document }) => [kind, line, document.every])).toEqual([['check', 1, undefined], ['workspace', 7, '60s']])
    expect(problems).toMatchObject([{ line: 5 }])
  })

  it.each(['', '   \n', 'just words', '- 5\n- null', '{{{', 'a: [', 'check: [1, 2'])('refuse %j with a reason', (text) => expect(readDefinitions(text).problems.length).toBeGreaterThan(0))

  it('do not grow without end from a few lines', () => {
    const bomb = 'a: &a [x,x,x,x,x,x,x,x,x]\nb: &b [*a,*a,*a,*a,*a,*a,*a,*a,*a]\nc: &c [*b,*b,*b,*b,*b,*b,*b,*b,*b]\nd: &d [*c,*c,*c,*c,*c,*c,*c,*c,*c]\ne: [*d,*d,*d,*d,*d,*d,*d,*d,*d]\n'
    expect(readDefinitions(bomb).problems).toHaveLength(1)
  })
})

it('any text is read or refused with words, and never falls over', () => {
  fc.assert(fc.property(fc.oneof(fc.string(), fc.json(), fc.string().map((text) => `openapi: 3.0.0\n${text}`), fc.string().map((text) => `address,name\n${text}`)), (text) => {
    const { offers, problems } = read(text)
    expect(offers.length + problems.length >= 0 && offers.length <= OFFERS_MOST).toBe(true)
  }))
})

describe('a HAR recording as one sequence', () => {
  const entry = (method: string, url: string, body?: string, type = 'application/x-www-form-urlencoded', headers: { name: string; value: string }[] = []) =>
    ({ request: { method, url, headers: [{ name: 'Content-Type', value: type }, ...headers], ...(body === undefined ? {} : { postData: { text: body } }) }, response: { status: 200, content: { mimeType: 'text/html' } } })
  const made = (...entries: object[]) => sequenceOf(readAny(JSON.stringify({ log: { entries } }), 'visit.har', kinds).offers)

  it('keeps the order, and turns what was typed into password fields into secrets', () => {
    const { document, secrets } = made(
      entry('GET', 'https://crew.example/sign-in'), entry('POST', 'https://crew.example/session', 'user=ann&password=s3a%2Bweed%21&next=%2F'),
      entry('POST', 'https://crew.example/api', '{"name": "ann", "login": {"passphrase": "deep \\"sea\\""}, "pinned": "yes"}', 'application/json', [{ name: 'X-Api-Key', value: 'k-123456' }]), entry('GET', 'https://crew.example/list?page=2&access_token=tok-99887')
    )
    expect(secrets).toEqual({ PASSWORD: 's3a%2Bweed%21', PASSPHRASE: 'deep \\"sea\\"', X_API_KEY: 'k-123456', ACCESS_TOKEN: 'tok-99887' })
    const text = JSON.stringify(document)
    for (const value of ['s3a', 'deep', 'k-123456', 'tok-99887']) expect(text).not.toContain(value)
    const { steps } = document.sequence as { steps: { url: string; body?: string; headers?: Record<string, string> }[] }
    expect(steps.map((step) => step.url)).toEqual(['https://crew.example/sign-in', 'https://crew.example/session', 'https://crew.example/api', 'https://crew.example/list?page=2&access_token=${ACCESS_TOKEN}'])
    expect(steps[1]!.body).toBe('user=ann&password=${PASSWORD}&next=%2F')
    expect(steps[2]!.body).toBe('{"name": "ann", "login": {"passphrase": "${PASSPHRASE}"}, "pinned": "yes"}')
    expect(steps[2]!.headers).toMatchObject({ 'x-api-key': '${X_API_KEY}' })
  })

  it('keeps a password that looks like a variable as it was typed', () => {
    expect(made(entry('POST', 'https://a.example/1', 'password=x${sea}y')).secrets).toEqual({ PASSWORD: 'x${sea}y' })
  })

  it('uses one name for one value, and other names for others', () => {
    const { secrets, document } = made(entry('POST', 'https://a.example/1', 'password=first'), entry('POST', 'https://a.example/2', 'password=first&user[password]=second'))
    expect(secrets).toEqual({ PASSWORD: 'first', PASSWORD_2: 'second' })
    expect(document.secrets).toEqual(['PASSWORD', 'PASSWORD_2'])
  })

  it('takes recorded text that looks like a variable for what it is', () => {
    const { document } = made(entry('POST', 'https://a.example/1', '{"price": "${amount}"}', 'application/json'))
    const read = settleCheck(document, { workspace: {} as never, secrets: {} }, kinds)
    expect('settled' in read && JSON.stringify(read.settled.resolved)).toContain('${amount}')
  })

  it('is a definition that settles once its secrets have values', () => {
    const { document, secrets } = made(entry('POST', 'https://a.example/1', 'password=first'))
    const workspace = {} as never
    expect(settleCheck(document, { workspace, secrets: {} }, kinds)).toHaveProperty('problems')
    expect(settleCheck(document, { workspace, secrets: { check: secrets } }, kinds)).toHaveProperty('settled')
  })
})
