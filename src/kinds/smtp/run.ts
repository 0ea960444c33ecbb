import { runnerOf } from '../attempt/attempt'
import { smtpDefinition } from './definition'
import { openSmtp } from './session'

export const smtpRunner = runnerOf(smtpDefinition, async (target, trying) => {
  const session = await openSmtp(trying, target)
  trying.begin('wait')
  if (target.to !== undefined) {
    await session.ask(`MAIL FROM:<${target.from ?? ''}>`, 250)
    await session.ask(`RCPT TO:<${target.to}>`, 250)
    await session.ask('RSET', 250)
  }
  await session.ask('NOOP', 250)
  session.say('QUIT')
  trying.noted.protocol = 'SMTP'
  return { status: trying.noted.status ?? 250, facts: { banner: [session.banner], offers: session.offers } }
})
