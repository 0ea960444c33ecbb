import dgram from 'node:dgram'
import type http from 'node:http'
import net from 'node:net'
import tls from 'node:tls'
import mqtt from 'mqtt-packet'
import { readSip, valueOf } from '../../src/kinds/sip/message'

type Certificate = { cert: string; key: string }

/** A UDP server on a loopback port. */
export function udpServer(answer: (message: Buffer) => Uint8Array | undefined): Promise<{ port: number; close: () => void }> {
  const socket = dgram.createSocket('udp4')
  socket.on('message', (message, peer) => {
    const reply = answer(message)
    if (reply) socket.send(reply, peer.port, peer.address)
  })
  return new Promise((resolve) => socket.bind(0, '127.0.0.1', () => resolve({ port: socket.address().port, close: () => socket.close() })))
}

/** Answers the time as a server next to a clock does, so many milliseconds off. */
export function timeAnswer(question: Buffer, off = 0, stratum = 1, leap = 0): Buffer {
  const answer = Buffer.alloc(48)
  answer[0] = (leap << 6) | (4 << 3) | 4
  answer[1] = stratum
  answer.writeUInt32BE(65, 8)
  answer.write(stratum === 0 ? 'RATE' : 'GPS', 12, 'latin1')
  question.copy(answer, 24, 40, 48)
  const now = Date.now() + off
  for (const at of [16, 32, 40]) {
    answer.writeUInt32BE(Math.floor(now / 1000) + 2_208_988_800, at)
    answer.writeUInt32BE(Math.floor(((now % 1000) / 1000) * 4_294_967_296), at + 4)
  }
  return answer
}

/** Answers OPTIONS with what a phone server takes; other requests are not allowed. */
export function sipAnswer(text: string, status = '200 OK'): string | undefined {
  const [first = ''] = text.split('\r\n')
  const asked = readSip(`SIP/2.0 200 x\r\n${text.split('\r\n').slice(1).join('\r\n')}`)
  if (!asked || !/ SIP\/2\.0$/.test(first)) return undefined
  const copied = ['via', 'from', 'to', 'call-id', 'cseq'].map((name) => `${name}: ${valueOf(asked, name) ?? ''}${name === 'to' ? ';tag=quay' : ''}`)
  return [`SIP/2.0 ${first.startsWith('OPTIONS') ? status : '405 Method Not Allowed'}`, ...copied, 'Allow: INVITE, ACK, BYE, CANCEL, OPTIONS', 'Server: Quay Switch', 'Content-Length: 0', '', ''].join('\r\n')
}

/** SIP over TCP. */
export function sipServer(status?: string): net.Server {
  return net.createServer((socket) => {
    let held = ''
    socket.on('error', () => undefined)
    socket.on('data', (chunk) => {
      held += chunk.toString('utf8')
      for (let end = held.indexOf('\r\n\r\n'); end >= 0; end = held.indexOf('\r\n\r\n')) {
        const answer = sipAnswer(held.slice(0, end + 4), status)
        held = held.slice(end + 4)
        if (answer) socket.write(answer)
      }
    })
  })
}

/** A broker that passes messages on to whoever has subscribed to exactly their topic. */
export function mqttServer(isAllowed: (user: string | undefined, password: string | undefined) => boolean, isSilent: () => boolean = () => false): net.Server {
  const subscribers = new Map<net.Socket, Set<string>>()
  return net.createServer((socket) => {
    const parser = mqtt.parser({ protocolVersion: 4 })
    const topics = new Set<string>()
    const say = (packet: object) => { if (!socket.destroyed) socket.write(mqtt.generate(packet as mqtt.Packet)) }
    socket.on('error', () => undefined)
    socket.on('close', () => subscribers.delete(socket))
    socket.on('data', (chunk) => parser.parse(chunk))
    parser.on('error', () => socket.destroy())
    parser.on('packet', (packet: mqtt.Packet) => {
      if (packet.cmd === 'connect') {
        const isIn = isAllowed(packet.username, packet.password?.toString())
        say({ cmd: 'connack', returnCode: isIn ? 0 : 4, sessionPresent: false })
        if (isIn) subscribers.set(socket, topics)
      } else if (packet.cmd === 'subscribe') {
        for (const { topic } of packet.subscriptions) topics.add(topic)
        say({ cmd: 'suback', messageId: packet.messageId, granted: packet.subscriptions.map(() => 0) })
      } else if (packet.cmd === 'publish') {
        if (packet.qos === 1) say({ cmd: 'puback', messageId: packet.messageId })
        if (isSilent()) return
        for (const [other, own] of subscribers) if (own.has(packet.topic)) other.write(mqtt.generate({ cmd: 'publish', topic: packet.topic, payload: packet.payload, qos: 0, dup: false, retain: false } as mqtt.Packet))
      }
    })
  })
}

