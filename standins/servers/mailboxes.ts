import net from 'node:net'
import type { AddressInfo } from 'node:net'
import tls from 'node:tls'
import { SMTPServer } from 'smtp-server'

interface Message {
  uid: number
  text: string
  deleted: boolean
}

export interface MailWorld {
  users: Record<string, string>
  certificate: { cert: string; key: string }
  /** How long a message is under way, in milliseconds; undefined loses it. */
  delay: () => number | undefined
}

/**
 * A small mail server with mailboxes: SMTP takes messages for its users, IMAP and POP3 give them. It keeps everything in
 * memory and knows as much of each protocol as a mail client needs for reading and deleting.
 */
export class MailServer {
  private readonly boxes = new Map<string, Message[]>()
  private readonly servers: { close: (done?: () => void) => unknown }[] = []
  private uid = 1

  constructor(private readonly world: MailWorld) {}

  /** Starts every protocol on a loopback port of its own. */
  async start(): Promise<{ smtp: number; imap: number; imaps: number; pop3: number; pop3s: number }> {
    return {
      smtp: await this.smtp(), imap: await this.listen((socket) => this.imap(socket), false), imaps: await this.listen((socket) => this.imap(socket), true),
      pop3: await this.listen((socket) => this.pop3(socket), false), pop3s: await this.listen((socket) => this.pop3(socket), true)
    }
  }

  /** How many messages lie in a mailbox. */
  count(user: string): number {
    return this.boxes.get(user)?.length ?? 0
  }

  stop(): void {
    for (const server of this.servers) server.close()
  }

  private smtp(): Promise<number> {
    const server = new SMTPServer({
      ...this.world.certificate, authOptional: true, disableReverseLookup: true, size: 1_000_000, banner: 'ready',
      onAuth: ({ username = '', password }, _session, done) => (this.world.users[username] === password ? done(null, { user: username }) : done(new Error('wrong user or password'))),
      onRcptTo: ({ address }, _session, done) => (this.userOf(address) ? done() : done(Object.assign(new Error('no such mailbox here'), { responseCode: 550 }))),
      onData: (stream, session, done) => {
        let text = ''
        stream.on('data', (chunk: Buffer) => { text += chunk.toString('utf8') })
        stream.on('end', () => {
          const delay = this.world.delay()
          const to = session.envelope.rcptTo
          if (delay !== undefined) setTimeout(() => { for (const { address } of to) this.deliver(this.userOf(address)!, text) }, delay)
          done()
        })
      }
    })
    server.on('error', () => undefined)
    this.servers.push(server)
    return new Promise((resolve) => { server.listen(0, '127.0.0.1', () => resolve((server.server.address() as AddressInfo).port)) })
  }

  private userOf(address: string): string | undefined {
    return Object.keys(this.world.users).find((user) => user === address.split('@')[0])
  }

  private deliver(user: string, text: string): void {
    const box = this.boxes.get(user) ?? []
    box.push({ uid: this.uid++, text, deleted: false })
    this.boxes.set(user, box)
  }

  private listen(talk: (socket: net.Socket) => void, secure: boolean): Promise<number> {
    const server = secure ? tls.createServer(this.world.certificate, talk) : net.createServer(talk)
    server.on('tlsClientError', () => undefined)
    this.servers.push(server)
    return new Promise((resolve) => server.listen(0, '127.0.0.1', () => resolve((server.address() as AddressInfo).port)))
  }

