import { runnerOf, type Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { Reader } from '../attempt/reader'
import { LinkError } from '../link'
import { sipDefinition, type SipTarget } from './definition'
import { optionsRequest, readSip, valueOf, type SipAnswer } from './message'

/** Pauses before a request is sent again over UDP (RFC 3261, section 17.1.2.2, timer E), in milliseconds. */
const AGAIN = [500, 1500, 3500]

export const sipRunner = runnerOf(sipDefinition, async (target, trying) => {
  const request = optionsRequest(target)
  trying.talk.sent(request.text)
  const answer = await (target.over === 'udp' ? overUdp : overStream)(target, request, trying)
  trying.noted.protocol = 'SIP'
  trying.noted.status = answer.status
  const list = (name: string) => (valueOf(answer, name) ?? '').split(',').map((each) => each.trim()).filter((each) => each !== '')
  const server = valueOf(answer, 'server') ?? valueOf(answer, 'user-agent')
  trying.evidence.facts = [['answer', `${answer.status} ${answer.text}`], ['server', server ?? 'not said'], ['methods', list('allow').join(', ') || 'not said']]
  if (answer.status >= 500) throw new TryFailure('server-failed', `the SIP server answers ${answer.status} ${answer.text}`.slice(0, 200))
  return { status: answer.status, headers: answer.headers, facts: { methods: list('allow'), server: server === undefined ? [] : [server] } }
})

/** The final answer to this request; a provisional one goes on waiting, another one is passed over. */
function finalAnswer(text: string, id: string, trying: Trying): SipAnswer | undefined {
  const answer = readSip(text)
  if (!answer) throw new TryFailure('wrong-protocol', `what comes back is no SIP: “${text.slice(0, 60)}”`)
  trying.talk.received(text)
  return answer.status >= 200 && valueOf(answer, 'call-id')?.startsWith(id) ? answer : undefined
}

async function overUdp({ host, port }: SipTarget, { text, id }: { text: string; id: string }, trying: Trying): Promise<SipAnswer> {
  const address = await trying.address(host)
  const datagrams = await trying.link.datagrams(address, port, trying.signal)
  trying.begin('wait')
  const timers = AGAIN.map((after) => setTimeout(() => datagrams.send(Buffer.from(text)), after))
  try {
    datagrams.send(Buffer.from(text))
    for (;;) {
      const answer = finalAnswer((await datagrams.receive()).toString('utf8'), id, trying)
      if (answer) return answer
    }
  } catch (error) {
    if (error instanceof LinkError && error.fault === 'aborted') throw new TryFailure('no-answer', `the SIP server at ${address} does not answer`)
    throw error
  } finally {
    timers.forEach(clearTimeout)
    datagrams.close()
  }
}

async function overStream({ host, port, over, unverified }: SipTarget, { text, id }: { text: string; id: string }, trying: Trying): Promise<SipAnswer> {
  const socket = await trying.open({ host, port, ...(over === 'tls' ? { tls: { verify: !unverified } } : {}) })
  trying.begin('wait')
  const reader = new Reader(socket, trying.signal, 64_000)
  socket.write(text)
  for (;;) {
    const head = await reader.until((held) => {
      const end = held.indexOf('\r\n\r\n')
      if (held.length >= 8 && !/^(SIP\/2\.0|\r\n)/.test(held.subarray(0, 8).toString('latin1'))) throw new TryFailure('wrong-protocol', `what comes back is no SIP: “${held.subarray(0, 60).toString('utf8')}”`)
      return end < 0 ? undefined : end + 4
    })
    const answer = readSip(head.toString('utf8').trimStart())
    const length = Number((answer && valueOf(answer, 'content-length')) ?? 0)
    if (length > 0 && length < 64_000) await reader.exactly(length)
    const final = finalAnswer(head.toString('utf8').trimStart(), id, trying)
    if (final) return final
  }
}
