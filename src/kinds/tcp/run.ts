import { runnerOf } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { Reader } from '../attempt/reader'
import { textBytes } from '../attempt/text-bytes'
import { tcpDefinition } from './definition'

/** The most that is read while a text is waited for, in bytes. */
const MOST = 256_000

export const tcpRunner = runnerOf(tcpDefinition, async ({ host, port, tls, unverified, send, expect }, trying) => {
  const socket = await trying.open({ host, port, ...(tls ? { tls: { verify: !unverified } } : {}) })
  if (send === undefined && expect === undefined) return {}
  const reader = new Reader(socket, trying.signal, MOST)
  trying.begin('wait')
  if (send !== undefined) {
    const bytes = textBytes(send)
    trying.noted.bytesSent = bytes.length
    trying.talk.sent(send)
    socket.write(bytes)
  }
  let heard = await reader.some()
  trying.begin('receive')
  const pattern = expect === undefined ? undefined : new RegExp(expect, 'u')
  try {
    while (pattern && !pattern.test(heard.toString('utf8'))) {
      heard = Buffer.concat([heard, await reader.some()])
      if (heard.length > MOST) throw new TryFailure('answer-too-large', 'a quarter of a megabyte came, and what is expected was not in it')
    }
  } catch (error) {
    if (error instanceof TryFailure) throw error
    throw new TryFailure('bad-answer', `what came does not match ${expect}: “${heard.toString('utf8').slice(0, 80)}”`)
  } finally {
    trying.noted.bytesReceived = heard.length
    trying.talk.received(heard.toString('utf8'))
  }
  const body = trying.answer(heard)
  return { body, bytes: heard.length }
})
