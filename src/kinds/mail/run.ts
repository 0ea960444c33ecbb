import { randomBytes } from 'node:crypto'
import { setTimeout as sleep } from 'node:timers/promises'
import { speakDuration } from '../../core/definitions/duration'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { reply } from '../attempt/starttls'
import { openImap, quoted } from '../imap/session'
import { openSmtp } from '../smtp/session'
import { mailDefinition } from './definition'

const LOOK_AGAIN = 400
/** Messages that did not arrive in time and are looked for later. */
const LATE_MOST = 20
const DAY = 86_400_000

/** Sends a message and waits for it. The mailbox is opened first, so that waiting is nothing but the way of the message. */
export const mailRunner = runnerOf(mailDefinition, async (target, trying, { key, wait }) => {
  const { unverified, folder, from, to } = target
  const mailbox = await openImap(trying, { host: target.mailbox, port: target.mailboxPort, security: target.mailboxSecurity, unverified, user: target.mailboxUser, password: target.mailboxPassword })
  await mailbox.ask(`SELECT ${quoted(folder)}`)
  trying.talk.note('the mailbox is open')
  const { host, port, ...account } = { host: target.through, port: target.port, security: target.security, unverified, ...(target.user === undefined ? {} : { user: target.user, password: target.password ?? '' }) }
  const server = await openSmtp(trying, { host, port, ...account })
  const token = randomBytes(12).toString('hex')
  // other locations use the same mailbox at the same time, so only what this one has sent may be taken away
  const late = (trying.memory.get('late') as string[] | undefined) ?? []
  trying.memory.set('late', [...late, token].slice(-LATE_MOST))
  trying.begin('send')
  await server.ask(`MAIL FROM:<${from}>`, 250)
  await server.ask(`RCPT TO:<${to}>`, 250)
  await server.ask('DATA', 354)
  server.socket.write([
    `From: Hemeron <${from}>`, `To: <${to}>`, `Subject: Availability check ${token}`, `Date: ${new Date().toUTCString().replace('GMT', '+0000')}`, `Message-ID: <${token}@hemeron.invalid>`,
    `X-Hemeron-Check: ${key}`, `X-Hemeron-Token: ${token}`, 'Auto-Submitted: auto-generated', 'Content-Type: text/plain; charset=utf-8', '', 'This message was sent to see whether it arrives. It is deleted at once.', '.', ''
  ].join('\r\n'))
  const taken = await reply(server.reader, trying.talk, 'SMTP')
  trying.noted.status = taken.code
  if (taken.code !== 250) throw new TryFailure('server-refused', `the mail server does not take the message: ${taken.code} ${taken.text}`.slice(0, 250))
  server.say('QUIT')
  trying.begin('wait')
  const sent = performance.now()
  let found: string[] = []
  try {
    while (found.length === 0) {
      await mailbox.ask('NOOP')
      found = numbersIn(await mailbox.ask(`UID SEARCH HEADER X-Hemeron-Token ${token}`))
      if (found.length === 0) await sleep(LOOK_AGAIN, undefined, { signal: trying.signal })
    }
  } catch (error) {
    if (trying.signal.aborted) throw new TryFailure('not-arrived', `the message was taken by ${host}, but did not arrive in the mailbox within ${speakDuration(wait)}`)
    throw error
  }
  const arrival = performance.now() - sent
  trying.begin('remove')
  // messages of earlier tries that came too late go too, and any that is more than a day old
  const others: string[] = []
  for (const each of late) others.push(...numbersIn(await mailbox.ask(`UID SEARCH HEADER X-Hemeron-Token ${each}`)))
  others.push(...numbersIn(await mailbox.ask(`UID SEARCH HEADER X-Hemeron-Check ${quoted(key)} SENTBEFORE ${imapDate(Date.now() - DAY)}`)))
  await mailbox.ask(`UID STORE ${[...new Set([...found, ...others])].join(',')} +FLAGS.SILENT (\\Deleted)`)
  await mailbox.ask('EXPUNGE')
  trying.memory.set('late', [])
  mailbox.say('h9 LOGOUT')
  return { status: taken.code, readings: { arrival } }
})

/** A day as IMAP writes it (RFC 9051, section 9, `date`). */
function imapDate(at: number): string {
  const date = new Date(at)
  return `${date.getUTCDate()}-${['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'][date.getUTCMonth()]}-${date.getUTCFullYear()}`
}

/** Unique numbers in the answer to UID SEARCH; plain ones change whenever another session deletes something. */
const numbersIn = (lines: string[]): string[] => lines.filter((line) => line.startsWith('* SEARCH')).flatMap((line) => line.slice(8).trim().split(/\s+/)).filter((each) => /^\d+$/.test(each))
