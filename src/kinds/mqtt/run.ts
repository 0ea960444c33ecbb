import { randomBytes } from 'node:crypto'
import mqtt, { type Packet } from 'mqtt-packet'
import type { Duplex } from 'node:stream'
import { runnerOf, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { mqttDefinition } from './definition'

const MOST = 1_000_000
/** Why a broker refuses (MQTT 3.1.1, section 3.2.2.3). */
const REFUSALS = ['', 'it does not speak this version', 'it does not take this client', 'it is not available', 'wrong user or password', 'not allowed']

export const mqttRunner = runnerOf(mqttDefinition, async (target, trying) => {
  const { host, port, tls, unverified, user, password, topic, message, expect } = target
  const socket = await trying.open({ host, port, ...(tls ? { tls: { verify: !unverified } } : {}) })
  const packets = packetsOf(socket, trying)
  const say = (packet: Packet, shown: string) => {
    trying.talk.sent(shown)
    socket.write(mqtt.generate(packet))
  }
  trying.begin('login')
  const client = `hemeron-${randomBytes(6).toString('hex')}`
  say({ cmd: 'connect', protocolId: 'MQTT', protocolVersion: 4, clean: true, clientId: client, keepalive: 60, ...(user === undefined ? {} : { username: user }), ...(password === undefined ? {} : { password: Buffer.from(password) }) } as Packet, `CONNECT ${client}`)
  const connected = await packets.next('connack')
  const code = (connected as { returnCode?: number }).returnCode ?? 0
  if (code !== 0) throw new TryFailure(code >= 4 ? 'login-refused' : 'server-refused', `the broker refuses the connection: ${REFUSALS[code] ?? `code ${code}`}`)
  trying.noted.protocol = 'MQTT'
  trying.begin('send')
  say({ cmd: 'subscribe', messageId: 1, subscriptions: [{ topic, qos: 1 }] } as Packet, `SUBSCRIBE ${topic}`)
  const granted = (await packets.next('suback') as { granted?: number[] }).granted?.[0]
  if (granted === undefined || granted >= 128) throw new TryFailure('server-refused', `the broker does not allow a subscription to ${topic}`)
  const token = randomBytes(6).toString('hex')
  const sent = message === undefined ? undefined : `${message} ${token}`
  if (sent !== undefined) say({ cmd: 'publish', topic, payload: sent, qos: 1, messageId: 2, dup: false, retain: false } as Packet, `PUBLISH ${topic} ${sent}`)
  trying.begin('wait')
  const pattern = expect === undefined ? undefined : new RegExp(expect, 'u')
  let last: string | undefined
  try {
    for (;;) {
      const packet = await packets.next('publish') as { payload: Buffer | string; messageId?: number; qos: number }
      const text = packet.payload.toString()
      if (packet.qos === 1 && packet.messageId !== undefined) socket.write(mqtt.generate({ cmd: 'puback', messageId: packet.messageId }))
      if (sent !== undefined && text !== sent) continue
      last = text
      if (!pattern || pattern.test(text)) {
        say({ cmd: 'disconnect' } as Packet, 'DISCONNECT')
        return { body: trying.answer(sent === undefined ? text : message!) }
      }
    }
  } catch (error) {
    if (!trying.signal.aborted) throw error
    if (last !== undefined) throw new TryFailure('bad-answer', `the last message does not match ${expect}: “${last.slice(0, 80)}”`)
    throw new TryFailure('not-arrived', sent === undefined ? `no message came on ${topic}` : `the message that was published to ${topic} did not come back`)
  }
})

/** Packets as they come; a kind that is asked for may be preceded by others. */
function packetsOf(socket: Duplex, trying: Trying): { next: (command: string) => Promise<Packet> } {
  const parser = mqtt.parser({ protocolVersion: 4 })
  const held: Packet[] = []
  let fault: Error | undefined
  let bytes = 0
  let wake: () => void = () => undefined
  const fail = (error: Error) => {
    fault ??= error
    wake()
  }
  parser.on('packet', (packet: Packet) => {
    if (packet.cmd !== 'puback' && packet.cmd !== 'pingresp') trying.talk.received(`${packet.cmd.toUpperCase()}${packet.cmd === 'publish' ? ` ${(packet as { topic: string }).topic} ${(packet as { payload: Buffer }).payload.toString().slice(0, 300)}` : ''}`)
    held.push(packet)
    wake()
  })
  parser.on('error', (error: Error) => fail(new TryFailure('wrong-protocol', `the server does not speak MQTT: ${error.message.toLowerCase()}`)))
  socket.on('data', (chunk: Buffer) => {
    bytes += chunk.length
    if (bytes > MOST) return fail(new TryFailure('answer-too-large', 'more than 1 MB came from the broker'))
    if (!fault) parser.parse(chunk)
    return undefined
  })
  socket.once('close', () => fail(Object.assign(new Error('closed'), { code: 'ECONNRESET' })))
  trying.signal.addEventListener('abort', () => fail(new Error('aborted')), { once: true })
  return {
    next: async (command) => {
      for (;;) {
        const index = held.findIndex((packet) => packet.cmd === command)
        if (index >= 0) return held.splice(index, 1)[0]!
        if (fault) throw fault
        await new Promise<void>((resolve) => { wake = resolve })
      }
    }
  }
}
