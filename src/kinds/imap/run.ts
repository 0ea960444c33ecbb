import { runnerOf } from '../attempt/attempt'
import { imapDefinition } from './definition'
import { openImap, quoted } from './session'

export const imapRunner = runnerOf(imapDefinition, async (target, trying) => {
  const session = await openImap(trying, target)
  trying.begin('wait')
  const lines = await session.ask(target.user === undefined ? 'NOOP' : `EXAMINE ${quoted(target.folder)}`)
  session.say('h9 LOGOUT')
  trying.noted.protocol = 'IMAP'
  const exists = lines.flatMap((line) => /^\* (\d+) EXISTS/.exec(line)?.[1] ?? [])[0]
  return { ...(exists === undefined ? {} : { readings: { messages: Number(exists) } }), facts: { banner: [session.banner] } }
})