  private imap(socket: net.Socket): void {
    let user: string | undefined
    const box = () => (user === undefined ? [] : this.boxes.get(user) ?? [])
    const unquote = (text = '') => text.replace(/^"|"$/g, '').replace(/\\(.)/g, '$1')
    byLines(socket, (line, write, upgrade) => {
      const [, tag = '*', command = '', rest = ''] = /^(\S+) ((?:UID )?\S+) ?(.*)$/i.exec(line) ?? []
      const ok = (text = 'done') => write(`${tag} OK ${text}`)
      switch (command.toUpperCase()) {
        case 'STARTTLS':
          ok('begin')
          return upgrade(this.world.certificate)
        case 'LOGIN': {
          const [name, password] = [...rest.matchAll(/"((?:[^"\\]|\\.)*)"|(\S+)/g)].map((match) => unquote(match[0]))
          if (name === undefined || this.world.users[name] !== password) return write(`${tag} NO wrong user or password`)
          user = name
          return ok()
        }
        case 'SELECT': case 'EXAMINE':
          if (user === undefined) return write(`${tag} NO sign in first`)
          if (unquote(rest).toUpperCase() !== 'INBOX') return write(`${tag} NO there is no such folder`)
          write(`* ${box().length} EXISTS`)
          return ok()
        case 'UID SEARCH': {
          const [, name = '', value = '', before] = /^HEADER (\S+) (.+?)(?: SENTBEFORE (\S+))?$/i.exec(rest) ?? []
          const isOld = (text: string) => before === undefined || Date.parse(/^Date: (.*)$/im.exec(text)?.[1] ?? '') < Date.parse(before)
          const found = box().flatMap((message) => (new RegExp(`^${name}: .*${unquote(value)}`, 'im').test(message.text) && isOld(message.text) ? [message.uid] : []))
          write(`* SEARCH${found.map((number) => ` ${number}`).join('')}`)
          return ok()
        }
        case 'UID STORE': {
          const chosen = rest.split(' ')[0]!.split(',').map(Number)
          for (const message of box()) if (chosen.includes(message.uid)) message.deleted = true
          return ok()
        }
        case 'EXPUNGE':
          if (user !== undefined) this.boxes.set(user, box().filter((message) => !message.deleted))
          return ok()
        case 'NOOP': case 'CAPABILITY': return ok()
        case 'LOGOUT':
          write('* BYE until later')
          ok()
          return socket.end()
        default: return write(`${tag} BAD unknown command`)
      }
    }, '* OK IMAP4rev1 ready')
  }

  private pop3(socket: net.Socket): void {
    let user = ''
    byLines(socket, (line, write, upgrade) => {
      const [command = '', rest = ''] = line.split(' ')
      switch (command.toUpperCase()) {
        case 'STLS':
          write('+OK begin')
          return upgrade(this.world.certificate)
        case 'USER':
          user = rest
          return write('+OK')
        case 'PASS': return write(this.world.users[user] === rest ? '+OK' : '-ERR wrong user or password')
        case 'STAT': {
          const messages = this.boxes.get(user) ?? []
          return write(`+OK ${messages.length} ${messages.reduce((sum, message) => sum + message.text.length, 0)}`)
        }
        case 'QUIT':
          write('+OK until later')
          return socket.end()
        default: return write('-ERR unknown command')
      }
    }, '+OK POP3 ready')
  }
}

type Answer = (line: string, write: (text: string) => void, upgrade: (certificate: { cert: string; key: string }) => void) => unknown

/** Talks by lines, and goes on over TLS when the protocol says so. */
function byLines(socket: net.Socket, answer: Answer, greeting?: string): void {
  let held = ''
  const write = (text: string) => { if (!socket.destroyed) socket.write(`${text}\r\n`) }
  socket.on('error', () => undefined)
  const read = (chunk: Buffer) => {
    held += chunk.toString('utf8')
    for (let end = held.indexOf('\n'); end >= 0; end = held.indexOf('\n')) {
      const line = held.slice(0, end).replace(/\r$/, '')
      held = held.slice(end + 1)
      answer(line, write, (certificate) => {
        socket.off('data', read)
        byLines(new tls.TLSSocket(socket, { isServer: true, secureContext: tls.createSecureContext(certificate) }), answer)
      })
    }
  }
  socket.on('data', read)
  if (greeting) write(greeting)
}
