import { randomBytes } from 'node:crypto'
import type { Duplex } from 'node:stream'
import { runnerOf, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { guard } from '../attempt/open'
import { Reader } from '../attempt/reader'
import { openSession } from '../attempt/security'
import { reply } from '../attempt/starttls'
import { ftpDefinition, type FtpTarget } from './definition'

const MOST = 5_000_000
const shown = (line: string) => line.replace(/^PASS .*$/, 'PASS (hidden)')

/** FTP as RFC 959 has it, over TLS as in RFC 4217, with extended passive mode (RFC 2428). */
export const ftpRunner = runnerOf(ftpDefinition, async (target, trying) => {
  const session = await openSession(trying, target, 'ftp', shown)
  const answer = async () => {
    const found = await reply(session.reader, trying.talk, 'FTP')
    trying.noted.status = found.code
    return found
  }
  const ask = async (line: string, ...wanted: number[]) => {
    session.say(line)
    const found = await answer()
    if (!wanted.includes(found.code)) throw new TryFailure(/^(USER|PASS)/.test(line) ? 'login-refused' : 'server-refused', `the file server answers ${shown(line)} with ${found.code} ${found.text}`.slice(0, 250))
    return found
  }
  trying.begin('greet')
  if (target.security !== 'starttls') {
    const greeting = await answer()
    if (greeting.code !== 220) throw new TryFailure('server-refused', `the file server greets with ${greeting.code} ${greeting.text}`.slice(0, 250))
  }
  trying.begin('login')
  const { code } = await ask(`USER ${target.user}`, 230, 331)
  if (code === 331) await ask(`PASS ${target.password}`, 230, 202)
  if (target.security !== 'none') {
    await ask('PBSZ 0', 200)
    await ask('PROT P', 200)
  }
  await ask('TYPE I', 200)
  await ask(`CWD ${target.folder}`, 250)
  trying.noted.protocol = target.security === 'none' ? 'FTP' : 'FTPS'
  const transfer = (line: string, content?: Buffer) => transferred(target, trying, ask, answer, line, content)
  trying.begin('wait')
  const files = (await transfer('NLST')).toString('utf8').split(/\r?\n/).filter((each) => each !== '')
  let body = ''
  let bytes = 0
  if (target.file !== undefined) {
    trying.begin('receive')
    const content = await transfer(`RETR ${target.file}`)
    bytes = content.length
    trying.noted.bytesReceived = bytes
    body = trying.answer(content)
  }
  if (target.put) await putBack(trying, transfer, ask)
  session.say('QUIT')
  return { body, bytes, facts: { files } }
})

type Ask = (line: string, ...wanted: number[]) => Promise<{ code: number; text: string }>

/** Carries one list or file over a connection of its own. The port is the server's choice, the address that of the control connection, whatever the server says. */
async function transferred(target: FtpTarget, trying: Trying, ask: Ask, answer: () => Promise<{ code: number; text: string }>, line: string, content?: Buffer): Promise<Buffer> {
  const address = trying.found.address!
  const { text } = await ask('EPSV', 229, 227).catch(() => ask('PASV', 227))
  const [, extended, high, low] = /\(\|\|\|(\d{1,5})\|\)|\((?:\d{1,3},){4}(\d{1,3}),(\d{1,3})\)/.exec(text) ?? []
  const port = extended === undefined ? Number(high) * 256 + Number(low) : Number(extended)
  if (!(port >= 1 && port <= 65_535)) throw new TryFailure('bad-answer', `the file server names no port for the transfer: ${text}`.slice(0, 200))
  guard(address, trying.link)
  const plain = await trying.link.connect(address, port, trying.signal)
  let data: Duplex = plain
  try {
    await Promise.all([ask(line, 125, 150), target.security === 'none' ? undefined : trying.secureAside(plain, target.host, !target.unverified).then((secured) => { data = secured })])
    if (content) {
      await new Promise<void>((resolve, reject) => {
        data.once('error', reject)
        data.end(content, () => resolve())
      })
    }
    const got = content ? Buffer.alloc(0) : await new Reader(data, trying.signal, MOST).rest()
    const done = await answer()
    if (done.code !== 226 && done.code !== 250) throw new TryFailure('server-failed', `the file server ends the transfer with ${done.code} ${done.text}`.slice(0, 250))
    return Buffer.from(got)
  } finally {
    data.destroy()
  }
}

async function putBack(trying: Trying, transfer: (line: string, content?: Buffer) => Promise<Buffer>, ask: Ask): Promise<void> {
  const name = `hemeron-${randomBytes(8).toString('hex')}.tmp`
  const content = randomBytes(2000)
  trying.begin('send')
  await transfer(`STOR ${name}`, content)
  let same = false
  try {
    trying.begin('receive')
    same = (await transfer(`RETR ${name}`)).equals(content)
  } finally {
    trying.begin('remove')
    await ask(`DELE ${name}`, 250)
  }
  if (!same) throw new TryFailure('came-back-changed', 'a file that was put came back with other content')
}
