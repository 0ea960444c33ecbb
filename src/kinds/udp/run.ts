import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { textBytes } from '../attempt/text-bytes'
import { LinkError } from '../link'
import { udpDefinition } from './definition'

export const udpRunner = runnerOf(udpDefinition, async ({ host, port, send = '', hex, expect, again }, trying, { wait }) => {
  const address = await trying.address(host)
  const datagrams = await trying.link.datagrams(address, port, trying.signal)
  const question = hex === undefined ? textBytes(send) : Buffer.from(hex.replace(/\s/g, ''), 'hex')
  trying.begin('wait')
  trying.talk.sent(hex ?? send)
  trying.noted.bytesSent = question.length
  datagrams.send(question)
  const repeats = Array.from({ length: again }, (_, index) => setTimeout(() => {
    trying.talk.note('no answer yet: asked again')
    datagrams.send(question)
  }, ((index + 1) * wait) / (again + 2)))
  try {
    const answer = await datagrams.receive()
    trying.noted.bytesReceived = answer.length
    const isText = !answer.includes(0)
    trying.talk.received(isText ? answer.toString('utf8') : answer.toString('hex').replace(/(..)(?=.)/g, '$1 '))
    const body = trying.answer(answer.toString('utf8'))
    if (expect !== undefined && !new RegExp(expect, 'u').test(body)) throw new TryFailure('bad-answer', `the answer does not match ${expect}: “${body.slice(0, 80)}”`)
    return { body, bytes: answer.length }
  } catch (error) {
    if (error instanceof LinkError && error.fault === 'aborted') throw new TryFailure('no-answer', `nothing came back from ${address}: UDP port ${port} is silent, or packets are lost`)
    throw error
  } finally {
    repeats.forEach(clearTimeout)
    datagrams.close()
  }
})
