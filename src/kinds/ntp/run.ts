import { randomBytes } from 'node:crypto'
import { clockOffset, readTime, timeQuestion } from '../../core/network/ntp'
import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { LinkError } from '../link'
import { ntpDefinition } from './definition'

const AGAIN_AFTER = 1500

export const ntpRunner = runnerOf(ntpDefinition, async ({ host, port }, trying) => {
  const address = await trying.address(host)
  const datagrams = await trying.link.datagrams(address, port, trying.signal)
  trying.begin('wait')
  let stamp = randomBytes(8).readBigUInt64BE()
  let asked = Date.now()
  let begun = performance.now()
  const ask = () => {
    stamp = randomBytes(8).readBigUInt64BE()
    asked = Date.now()
    begun = performance.now()
    datagrams.send(timeQuestion(stamp))
  }
  const again = setInterval(ask, AGAIN_AFTER)
  try {
    ask()
    for (;;) {
      const bytes = await datagrams.receive()
      const heard = asked + (performance.now() - begun)
      const answer = readTime(bytes)
      if (!answer || answer.mode !== 4) throw new TryFailure('wrong-protocol', `${bytes.length} bytes came back that are no answer of a time server`)
      if (answer.origin !== stamp) continue
      const { offset, delay } = clockOffset(asked, answer, heard)
      trying.noted.protocol = 'NTP'
      trying.evidence.facts = [
        ['stratum', String(answer.stratum)], ['source', answer.reference], ['leap', ['no warning', 'a second is added', 'a second is left out', 'not synchronised'][answer.leap]!], ['its time', new Date(answer.sent).toISOString()], ['offset', `${offset.toFixed(2)} ms`]
      ]
      if (answer.stratum === 0) throw new TryFailure('server-refused', `the time server refuses to answer: ${answer.reference}`)
      if (answer.leap === 3 || answer.stratum > 15) throw new TryFailure('not-running', 'the time server says that it is not synchronised')
      return {
        took: delay, readings: { distance: Math.abs(offset), offset, stratum: answer.stratum, delay, root: answer.rootDelay, dispersion: answer.rootDispersion }, facts: { source: [answer.reference] }
      }
    }
  } catch (error) {
    if (error instanceof LinkError && error.fault === 'aborted') throw new TryFailure('no-answer', `the time server at ${address} does not answer`)
    throw error
  } finally {
    clearInterval(again)
    datagrams.close()
  }
})
