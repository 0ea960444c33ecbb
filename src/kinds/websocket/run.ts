import WebSocket from 'ws'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { AGENT } from '../http/ask'
import { websocketDefinition } from './definition'

/** The largest message that is taken, in bytes, and how many are looked at while one is expected. */
const MOST = 1_000_000
const MESSAGES_MOST = 1000

export const websocketRunner = runnerOf(websocketDefinition, async (target, trying) => {
  const url = new URL(target.url)
  const isSecure = url.protocol === 'wss:'
  const socket = await trying.open({ host: url.hostname.replace(/^\[|\]$/g, ''), port: Number(url.port || (isSecure ? 443 : 80)), ...(isSecure ? { tls: { verify: !target.unverified, alpn: ['http/1.1'] } } : {}) })
  trying.begin('greet')
  // the connection is ours and secured already, so the package is told to speak plainly over it
  const plain = new URL(target.url.replace(/^wss:/, 'ws:'))
  const client = new WebSocket(plain, target.protocol === undefined ? [] : [target.protocol], {
    createConnection: (() => socket) as never, maxPayload: MOST, perMessageDeflate: false, followRedirects: false,
    headers: { host: url.host, 'user-agent': AGENT, ...(target.origin === undefined ? {} : { origin: target.origin }), ...(target.token === undefined ? {} : { authorization: `Bearer ${target.token}` }) }
  })
  const heard: string[] = []
  let headers: [string, string][] = []
  let wake: () => void = () => undefined
  let fault: Error | undefined
  let closed: { code: number; reason: string } | undefined
  let isOpen = false
  client.on('upgrade', (response) => { headers = Object.entries(response.headers).map(([name, value]): [string, string] => [name, String(value)]) })
  client.on('unexpected-response', (_request, response) => {
    fault = new TryFailure('server-refused', `the server answers ${response.statusCode} instead of opening a WebSocket`)
    trying.noted.status = response.statusCode ?? 0
    wake()
  })
  client.on('open', () => {
    isOpen = true
    wake()
  })
  client.on('message', (data: Buffer) => {
    const text = data.toString('utf8')
    if (heard.length < MESSAGES_MOST) heard.push(text)
    trying.talk.received(text)
    wake()
  })
  client.on('error', (error: NodeJS.ErrnoException) => {
    fault ??= failureIn(error, isOpen)
    wake()
  })
  client.on('close', (code, reason) => {
    closed = { code, reason: reason.toString('utf8') }
    wake()
  })
  trying.signal.addEventListener('abort', () => wake(), { once: true })
  const until = async (isThere: () => boolean) => {
    while (!isThere()) {
      if (fault) throw fault
      if (trying.signal.aborted) throw new Error('aborted')
      if (closed) throw new TryFailure('connection-closed', `the server closed the WebSocket (${closed.code}${closed.reason === '' ? '' : `, ${closed.reason.slice(0, 100)}`}) before it was asked to`)
      await new Promise<void>((resolve) => { wake = resolve })
    }
  }
  try {
    await until(() => isOpen)
    trying.noted.protocol = 'WebSocket'
    trying.noted.status = 101
    if (target.send !== undefined || target.expect !== undefined) trying.begin('wait')
    if (target.send !== undefined) {
      trying.talk.sent(target.send)
      client.send(target.send)
    }
    const pattern = target.expect === undefined ? undefined : new RegExp(target.expect, 'u')
    if (pattern) {
      try {
        await until(() => heard.some((message) => pattern.test(message)))
      } catch (error) {
        if (trying.signal.aborted && heard.length > 0) throw new TryFailure('bad-answer', `${heard.length} ${heard.length === 1 ? 'message' : 'messages'} came, and none matches ${target.expect}; the last was “${heard.at(-1)!.slice(0, 80)}”`)
        throw error
      }
    } else if (target.send !== undefined) await until(() => heard.length > 0)
    const answer = pattern ? heard.find((message) => pattern.test(message))! : heard[0] ?? ''
    trying.clock.stop()
    client.close(1000)
    await Promise.race([until(() => closed !== undefined).catch(() => undefined), new Promise((resolve) => setTimeout(resolve, 200))])
    trying.talk.note('closed')
    return { body: trying.answer(answer), headers, status: 101 }
  } finally {
    client.terminate()
  }
})

function failureIn(error: NodeJS.ErrnoException, isOpen: boolean): Error {
  if (error.code?.startsWith('WS_ERR')) return new TryFailure(error.code === 'WS_ERR_UNSUPPORTED_MESSAGE_LENGTH' ? 'answer-too-large' : 'wrong-protocol', `the server breaks the WebSocket protocol: ${error.message.toLowerCase()}`)
  if (!isOpen && (error.code?.startsWith('HPE_') || /Sec-WebSocket|upgrade/i.test(error.message))) return new TryFailure('wrong-protocol', `the server does not open a WebSocket: ${error.message.replace(/^Parse Error: /, '').toLowerCase()}`)
  return error
}
