import http from 'node:http'
import https from 'node:https'
import dgram from 'node:dgram'
import net, { type AddressInfo } from 'node:net'
import { WebSocketServer } from 'ws'
import { HOUR } from '../../src/core/units'
import type { Drill } from '../world/faults'
import type { Authority } from './certificates'
import { startDatabase } from './database'
import { grpcServer, healthAnswer } from './grpc'
import { MailServer } from './mailboxes'
import { engineServer, FileServer, mqttServer, redisServer, sipAnswer, streamServer, timeAnswer, udpServer } from './small'

/** Loopback ports by `address:port` of the world, `address:port/udp` for datagrams. */
type Ports = Record<string, number>
type Has = (drill: Drill) => boolean

/** The company's machines that speak other protocols than HTTPS, each a real server on a loopback port of its own. */
export async function startFleet(authority: Authority, has: Has): Promise<Ports> {
  const parts = await Promise.all([boards(authority, has), fares(authority, has), mail(authority, has), beacon(has), freight(authority, has), harbour(authority, has), stores(has), engine(has)])
  return Object.assign({}, ...parts) as Ports
}

const listen = (server: net.Server): Promise<number> => new Promise((resolve) => server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)))

/** Live departures over a WebSocket; silent when the boards are. */
async function boards(authority: Authority, has: Has): Promise<Ports> {
  const server = https.createServer(await authority.issue(['boards.orrinsound.example'], 80))
  server.on('tlsClientError', () => undefined)
  new WebSocketServer({ server }).on('connection', (socket) => {
    socket.on('error', () => undefined)
    socket.on('message', () => {
      if (!has('boards-silent')) socket.send(JSON.stringify({ pier: 'north', departures: [{ to: 'Skarvoy', at: new Date(Math.ceil(Date.now() / HOUR) * HOUR).toISOString() }] }))
    })
  })
  return { '203.0.113.10:8443': await listen(server as unknown as net.Server) }
}

async function fares(authority: Authority, has: Has): Promise<Ports> {
  const server = grpcServer((path) => (path === '/grpc.health.v1.Health/Check' ? healthAnswer(has('fares-starting') ? 2 : 1) : { code: 12, message: 'there is no such method here' }), await authority.issue(['fares.orrinsound.example'], 61))
  return { '198.51.100.20:50051': await listen(server as unknown as net.Server) }
}

async function mail(authority: Authority, has: Has): Promise<Ports> {
  const server = new MailServer({
    users: { watch: 'demo-mailbox', tickets: 'demo-tickets' }, certificate: await authority.issue(['mail.orrinsound.example'], 54), delay: () => (has('mail-stuck') ? undefined : 900 + Math.random() * 900)
  })
  const { smtp, imap, imaps, pop3, pop3s } = await server.start()
  const at = '203.0.113.60'
  return { [`${at}:25`]: smtp, [`${at}:587`]: smtp, [`${at}:143`]: imap, [`${at}:993`]: imaps, [`${at}:110`]: pop3, [`${at}:995`]: pop3s }
}

/** The beacon at the pier says the level of the tide to whoever asks. */
async function beacon(has: Has): Promise<Ports> {
  const socket = dgram.createSocket('udp4')
  socket.on('message', (message, peer) => {
    if (message.toString().startsWith('level?') && !has('beacon-silent')) socket.send(`level=${(2.4 + 1.6 * Math.sin((2 * Math.PI * Date.now()) / (12.42 * HOUR))).toFixed(2)} station=ORR-04`, peer.port, peer.address)
  })
  return { '203.0.113.25:7777/udp': await new Promise((resolve) => socket.bind(0, '127.0.0.1', () => resolve(socket.address().port))) }
}

/** Manifests over FTP with TLS, and the hotline's phone server. */
async function freight(authority: Authority, has: Has): Promise<Ports> {
  const passive = await Promise.all([1, 2, 3, 4, 5, 6].map(async (index) => {
    const server = net.createServer()
    return { listen: server, port: await listen(server), told: 40_000 + index }
  }))
  const files = new Map([['manifest-881.csv', Buffer.from('id,state\nM-881,cleared\n')], ['manifest-882.csv', Buffer.from('id,state\nM-882,waiting\n')]])
  const server = new FileServer(files, (): Record<string, string> => (has('files-locked') ? {} : { watch: 'demo-manifests' }), await authority.issue(['files.orrin-freight.example'], 52), passive)
  const phone = await udpServer((message) => {
    const answer = has('hotline-down') ? undefined : sipAnswer(message.toString('utf8'))
    return answer === undefined ? undefined : Buffer.from(answer)
  })
  return { '203.0.113.41:21': await listen(server.server()), ...Object.fromEntries(passive.map(({ port, told }) => [`203.0.113.41:${told}`, port])), '203.0.113.42:5060/udp': phone.port }
}

/** Tide sensors on a broker, cameras at the berths and the harbour's clock. */
async function harbour(authority: Authority, has: Has): Promise<Ports> {
  const cameras = https.createServer(await authority.issue(['cameras.orrinsound.example'], 71), streamServer(() => has('camera-frozen'), 4))
  cameras.on('tlsClientError', () => undefined)
  const clock = await udpServer((question) => timeAnswer(question, has('clock-wrong') ? 820 : 3))
  return {
    '203.0.113.22:1883': await listen(mqttServer((user, password) => user === 'watch' && password === 'demo-sensors', () => has('sensors-mute'))), '203.0.113.23:443': await listen(cameras as unknown as net.Server), '203.0.113.24:123/udp': clock.port
  }
}

/** Where ticket sales keeps its queue and its orders. */
async function stores(has: Has): Promise<Ports> {
  const queue = redisServer(() => ({ 'LLEN tickets': has('queue-long') ? 180 : Math.floor(4 + 3 * Math.sin(Date.now() / 60_000)), DBSIZE: 4211 }), 'demo-cache')
  const orders = await startDatabase('watch', 'demo-orders', { 'SELECT count(*) FROM orders WHERE at > now() - interval 1 hour': () => (has('orders-stop') ? 0 : 180 + Math.floor(20 * Math.sin(Date.now() / 600_000))), 'SELECT 1': () => 1 })
  return { '198.51.100.40:6379': await listen(queue), '198.51.100.41:3306': orders }
}

/** The crew portal's container engine. */
async function engine(has: Has): Promise<Ports> {
  const begun = new Date(Date.now() - 9 * 24 * HOUR).toISOString()
  const state = () => (has('rosters-unhealthy')
    ? { State: { Status: 'running', Running: true, StartedAt: begun, Health: { Status: 'unhealthy', FailingStreak: 4, Log: [{ Output: 'the register of crews cannot be reached' }] } } }
    : { State: { Status: 'running', Running: true, StartedAt: begun, Health: { Status: 'healthy', FailingStreak: 0 } } })
  return { '203.0.113.51:2375': await listen(http.createServer(engineServer(state))) }
}
