import dgram from 'node:dgram'
import type { AddressInfo } from 'node:net'
import packet, { type Answer } from 'dns-packet'
import { HOSTS } from '../world/hosts'

/** The stand-in resolver: answers A questions for the world's names over UDP, in rotating order; other names do not exist. */
export function startNameServer(): Promise<number> {
  const socket = dgram.createSocket('udp4')
  let turn = 0
  socket.on('message', (message, peer) => {
    let query: packet.DecodedPacket
    try {
      query = packet.decode(message)
    } catch {
      return
    }
    const question = query.questions?.[0]
    if (!question) return
    const host = HOSTS.find((each) => each.name === question.name.toLowerCase())
    const answers: Answer[] = host && question.type === 'A'
      ? rotate(host.servers, turn++).map(({ address }) => ({ type: 'A', name: question.name, ttl: 60, data: address })) : []
    socket.send(packet.encode({
      type: 'response', id: query.id ?? 0, questions: [question], answers, flags: packet.RECURSION_DESIRED | packet.RECURSION_AVAILABLE | (host ? 0 : 3)
    }), peer.port, peer.address)
  })
  return new Promise((resolve) => {
    socket.bind(0, '127.0.0.1', () => resolve((socket.address() as AddressInfo).port))
  })
}

function rotate<Item>(items: Item[], by: number): Item[] {
  const start = by % items.length
  return [...items.slice(start), ...items.slice(0, start)]
}
