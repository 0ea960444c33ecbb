import http from 'node:http'
import type net from 'node:net'
import https from 'node:https'
import { WebSocketServer, type WebSocket } from 'ws'
import { makeAuthority, type Authority } from '../servers/certificates'
import { grpcServer, healthAnswer } from '../servers/grpc'
import { Servers, tryKind } from './try-kind'

const servers = new Servers()
let authority: Authority
beforeAll(async () => { authority = await makeAuthority() })
afterAll(() => servers.close())

describe('a WebSocket', () => {
  async function live(talk: (socket: WebSocket, request: http.IncomingMessage) => void, secure = false) {
    const server = secure ? https.createServer(await authority.issue(['localhost'], 30)) : http.createServer()
    new WebSocketServer({ server }).on('connection', talk)
    return servers.listen(server as net.Server)
  }

  it('opens, sends, waits for the message it expects among others, and closes in order', async () => {
    let closedWith = 0
    const port = await live((socket) => {
      socket.on('close', (code) => { closedWith = code })
      socket.on('message', (message) => {
        socket.send('{"tick":1}')
        setTimeout(() => socket.send(`{"echo":${message.toString()}}`), 60)
      })
    })
    const result = await tryKind({ websocket: { url: `ws://127.0.0.1:${port}/live`, send: '{"hello":true}', expect: '"echo"' }, pass: [{ json: '$.echo.hello', is: true }] })
    expect(result).toMatchObject({ verdict: 'pass', status: 101, protocol: 'WebSocket' })
    expect(result.phases.wait).toBeGreaterThan(50)
    expect(result.evidence?.talk?.map((line) => line.way)).toEqual(['sent', 'received', 'received', 'note'])
    await new Promise((resolve) => setTimeout(resolve, 50))
    expect(closedWith).toBe(1000)
  })

  it('runs over TLS with its certificate judged, and sends a token that is not kept', async () => {
    let token = ''
    const port = await live((socket, request) => { token = String(request.headers.authorization); socket.send(`you have ${token}`) }, true)
    const result = await tryKind({ websocket: { url: `wss://localhost:${port}/`, token: 'very-secret', expect: 'you have' }, pass: [{ certificate: { min: '3d' } }] }, { authority: authority.pem })
    expect(result).toMatchObject({ verdict: 'pass' })
    expect(token).toBe('Bearer very-secret')
    expect(JSON.stringify(result)).not.toContain('very-secret')
    expect(await tryKind({ websocket: { url: `wss://localhost:${port}/` } })).toMatchObject({ verdict: 'fail', reason: 'certificate-not-trusted' })
  })

  it('says when something else answers, nothing fits, or it is closed early', async () => {
    const web = await servers.listen(http.createServer((_request, response) => response.writeHead(403).end('no')))
    expect(await tryKind({ websocket: { url: `ws://127.0.0.1:${web}/` } })).toMatchObject({ verdict: 'fail', reason: 'server-refused', status: 403 })
    const chatty = await live((socket) => socket.send('something else'))
    expect(await tryKind({ websocket: { url: `ws://127.0.0.1:${chatty}/`, expect: 'wanted' } })).toMatchObject({ verdict: 'fail', reason: 'bad-answer' })
    const leaving = await live((socket) => socket.close(1011, 'overloaded'))
    expect(await tryKind({ websocket: { url: `ws://127.0.0.1:${leaving}/`, expect: 'x' } })).toMatchObject({ verdict: 'fail', reason: 'connection-closed', sentence: expect.stringContaining('1011, overloaded') as string })
    const rubbish = await servers.tcp((socket) => socket.write('220 I am no web server\r\n'))
    expect(await tryKind({ websocket: { url: `ws://127.0.0.1:${rubbish}/` } })).toMatchObject({ verdict: 'fail', reason: 'wrong-protocol' })
    const silent = await live(() => undefined)
    expect(await tryKind({ websocket: { url: `ws://127.0.0.1:${silent}/`, expect: 'x' } })).toMatchObject({ verdict: 'fail', reason: 'timed-out-wait' })
    const huge = await live((socket) => socket.send('a'.repeat(1_500_000)))
    expect(await tryKind({ websocket: { url: `ws://127.0.0.1:${huge}/`, expect: 'x' } })).toMatchObject({ verdict: 'fail', reason: 'answer-too-large' })
  })
})

