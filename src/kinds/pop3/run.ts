import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { openSession } from '../attempt/security'
import { pop3Definition } from './definition'

const shown = (line: string) => line.replace(/^PASS .*$/, 'PASS (hidden)')

/** POP3 as RFC 1939 has it, with STLS (RFC 2595, section 4). */
export const pop3Runner = runnerOf(pop3Definition, async (target, trying) => {
  const { reader, say } = await openSession(trying, target, 'pop3', shown)
  const answer = async () => {
    const line = await reader.line()
    trying.talk.received(line)
    return line
  }
  trying.begin('greet')
  const greeting = target.security === 'starttls' ? trying.talk.lines.find((line) => line.way === 'received')?.text ?? '' : await answer()
  if (!greeting.startsWith('+OK')) throw new TryFailure(greeting.startsWith('-ERR') ? 'server-refused' : 'wrong-protocol', `the server does not begin a POP3 session: it says “${greeting.slice(0, 80)}”`)
  trying.noted.protocol = 'POP3'
  const facts = { banner: [greeting.slice(4)] }
  if (target.user === undefined) {
    say('QUIT')
    return { facts }
  }
  trying.begin('login')
  for (const command of [`USER ${target.user}`, `PASS ${target.password ?? ''}`]) {
    say(command)
    const said = await answer()
    if (!said.startsWith('+OK')) throw new TryFailure('login-refused', `the POP3 server does not take the sign-in of ${target.user}: ${said}`.slice(0, 250))
  }
  trying.begin('wait')
  say('STAT')
  const [, count, bytes] = /^\+OK (\d+) (\d+)/.exec(await answer()) ?? []
  if (count === undefined) throw new TryFailure('bad-answer', 'the answer to STAT says no numbers')
  say('QUIT')
  return { readings: { messages: Number(count), held: Number(bytes) }, facts }
})
