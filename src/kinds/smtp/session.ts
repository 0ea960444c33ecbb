import type { Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { openSession, type Account, type Session } from '../attempt/security'
import { reply } from '../attempt/starttls'

export interface SmtpSession extends Session {
  banner: string
  offers: string[]
  /** Says a line and reads the reply; throws TryFailure when its code is another one. */
  ask: (line: string, wanted: number) => Promise<{ code: number; text: string }>
}

/** Credentials are not kept as evidence. */
const shown = (line: string) => (/^AUTH PLAIN /.test(line) ? 'AUTH PLAIN (hidden)' : line)

/** Opens a session with a mail server as far as it can be used: greeting, TLS, sign-in (RFC 5321, RFC 3207, RFC 4954). */
export async function openSmtp(trying: Trying, account: Account): Promise<SmtpSession> {
  const session = await openSession(trying, account, 'smtp', shown)
  const { reader, say } = session
  const ask = async (line: string, wanted: number) => {
    say(line)
    const answer = await reply(reader, trying.talk, 'SMTP')
    trying.noted.status = answer.code
    if (answer.code !== wanted) throw new TryFailure('server-refused', `the mail server answers ${line.split(' ')[0]} with ${answer.code} ${answer.text}`.slice(0, 250))
    return answer
  }
  trying.begin('greet')
  let banner = ''
  if (account.security !== 'starttls') {
    const greeting = await reply(reader, trying.talk, 'SMTP')
    trying.noted.status = greeting.code
    if (greeting.code !== 220) throw new TryFailure('server-refused', `the mail server greets with ${greeting.code} ${greeting.text}`.slice(0, 250))
    banner = greeting.text
  } else banner = trying.talk.lines.find((line) => line.way === 'received')?.text.slice(4) ?? ''
  say('EHLO hemeron.invalid')
  const hello = await reply(reader, trying.talk, 'SMTP')
  if (hello.code !== 250) throw new TryFailure('server-refused', `the mail server answers EHLO with ${hello.code} ${hello.text}`.slice(0, 250))
  const offers = hello.lines.slice(1).map((line) => line.toUpperCase())
  if (account.user !== undefined) await signIn(trying, session, offers, account.user, account.password ?? '')
  return { ...session, banner, offers, ask }
}

async function signIn(trying: Trying, { reader, say }: Session, offers: string[], user: string, password: string): Promise<void> {
  trying.begin('login')
  if (!offers.some((offer) => offer.startsWith('AUTH') && offer.includes('PLAIN'))) throw new TryFailure('login-refused', 'the mail server offers no sign-in with user and password here')
  say(`AUTH PLAIN ${Buffer.from(`\0${user}\0${password}`).toString('base64')}`)
  const answer = await reply(reader, trying.talk, 'SMTP')
  trying.noted.status = answer.code
  if (answer.code !== 235) throw new TryFailure('login-refused', `the mail server does not take the sign-in of ${user}: ${answer.code} ${answer.text}`.slice(0, 250))
}