describe('a gRPC service', () => {
  let health = 1
  const PROTO = 'syntax = "proto3"; package fares; message Ask { int32 zone = 1; } message Fare { string name = 1; double price = 2; } service Fares { rpc Get(Ask) returns (Fare); rpc Watch(Ask) returns (stream Fare); }'
  const start = (secure?: { cert: string; key: string }) => servers.listen(grpcServer((path, request) => {
    if (path === '/grpc.health.v1.Health/Check') return request.length > 0 && !request.toString().includes('fares') ? { code: 5, message: 'unknown service' } : healthAnswer(health)
    if (path === '/fares.Fares/Get') return request[1] === 7 ? { bytes: Buffer.concat([Buffer.from([0x0a, 3]), Buffer.from('dog')]), code: 0 } : { code: 3, message: 'no such zone: 50%' }
    return { code: 12 }
  }, secure) as unknown as net.Server)

  it('says whether it is serving', async () => {
    const port = await start()
    expect(await tryKind({ grpc: { host: '127.0.0.1', port, plain: true } })).toMatchObject({ verdict: 'pass', status: 0, protocol: 'gRPC' })
    health = 2
    expect(await tryKind({ grpc: { host: '127.0.0.1', port, plain: true, service: 'fares' } })).toMatchObject({ verdict: 'fail', reason: 'not-running', sentence: expect.stringContaining('fares says that it is NOT_SERVING') as string })
    health = 1
    expect(await tryKind({ grpc: { host: '127.0.0.1', port, plain: true, service: 'other' } })).toMatchObject({ verdict: 'fail', reason: 'server-failed', sentence: expect.stringContaining('NOT_FOUND: unknown service') as string })
  })

  it('makes a call from a proto file over TLS and judges the answer as JSON', async () => {
    const port = await start(await authority.issue(['localhost'], 30))
    const call = (message: string, method = 'fares.Fares/Get') => tryKind({ grpc: { host: 'localhost', port, proto: PROTO, method, message }, pass: [{ json: '$.name', is: 'dog' }] }, { authority: authority.pem })
    expect(await call('{"zone":7}')).toMatchObject({ verdict: 'pass' })
    expect(await call('{"zone":8}')).toMatchObject({ verdict: 'fail', reason: 'server-failed', sentence: expect.stringContaining('no such zone: 50%') as string })
    expect(await call('{}', 'fares.Fares/Watch')).toMatchObject({ verdict: 'fail', reason: 'bad-definition' })
    expect(await call('{}', 'fares.Fares/Gone')).toMatchObject({ verdict: 'fail', reason: 'bad-definition' })
    expect(await tryKind({ grpc: { host: 'localhost', port, proto: 'message {', method: 'a.B/C' } }, { authority: authority.pem })).toMatchObject({ verdict: 'fail', reason: 'bad-definition' })
  })

  it('tells other servers from its own', async () => {
    const web = await servers.listen(http.createServer((_request, response) => response.end('hello')))
    const result = await tryKind({ grpc: { host: '127.0.0.1', port: web, plain: true } })
    expect(result.verdict).toBe('fail')
    expect(['wrong-protocol', 'connection-closed']).toContain(result.reason)
    const silent = await servers.tcp(() => undefined)
    expect(await tryKind({ grpc: { host: '127.0.0.1', port: silent, plain: true } })).toMatchObject({ verdict: 'fail', reason: 'timed-out-wait' })
  })
})

