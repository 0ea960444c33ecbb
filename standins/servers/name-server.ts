import dgram from 'node:dgram'
import net, { type AddressInfo } from 'node:net'
import packet, { type Answer, type Packet } from 'dns-packet'
import type { Drill } from '../world/faults'
import { PLACES } from '../world/places'
import { GLUE, ZONES, type Zone } from '../world/zones'

/** The resolvers of the networks of the world. */
const RESOLVERS = [...new Set(PLACES.map((place) => place.resolver))]
/** How long the slow name server of its drill takes, in milliseconds. */
const SLOW = 900

interface Named {
  answers: Answer[]
  authorities: Answer[]
  code: number
  isAuthoritative: boolean
}

/**
 * The name servers of the world: one resolver that knows every zone, and the servers of each zone, which answer for their
 * own and refer to those below. Each answers over UDP and TCP on a loopback port of its own.
 * @returns loopback ports by `address:53/udp` and `address:53`
 */
export async function startNameServers(has: (drill: Drill) => boolean): Promise<Record<string, number>> {
  const ports: Record<string, number> = {}
  const addresses = new Map<string, Zone[]>()
  for (const zone of ZONES) for (const { address } of zone.servers) addresses.set(address, [...(addresses.get(address) ?? []), zone])
  let turn = 0
  const serve = async (address: string, answer: (name: string, type: string) => Named) => {
    const reply = (message: Buffer): { bytes: Buffer; after: number } | undefined => {
      const found = respond(message, RESOLVERS.includes(address), answer, () => turn++)
      return found && { bytes: found, after: address === '192.0.2.62' && has('slow-name-server') ? SLOW : 0 }
    }
    ports[`${address}:53/udp`] = await serveUdp(reply)
    ports[`${address}:53`] = await serveTcp(reply)
  }
  for (const resolver of RESOLVERS) await serve(resolver, resolve)
  for (const [address, zones] of addresses) await serve(address, (name, type) => authoritative(zones, name, type))
  return ports
}

const isWithin = (name: string, zone: string) => zone === '.' || name === zone || name.endsWith(`.${zone}`)
const zoneOf = (name: string, zones: Zone[]) => zones.filter((zone) => isWithin(name, zone.name)).sort((a, b) => b.name.length - a.name.length)[0]

/** The records of a name in some zones, aliases followed. */
function lookUp(name: string, type: string, records: Answer[]): Answer[] {
  const own = records.filter((record) => record.name === name)
  const wanted = own.filter((record) => record.type === type)
  if (wanted.length > 0) return wanted
  const alias = own.find((record) => record.type === 'CNAME')
  return alias ? [alias, ...lookUp(String((alias as { data: unknown }).data), type, records)] : []
}

function resolve(name: string, type: string): Named {
  const records = [...ZONES.flatMap((zone) => zone.records), ...GLUE]
  return { answers: lookUp(name, type, records), authorities: [], code: records.some((record) => record.name === name) ? 0 : 3, isAuthoritative: false }
}

function authoritative(zones: Zone[], name: string, type: string): Named {
  const zone = zoneOf(name, zones)
  if (!zone) return { answers: [], authorities: [], code: 5, isAuthoritative: false }
  const [child] = ZONES.filter((each) => each.name !== zone.name && isWithin(each.name, zone.name) && isWithin(name, each.name)).sort((a, b) => a.name.length - b.name.length)
  if (child) return { answers: [], authorities: child.records.filter((record) => record.type === 'NS' && record.name === child.name), code: 0, isAuthoritative: false }
  const answers = lookUp(name, type, zone.records)
  const exists = zone.records.some((record) => record.name === name || record.name.endsWith(`.${name}`))
  return { answers, authorities: answers.length > 0 ? [] : zone.records.filter((record) => record.type === 'SOA'), code: exists ? 0 : 3, isAuthoritative: true }
}

function respond(message: Buffer, isResolver: boolean, answer: (name: string, type: string) => Named, turn: () => number): Buffer | undefined {
  let query: Packet
  try {
    query = packet.decode(message)
  } catch {
    return undefined
  }
  const question = query.questions?.[0]
  if (!question) return undefined
  const { answers, authorities, code, isAuthoritative } = answer(question.name.toLowerCase(), question.type)
  const named = new Set([...answers, ...authorities].map((record) => String((record as { data: unknown }).data)))
  return packet.encode({
    type: 'response', id: query.id ?? 0, questions: [question], answers: rotate(answers, turn()), authorities, additionals: GLUE.filter((record) => named.has(record.name)),
    flags: packet.RECURSION_DESIRED | (isResolver ? packet.RECURSION_AVAILABLE : 0) | (isAuthoritative ? packet.AUTHORITATIVE_ANSWER : 0) | code
  })
}

type Reply = (message: Buffer) => { bytes: Buffer; after: number } | undefined

function serveUdp(reply: Reply): Promise<number> {
  const socket = dgram.createSocket('udp4')
  socket.on('message', (message, peer) => {
    const found = reply(message)
    if (found) setTimeout(() => socket.send(found.bytes, peer.port, peer.address), found.after)
  })
  return new Promise((done) => socket.bind(0, '127.0.0.1', () => done(socket.address().port)))
}

function serveTcp(reply: Reply): Promise<number> {
  const server = net.createServer((socket) => {
    let held = Buffer.alloc(0)
    socket.on('error', () => undefined)
    socket.on('data', (chunk) => {
      held = Buffer.concat([held, chunk])
      while (held.length >= 2 && held.length >= 2 + held.readUInt16BE()) {
        const found = reply(held.subarray(2, 2 + held.readUInt16BE()))
        held = held.subarray(2 + held.readUInt16BE())
        if (!found) return socket.destroy()
        const length = Buffer.alloc(2)
        length.writeUInt16BE(found.bytes.length)
        setTimeout(() => socket.write(Buffer.concat([length, found.bytes])), found.after)
      }
      return undefined
    })
  })
  return new Promise((done) => server.listen(0, '127.0.0.1', () => done((server.address() as AddressInfo).port)))
}

/** Several addresses come in another order each time; an alias stays before what it leads to. */
function rotate(answers: Answer[], by: number): Answer[] {
  const aliases = answers.filter((record) => record.type === 'CNAME')
  const rest = answers.filter((record) => record.type !== 'CNAME')
  const start = rest.length > 0 ? by % rest.length : 0
  return [...aliases, ...rest.slice(start), ...rest.slice(0, start)]
}
