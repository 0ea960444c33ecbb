import type { Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { openSession, type Account, type Session } from '../attempt/security'
import { tagged } from '../attempt/starttls'

export interface ImapSession extends Session {
  banner: string
  /** Sends a command; gives the lines of its answer. Throws TryFailure when it is refused. */
  ask: (command: string) => Promise<string[]>
}

const shown = (line: string) => line.replace(/^(\S+ LOGIN \S+ ).*$/, '$1(hidden)')

/** A text as a quoted string (RFC 9051, section 4.3). */
export const quoted = (text: string): string => `"${text.replace(/[\r\n]/g, '').replace(/([\\"])/g, '\\$1')}"`

/** Opens a session with a mailbox server: greeting, TLS, sign-in (RFC 9051). */
export async function openImap(trying: Trying, account: Account): Promise<ImapSession> {
  const session = await openSession(trying, account, 'imap', shown)
  const { reader, say } = session
  let number = 1
  const run = async (command: string) => {
    const tag = `h${number++}`
    say(`${tag} ${command}`)
    return tagged(reader, trying.talk, tag, 2000)
  }
  trying.begin('greet')
  let banner = trying.talk.lines.find((line) => line.way === 'received')?.text ?? ''
  if (account.security !== 'starttls') {
    banner = await reader.line()
    trying.talk.received(banner)
    if (!/^\* (OK|PREAUTH)/.test(banner)) throw new TryFailure(banner.startsWith('* BYE') ? 'server-refused' : 'wrong-protocol', `the server does not begin an IMAP session: it says “${banner.slice(0, 80)}”`)
  }
  if (account.user !== undefined) {
    trying.begin('login')
    const { status, text } = await run(`LOGIN ${quoted(account.user)} ${quoted(account.password ?? '')}`)
    if (status !== 'OK') throw new TryFailure('login-refused', `the mailbox server does not take the sign-in of ${account.user}: ${text}`.slice(0, 250))
  }
  const ask = async (command: string) => {
    const { status, text, lines } = await run(command)
    if (status !== 'OK') throw new TryFailure('server-refused', `the mailbox server answers ${command.split(' ')[0]} with ${status} ${text}`.slice(0, 250))
    return lines
  }
  return { ...session, banner: banner.replace(/^\* OK /, ''), ask }
}