/** A store that knows a few commands and values. */
export function redisServer(values: () => Record<string, string | number>, password?: string): net.Server {
  return net.createServer((socket) => {
    let isIn = password === undefined
    let held = ''
    socket.on('error', () => undefined)
    socket.on('data', (chunk) => {
      held += chunk.toString('utf8')
      for (let match = /^\*(\d+)\r\n((?:\$\d+\r\n[^\r\n]*\r\n)+)/.exec(held); match; match = /^\*(\d+)\r\n((?:\$\d+\r\n[^\r\n]*\r\n)+)/.exec(held)) {
        held = held.slice(match[0].length)
        const words = match[2]!.split('\r\n').filter((_, index) => index % 2 === 1)
        socket.write(answerTo(words))
      }
    })
    const answerTo = ([name = '', ...rest]: string[]): string => {
      const command = name.toUpperCase()
      if (command === 'AUTH') {
        isIn = rest.at(-1) === password
        return isIn ? '+OK\r\n' : '-WRONGPASS invalid password\r\n'
      }
      if (!isIn) return '-NOAUTH sign in first\r\n'
      if (command === 'PING') return '+PONG\r\n'
      const value = values()[`${command}${rest.length > 0 ? ` ${rest.join(' ')}` : ''}`]
      if (value === undefined) return '$-1\r\n'
      return typeof value === 'number' ? `:${value}\r\n` : `$${Buffer.byteLength(value)}\r\n${value}\r\n`
    }
  })
}

/** A live stream: a master playlist, one media playlist whose segments follow the clock, and the segments. */
export function streamServer(isStuck: () => boolean, seconds = 2): http.RequestListener {
  let stuckAt: number | undefined
  return (request, response) => {
    const now = Date.now() / 1000
    stuckAt = isStuck() ? stuckAt ?? now : undefined
    const newest = Math.floor((stuckAt ?? now) / seconds)
    if (request.url === '/live.m3u8') {
      return response.writeHead(200, { 'content-type': 'application/vnd.apple.mpegurl' }).end('#EXTM3U\n#EXT-X-STREAM-INF:BANDWIDTH=800000,RESOLUTION=640x360\nlow.m3u8\n#EXT-X-STREAM-INF:BANDWIDTH=2400000,RESOLUTION=1280x720\nhigh.m3u8\n')
    }
    if (/^\/(low|high)\.m3u8$/.test(request.url!)) {
      const first = newest - 4
      return response.writeHead(200, { 'content-type': 'application/vnd.apple.mpegurl' }).end([
        '#EXTM3U', '#EXT-X-VERSION:3', `#EXT-X-TARGETDURATION:${seconds}`, `#EXT-X-MEDIA-SEQUENCE:${first}`, ...Array.from({ length: 5 }, (_, index) => `#EXT-X-PROGRAM-DATE-TIME:${new Date((first + index) * seconds * 1000).toISOString()}\n#EXTINF:${seconds.toFixed(3)},\n${request.url!.slice(1, -5)}-${first + index}.ts`), ''
      ].join('\n'))
    }
    if (/\.ts$/.test(request.url!)) return response.writeHead(200, { 'content-type': 'video/mp2t' }).end(Buffer.alloc(request.url!.includes('high') ? 60_000 : 20_000, 0x47))
    return response.writeHead(404).end()
  }
}

