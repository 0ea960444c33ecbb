import { createECDH, randomBytes, createHmac, createHash, timingSafeEqual } from 'node:crypto'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import http, { type IncomingMessage } from 'node:http'
import type { AddressInfo } from 'node:net'
import ece from 'http_ece'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { PEOPLE } from '../world/company'
import type { Phones } from './phones'
import type { Tray } from './tray'

export const WEBHOOK_SECRET = 'demo-webhook-secret'

/** The keys of one person's stand-in push device. */
export interface Device { person: string; p256dh: string; auth: string; privateKey: string }

/** A mail server (SMTP) that puts every message into the tray. */
export function startMailServer(tray: Tray, port: number, isAway: () => boolean = () => false): Promise<number> {
  const server = new SMTPServer({
    onConnect: (_, done) => (isAway() ? done(Object.assign(new Error('closed for now'), { responseCode: 421 })) : done()),
    disabledCommands: ['AUTH', 'STARTTLS'], size: 5_000_000, logger: false,
    onData: (stream, session, done) => {
      simpleParser(stream).then((mail) => {
        for (const { address } of session.envelope.rcptTo) {
          tray.put({ key: mail.messageId ?? randomBytes(8).toString('hex'), at: Date.now(), by: 'mail', to: address, subject: mail.subject ?? '', text: mail.text ?? '', urgent: String(mail.headers.get('x-priority') ?? '').startsWith('1') })
        }
        done()
      }, (error: Error) => done(error))
    }
  })
  return new Promise((resolve) => {
    const listening = server.listen(port, '127.0.0.1', () => resolve((listening.address() as AddressInfo).port))
  })
}

/** The stand-in push devices, kept in a file so that they stay the same ones. */
export function devices(file: string): Device[] {
  if (existsSync(file)) return JSON.parse(readFileSync(file, 'utf8')) as Device[]
  const made = PEOPLE.map(({ key }) => {
    const curve = createECDH('prime256v1')
    return { person: key, p256dh: curve.generateKeys().toString('base64url'), privateKey: curve.getPrivateKey('base64url'), auth: randomBytes(16).toString('base64url') }
  })
  writeFileSync(file, JSON.stringify(made))
  return made
}

/** A push service with its devices (RFC 8030, RFC 8291), a webhook receiver that verifies signatures (RFC 9421), a chat and a carrier. */
export function startHttpReceivers(tray: Tray, all: Device[], port: number, phones: Phones, isBroken: () => boolean = () => false): Promise<number> {
  const server = http.createServer((request, response) => {
    void read(request).then((body) => {
      const device = all.find((each) => request.url === `/push/${each.person}`)
      if (device && request.method === 'POST') {
        putPush(tray, device, body)
        response.writeHead(201, { location: `http://${request.headers.host}/message/${randomBytes(8).toString('hex')}` }).end()
      } else if (request.url === '/sms' || request.url === '/calls') phones.take(request.url === '/sms' ? 'sms' : 'voice', request, body, response)
      else if (request.url?.startsWith('/chat/') && request.method === 'POST') {
        putChat(tray, request, body)
        response.writeHead(200).end('posted')
      } else if (request.url === '/hook' && request.method === 'POST') {
        response.writeHead(isBroken() ? 500 : putHook(tray, request, body) ? 200 : 401).end()
      } else response.writeHead(404).end()
    }).catch((error: unknown) => response.writeHead(400).end(String(error)))
  })
  return new Promise((resolve) => {
    server.listen(port, '127.0.0.1', () => resolve((server.address() as AddressInfo).port))
  })
}

function putPush(tray: Tray, device: Device, body: Buffer): void {
  const curve = createECDH('prime256v1')
  curve.setPrivateKey(Buffer.from(device.privateKey, 'base64url'))
  const clear = ece.decrypt(body, { version: 'aes128gcm', privateKey: curve, authSecret: device.auth })
  const message = JSON.parse(clear.toString()) as { title: string; body: string; link: string | null; urgent: boolean; key: string }
  tray.put({ key: message.key, at: Date.now(), by: 'push', to: device.person, subject: message.title, text: message.body, urgent: message.urgent, ...(message.link ? { link: message.link } : {}) })
}

function putHook(tray: Tray, request: IncomingMessage, body: Buffer): boolean {
  const digest = `sha-256=:${createHash('sha256').update(body).digest('base64')}:`
  const input = String(request.headers['signature-input'] ?? '').replace(/^hemeron=/, '')
  const base = `"@method": POST\n"@target-uri": http://${request.headers.host}/hook\n"content-digest": ${digest}\n"@signature-params": ${input}`
  const expected = Buffer.from(createHmac('sha256', WEBHOOK_SECRET).update(base).digest('base64'))
  const given = Buffer.from(/^hemeron=:(.*):$/.exec(String(request.headers.signature ?? ''))?.[1] ?? '')
  if (given.length !== expected.length || !timingSafeEqual(given, expected)) return false
  const message = JSON.parse(body.toString()) as { subject: string; text: string; link: string | null; news: string }
  tray.put({ key: String(request.headers['idempotency-key']), at: Date.now(), by: 'webhook', to: 'operations log', subject: message.subject, text: message.text, urgent: message.news === 'down', signed: true, ...(message.link ? { link: message.link } : {}) })
  return true
}

function putChat(tray: Tray, request: IncomingMessage, body: Buffer): void {
  const { text, topic, thread } = JSON.parse(body.toString()) as { text: string; topic?: string; thread: string }
  tray.put({ key: String(request.headers['idempotency-key']), at: Date.now(), by: 'chat', to: `${topic ?? 'everyone'}, ${thread}`, subject: text.split('\n')[0]!, text, urgent: false })
}

async function read(request: IncomingMessage): Promise<Buffer> {
  const chunks: Buffer[] = []
  for await (const chunk of request) chunks.push(chunk as Buffer)
  return Buffer.concat(chunks)
}