describe('shapes of an HTTP request', () => {
  let asked: { body: string; headers: http.IncomingHttpHeaders; method: string } | undefined
  let answer = ''
  let port: number
  beforeAll(async () => {
    port = await servers.web((request, body, response) => {
      asked = { body, headers: request.headers, method: request.method! }
      response.end(answer)
    })
  })
  const ask = (more: object, pass: object[] = []) => tryKind({ http: { url: `http://127.0.0.1:${port}/`, ...more }, pass })

  it('a GraphQL query is posted as JSON, and errors in a 200 answer are failures', async () => {
    answer = '{"data":{"fare":{"price":12}}}'
    expect(await ask({ graphql: { query: 'query Fare($id: Int) { fare(id: $id) { price } }', variables: { id: 7 }, operation: 'Fare' } }, [{ status: 200 }, { json: '$.data.fare.price', value: { max: 20 } }])).toMatchObject({ verdict: 'pass' })
    expect(asked).toMatchObject({ method: 'POST', headers: { 'content-type': 'application/json' } })
    expect(JSON.parse(asked!.body)).toEqual({ query: 'query Fare($id: Int) { fare(id: $id) { price } }', variables: { id: 7 }, operationName: 'Fare' })
    answer = '{"data":null,"errors":[{"message":"no such fare"},{"message":"again"}]}'
    expect(await ask({ graphql: { query: '{ fare }' } }, [{ status: 200 }])).toMatchObject({ verdict: 'fail', reason: 'server-failed', sentence: expect.stringContaining('2 errors: no such fare; again') as string })
    answer = '<html>'
    expect(await ask({ graphql: { query: '{ fare }' } })).toMatchObject({ verdict: 'fail', reason: 'server-failed' })
  })

  it('a SOAP envelope has its headers, a fault in the answer is a failure, and XML is judged by XPath', async () => {
    answer = '<s:Envelope xmlns:s="http://schemas.xmlsoap.org/soap/envelope/" xmlns:m="urn:m"><s:Body><m:Count unit="t">12</m:Count></s:Body></s:Envelope>'
    const envelope = '<soap:Envelope xmlns:soap="http://schemas.xmlsoap.org/soap/envelope/"><soap:Body/></soap:Envelope>'
    const good = await ask({ soap: { envelope, action: 'urn:count' } }, [{ xml: '//m:Count', value: { min: 10, max: 20 } }, { xml: '//m:Count/@unit', is: 't' }, { xml: 'count(//m:Count) = 1' }, { xml: '//m:Count', count: { min: 1 } }])
    expect(good).toMatchObject({ verdict: 'pass' })
    expect(asked).toMatchObject({ method: 'POST', body: envelope, headers: { soapaction: '"urn:count"', 'content-type': 'text/xml; charset=utf-8' } })
    expect(await ask({ soap: { envelope, version: '1.2', action: 'urn:count' } })).toMatchObject({ verdict: 'pass' })
    expect(asked!.headers['content-type']).toBe('application/soap+xml; charset=utf-8; action="urn:count"')
    expect(await ask({ soap: { envelope } }, [{ xml: '//m:Count', value: { max: 5 } }])).toMatchObject({ verdict: 'fail', reason: 'condition' })
    answer = '<s:Envelope xmlns:s="x"><s:Body><s:Fault><faultcode>s:Server</faultcode><faultstring>the register is closed</faultstring></s:Fault></s:Body></s:Envelope>'
    expect(await ask({ soap: { envelope } })).toMatchObject({ verdict: 'fail', reason: 'server-failed', sentence: 'SOAP answers a fault: the register is closed' })
  })

  it('a file is sent as a form sends it', async () => {
    answer = 'thanks'
    expect(await ask({ upload: { field: 'manifest', file: 'a "b".csv', content: 'x,y\n1,2', type: 'text/csv' } })).toMatchObject({ verdict: 'pass' })
    expect(asked!.headers['content-type']).toMatch(/^multipart\/form-data; boundary=/)
    expect(asked!.body).toContain('name="manifest"; filename="a %22b%22.csv"\r\nContent-Type: text/csv\r\n\r\nx,y\n1,2\r\n--')
    expect(Number(asked!.headers['content-length'])).toBe(Buffer.byteLength(asked!.body))
  })

  it.each(['not xml at all', '<a><b></a>', '<!DOCTYPE a [<!ENTITY x "y">]><a>&x;</a>', ''])('bad XML fails the condition in words: %s', async (text) => {
    answer = text
    const result = await ask({}, [{ xml: '/a/b', is: 'c' }])
    expect(result).toMatchObject({ verdict: 'fail', reason: 'condition' })
  })

  it('refuses two bodies at once, and an XPath that is none', async () => {
    await expect(ask({ body: 'x', graphql: { query: '{a}' } })).rejects.toThrow('at most one of body')
    await expect(ask({}, [{ xml: '//a[' }])).rejects.toThrow('XPath')
  })
})
