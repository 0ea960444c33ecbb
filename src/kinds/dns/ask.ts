import { randomInt } from 'node:crypto'
import packet, { type DecodedPacket } from 'dns-packet'
import { TryFailure } from '../attempt/failure'
import { Reader } from '../attempt/reader'
import type { Trying } from '../attempt/attempt'
import { LinkError, type Link } from '../link'
import { plainName, wireName } from './records'

export interface Question {
  name: string
  type: string
  /** Ask the server to find the answer itself. */
  recursive: boolean
  dnssec: boolean
}

/** The answer's size that is offered over UDP (the value agreed on for 2020), in bytes. */
const UDP_SIZE = 1232
const AGAIN_AFTER = 1000

function encode({ name, type, recursive, dnssec }: Question): { id: number; bytes: Buffer } {
  const id = randomInt(65_536)
  return {
    id, bytes: packet.encode({
      type: 'query', id, flags: recursive ? packet.RECURSION_DESIRED : 0, questions: [{ type: type as 'A', name: wireName(name, type) }],
      additionals: [{ type: 'OPT', name: '.', udpPayloadSize: UDP_SIZE, flags: dnssec ? packet.DNSSEC_OK : 0, options: [] } as never]
    })
  }
}

/** Reads an answer to a question; undefined when it answers another one. Throws TryFailure on what is no DNS. */
function decode(bytes: Buffer, id: number, { name, type }: Question): DecodedPacket | undefined {
  let answer: DecodedPacket
  try {
    answer = packet.decode(bytes)
  } catch {
    throw new TryFailure('wrong-protocol', `${bytes.length} bytes came back that are no DNS message`)
  }
  const [question] = answer.questions ?? []
  const isMine = answer.id === id && answer.type === 'response' && (!question || (plainName(question.name) === plainName(wireName(name, type)) && question.type === type))
  return isMine ? answer : undefined
}

/** Asks over UDP (RFC 1035, section 4.2.1), again after a second of silence; a cut answer is asked for over TCP. */
export async function askOverUdp(link: Link, address: string, port: number, question: Question, signal: AbortSignal): Promise<DecodedPacket> {
  const { id, bytes } = encode(question)
  const datagrams = await link.datagrams(address, port, signal)
  const again = setInterval(() => datagrams.send(bytes), AGAIN_AFTER)
  try {
    datagrams.send(bytes)
    for (;;) {
      const answer = decode(await datagrams.receive(), id, question)
      if (!answer) continue
      if (!answer.flag_tc) return answer
      const socket = await link.connect(address, port, signal)
      try {
        return await askOverStream(new Reader(socket, signal, 70_000), (message) => socket.write(message), question)
      } finally {
        socket.destroy()
      }
    }
  } catch (error) {
    if (error instanceof LinkError && error.fault === 'aborted') throw new TryFailure('no-answer', `the server at ${address} does not answer`)
    throw error
  } finally {
    clearInterval(again)
    datagrams.close()
  }
}

/** Asks over an open TCP or TLS connection, each message with its length before it (RFC 1035, section 4.2.2; RFC 7858, section 3.3). */
export async function askOverStream(reader: Reader, write: (message: Buffer) => void, question: Question): Promise<DecodedPacket> {
  const { id, bytes } = encode(question)
  const length = Buffer.alloc(2)
  length.writeUInt16BE(bytes.length)
  write(Buffer.concat([length, bytes]))
  for (;;) {
    const answer = decode(await reader.exactly((await reader.exactly(2)).readUInt16BE()), id, question)
    if (answer) return answer
  }
}

/** Asks one resolver the way the check says. */
export async function askResolver(trying: Trying, host: string, port: number | undefined, over: 'udp' | 'tcp' | 'tls', question: Question): Promise<DecodedPacket> {
  if (over === 'udp') {
    const address = await trying.address(host)
    trying.begin('wait')
    return askOverUdp(trying.link, address, port ?? 53, question, trying.signal)
  }
  const socket = await trying.open({ host, port: port ?? (over === 'tls' ? 853 : 53), ...(over === 'tls' ? { tls: { verify: true, alpn: ['dot'] } } : {}) })
  trying.begin('wait')
  return askOverStream(new Reader(socket, trying.signal, 70_000), (message) => socket.write(message), question)
}
