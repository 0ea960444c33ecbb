import { mkdtempSync } from 'node:fs'
import http from 'node:http'
import type { AddressInfo } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import webpush from 'web-push'
import { sendChat } from '../src/channels/chat'
import { sendSms, sendVoice } from '../src/channels/phone'
import type { Gateway } from '../src/core/people/phone'
import { sendMail } from '../src/channels/mail'
import { sendPush } from '../src/channels/push'
import { sendWebhook } from '../src/channels/webhook'
import type { Message } from '../src/core/messages/message'
import { devices, startHttpReceivers, startMailServer, WEBHOOK_SECRET } from './servers/receivers'
import { CARRIER_TOKEN, Phones } from './servers/phones'
import { Tray } from './servers/tray'

const message: Message = { news: 'down', subject: 'Sailings API is down', lines: ['Sailings API is down.', 'Why: the status is <503> & more'], link: 'https://hemeron.example/incidents/7', urgent: true, thread: 'incident-7', facts: { incident: 7, check: 'Sailings API' } }
const folder = mkdtempSync(join(tmpdir(), 'hemeron-channels-'))
const tray = new Tray(join(folder, 'tray.jsonl'))
const all = devices(join(folder, 'devices.json'))
let mailPort = 0
let httpPort = 0
const context = (stepKey: string) => ({ stepKey, createdAt: 1_700_000_000_000, settings: { mail: { host: '127.0.0.1', port: mailPort, secure: false, user: '', password: '', from: 'Hemeron <hemeron@orrinsound.example>' }, push: keys, gateways } })
const keys = webpush.generateVAPIDKeys()
const gateways: Gateway[] = []

beforeAll(async () => {
  mailPort = await startMailServer(tray, 0)
  httpPort = await startHttpReceivers(tray, all, 0, new Phones(tray, () => false))
  gateways.push({ name: 'Carrier', means: 'sms', url: `http://127.0.0.1:${httpPort}/sms`, token: CARRIER_TOKEN, from: 'Hemeron', countries: [] }, { name: 'Carrier', means: 'voice', url: `http://127.0.0.1:${httpPort}/calls`, token: CARRIER_TOKEN, from: '+447700900100', countries: ['GB'] })
})

describe('channels towards real receivers', () => {
  it('send mail that says everything, and the same mail once however often it is sent', async () => {
    expect(await sendMail(message, { to: 'ines.falk@orrinsound.example' }, context('incident/7/down/1'))).toMatch(/^250/)
    await sendMail(message, { to: 'ines.falk@orrinsound.example' }, context('incident/7/down/1'))
    const arrived = tray.newest(50).filter((each) => each.by === 'mail')
    expect(arrived).toHaveLength(1)
    expect(arrived[0]).toMatchObject({ subject: 'Sailings API is down', to: 'ines.falk@orrinsound.example' })
    expect(arrived[0]!.text).toContain('the status is <503> & more')
    expect(arrived[0]!.text).toContain('https://hemeron.example/incidents/7')
    expect(tray.repeats).toBe(1)
  })

  it('send push messages that only the device can read', async () => {
    const device = all[0]!
    const config = { endpoint: `http://127.0.0.1:${httpPort}/push/${device.person}`, p256dh: device.p256dh, auth: device.auth }
    expect(await sendPush(message, config, context('incident/7/down/2'))).toBe('201')
    expect(tray.newest(50).find((each) => each.by === 'push')).toMatchObject({ to: device.person, subject: 'Sailings API is down', urgent: true, link: message.link })
    const stranger = { ...config, p256dh: all[1]!.p256dh, auth: all[1]!.auth }
    await expect(sendPush(message, stranger, context('incident/7/down/3'))).rejects.toThrow(/answers 400/)
  })

  it('sign webhooks so that a receiver with the secret believes them, and no other', async () => {
    const url = `http://127.0.0.1:${httpPort}/hook`
    expect(await sendWebhook(message, { url, secret: WEBHOOK_SECRET }, context('incident/7/down/4'))).toMatch(/^200/)
    expect(tray.newest(50).find((each) => each.by === 'webhook')).toMatchObject({ signed: true, subject: 'Sailings API is down' })
    await expect(sendWebhook(message, { url, secret: 'another secret' }, context('incident/7/down/5'))).rejects.toThrow(/answers 401/)
  })

  it('text and call a number through the gateway of its country', async () => {
    const take = 'https://hemeron.example/take/1.2.abc'
    expect(await sendSms({ ...message, take }, { number: '+44 7700 900123' }, context('incident/7/down/6'))).toMatch(/^202/)
    expect(tray.newest(50).find((each) => each.by === 'sms')).toMatchObject({ to: '+447700900123', text: `Sailings API is down. Why: the status is <503> & more. ${take}` })
    expect(await sendVoice({ ...message, take }, { number: '+447700900123' }, { ...context('incident/7/down/7'), answerTo: 'http://127.0.0.1:9/' })).toMatch(/^202/)
    expect(tray.newest(50).find((each) => each.by === 'voice')!.text).toMatch(/^Hemeron\. Sailings API is down\. .*To take it, press 1\.$/)
    await expect(sendVoice(message, { number: '+47 21 00 00 00' }, context('d'))).rejects.toThrow('no gateway carries calls to NO')
    await expect(sendSms(message, { number: '12' }, context('e'))).rejects.toThrow('12 is no phone number')
  })

  it('post into a chat, by topic and thread, in own words where there are some', async () => {
    const url = `http://127.0.0.1:${httpPort}/chat/room`
    expect(await sendChat(message, { url, topic: 'platform' }, context('incident/7/down/8'))).toMatch(/^200/)
    await sendChat(message, { url, words: '${check}: ${reason}!' }, context('incident/7/down/9'))
    expect(tray.newest(50).filter((each) => each.by === 'chat').map(({ to, text }) => [to, text.split('\n')[0]])).toEqual([['everyone, incident-7', 'Sailings API: !'], ['platform, incident-7', 'Sailings API is down']])
  })

  it('say in words what went wrong', async () => {
    await expect(sendWebhook(message, { url: 'http://127.0.0.1:9/hook', secret: 'x' }, context('a'))).rejects.toThrow(/127.0.0.1:9 cannot be reached/)
    await expect(sendMail(message, { to: 'x@y.example' }, { ...context('b'), settings: { ...context('b').settings, mail: { ...context('b').settings.mail, host: '' } } })).rejects.toThrow('no mail server')
    const broken = http.createServer((_request, response) => response.writeHead(500).end('out of order'))
    await new Promise<void>((resolve) => broken.listen(0, '127.0.0.1', resolve))
    await expect(sendWebhook(message, { url: `http://127.0.0.1:${(broken.address() as AddressInfo).port}/`, secret: 'x' }, context('c'))).rejects.toThrow('answers 500 out of order')
    broken.close()
  })

  it('find everything again in a tray that was opened anew', () => {
    const again = new Tray(join(folder, 'tray.jsonl'))
    expect(again.count).toBe(tray.count)
    again.put(tray.newest(1)[0]!)
    expect(again.repeats).toBe(1)
  })
})