/** A container engine that knows one container. */
export function engineServer(state: () => object): http.RequestListener {
  return (request, response) => {
    const [, name] = /^\/containers\/([^/]+)\/json$/.exec(request.url!) ?? []
    response.setHeader('content-type', 'application/json')
    if (name !== 'rosters') return response.writeHead(404).end('{"message":"No such container"}')
    return response.end(JSON.stringify({ Id: 'f00d', RestartCount: 0, Config: { Image: 'orrin/rosters:4.2' }, ...state() }))
  }
}

/** A file server with one folder in memory: explicit TLS, extended passive mode, list, fetch, put, delete. */
export class FileServer {
  private readonly ports: number[]
  private turn = 0

  /**
   * @param files content by name
   * @param passive loopback ports for transfers, and the ports that clients are told
   */
  constructor(private readonly files: Map<string, Buffer>, private readonly users: () => Record<string, string>, private readonly certificate: Certificate, private readonly passive: { listen: net.Server; told: number }[], private readonly corrupts: () => boolean = () => false) {
    this.ports = passive.map((each) => each.told)
  }

  server(): net.Server {
    return net.createServer((socket) => this.talk(socket, false, '220 ready'))
  }

  private talk(socket: net.Socket, isSecure: boolean, greeting?: string): void {
    let user = ''
    let isIn = false
    let isProtected = false
    let data: Promise<net.Socket> | undefined
    let held = ''
    const say = (line: string) => { if (!socket.destroyed) socket.write(`${line}\r\n`) }
    socket.on('error', () => undefined)
    const transfer = async (act: (data: net.Socket) => void) => {
      if (!data) return say('425 use passive mode first')
      say('150 here it comes')
      const plain = await data
      data = undefined
      act(isProtected ? new tls.TLSSocket(plain, { isServer: true, secureContext: tls.createSecureContext(this.certificate) }).on('error', () => undefined) : plain)
      return undefined
    }
    const read = (chunk: Buffer) => {
      held += chunk.toString('utf8')
      for (let end = held.indexOf('\n'); end >= 0; end = held.indexOf('\n')) {
        const [, command = '', rest = ''] = /^(\S+) ?(.*?)\r?$/.exec(held.slice(0, end)) ?? []
        held = held.slice(end + 1)
        answer(command.toUpperCase(), rest)
      }
    }
    const answer = (command: string, rest: string): void => {
      switch (command) {
        case 'AUTH':
          say('234 begin')
          socket.off('data', read)
          return this.talk(new tls.TLSSocket(socket, { isServer: true, secureContext: tls.createSecureContext(this.certificate) }), true)
        case 'USER':
          user = rest
          return say('331 password please')
        case 'PASS':
          isIn = this.users()[user] === rest && isSecure
          return say(isIn ? '230 welcome' : '530 wrong user or password, or no TLS')
        case 'PBSZ': case 'TYPE': return say('200 fine')
        case 'PROT':
          isProtected = rest === 'P'
          return say('200 fine')
        case 'QUIT':
          say('221 until later')
          return void socket.end()
      }
      if (!isIn) return say('530 sign in first')
      switch (command) {
        case 'CWD': return say(rest === '/' ? '250 fine' : '550 there is no such folder')
        case 'EPSV': {
          const slot = this.turn++ % this.ports.length
          data = new Promise((resolve) => this.passive[slot]!.listen.once('connection', resolve))
          return say(`229 (|||${this.ports[slot]}|)`)
        }
        case 'NLST': return void transfer((to) => to.end([...this.files.keys()].map((name) => `${name}\r\n`).join(''), () => say('226 done')))
        case 'RETR': {
          const content = this.files.get(rest)
          if (!content) return say('550 there is no such file')
          return void transfer((to) => to.end(this.corrupts() ? Buffer.from('x').toString() : content, () => say('226 done')))
        }
        case 'STOR': return void transfer((from) => {
          const parts: Buffer[] = []
          from.on('data', (part: Buffer) => parts.push(part))
          from.on('end', () => {
            this.files.set(rest, Buffer.concat(parts))
            say('226 done')
          })
        })
        case 'DELE': return say(this.files.delete(rest) ? '250 gone' : '550 there is no such file')
        default: return say('502 unknown command')
      }
    }
    socket.on('data', read)
    if (greeting) say(greeting)
  }
}
