import type { Duplex } from 'node:stream'
import { TryFailure } from './failure'
import type { Reader } from './reader'
import type { Talk } from './talk'

/** Reads one reply of SMTP or FTP: a code, and a text over several lines (RFC 5321, section 4.2; RFC 959, section 4.2). */
export async function reply(reader: Reader, talk: Talk, protocol: string): Promise<{ code: number; text: string; lines: string[] }> {
  const lines: string[] = []
  for (let count = 0; count < 100; count += 1) {
    const line = await reader.line()
    talk.received(line)
    lines.push(line.slice(4))
    const [, code, more] = /^(\d{3})([ -]|$)/.exec(line) ?? []
    if (code === undefined && lines.length === 1) throw new TryFailure('wrong-protocol', `the server does not speak ${protocol}: it says “${line.slice(0, 60)}”`)
    if (code !== undefined && more !== '-') return { code: Number(code), text: lines.join(' ').trim(), lines }
  }
  throw new TryFailure('wrong-protocol', 'the reply has more than a hundred lines')
}

/** What IMAP answers to a tagged command (RFC 9051, section 7.1). */
export async function tagged(reader: Reader, talk: Talk, tag: string, most = 200): Promise<{ status: 'OK' | 'NO' | 'BAD'; text: string; lines: string[] }> {
  const lines: string[] = []
  for (let count = 0; count < most; count += 1) {
    const line = await reader.line()
    talk.received(line)
    const [, status, text = ''] = new RegExp(`^${tag} (OK|NO|BAD) ?(.*)$`).exec(line) ?? []
    if (status) return { status: status as 'OK', text, lines }
    lines.push(line)
  }
  throw new TryFailure('wrong-protocol', `the answer has more than ${most} lines`)
}

type Say = (line: string) => void

/** The words after which each protocol begins TLS. Throws TryFailure `no-tls` when the server does not offer it. */
export const BEFORE_TLS: Record<'smtp' | 'imap' | 'pop3' | 'ftp', (reader: Reader, say: Say, talk: Talk) => Promise<void>> = {
  smtp: async (reader, say, talk) => {
    expect(await reply(reader, talk, 'SMTP'), 220)
    say('EHLO hemeron.invalid')
    expect(await reply(reader, talk, 'SMTP'), 250)
    say('STARTTLS')
    offered((await reply(reader, talk, 'SMTP')).code === 220)
  },
  imap: async (reader, say, talk) => {
    const greeting = await reader.line()
    talk.received(greeting)
    if (!/^\* (OK|PREAUTH)/.test(greeting)) throw new TryFailure('wrong-protocol', `the server does not speak IMAP: it says “${greeting.slice(0, 60)}”`)
    say('a1 STARTTLS')
    offered((await tagged(reader, talk, 'a1')).status === 'OK')
  },
  pop3: async (reader, say, talk) => {
    const greeting = await reader.line()
    talk.received(greeting)
    if (!greeting.startsWith('+OK')) throw new TryFailure('wrong-protocol', `the server does not speak POP3: it says “${greeting.slice(0, 60)}”`)
    say('STLS')
    const answer = await reader.line()
    talk.received(answer)
    offered(answer.startsWith('+OK'))
  },
  ftp: async (reader, say, talk) => {
    expect(await reply(reader, talk, 'FTP'), 220)
    say('AUTH TLS')
    offered((await reply(reader, talk, 'FTP')).code === 234)
  }
}

function expect({ code, text }: { code: number; text: string }, wanted: number): void {
  if (code !== wanted) throw new TryFailure('server-refused', `the server answers ${code} ${text}`.slice(0, 200))
}

function offered(isOffered: boolean): void {
  if (!isOffered) throw new TryFailure('no-tls', 'the server does not begin TLS when it is asked to')
}

/** Writes lines and keeps them as evidence. */
export const speaker = (socket: Duplex, talk: Talk, shown: (line: string) => string = (line) => line): Say => (line) => {
  const one = line.replace(/[\r\n]/g, '')
  talk.sent(shown(one))
  socket.write(`${one}\r\n`)
}
