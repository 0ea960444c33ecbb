import type { DecodedPacket } from 'dns-packet'
import type { EvidenceTable } from '../../core/observation'
import type { Trying } from '../attempt/attempt'
import { TryFailure } from '../attempt/failure'
import { guard } from '../attempt/open'
import { LinkError, type Link } from '../link'
import { askOverUdp, type Question } from './ask'
import { codeOf, plainName, recordText, valuesIn } from './records'

/** Servers of a zone that are asked, and steps and aliases that are followed. */
const SERVERS_MOST = 4
const STEPS_MOST = 20
const ALIASES_MOST = 8
/** How long one server may take before the next one counts, in milliseconds. */
const PATIENCE = 2500

interface Server {
  name: string
  address: string
}

interface Asked extends Server {
  ms: number
  answer?: DecodedPacket
  error?: string
}

export interface Walked {
  packet: DecodedPacket
  aliases: string[]
  /** What a resolver without any memory would have needed, in milliseconds. */
  took: number
  steps: number
  /** Servers of the last zone that answer something else, and servers on the way that do not answer. */
  disagreeing: number
  silent: number
}

/**
 * Asks for a name as a resolver with an empty memory does: from the root down, the servers of every zone on the way
 * (RFC 1034, section 5.3.3). Of every zone up to four servers are asked at once; the time of the walk is that of one of
 * them, chosen at random, as a resolver would. Every one asked is a row of the evidence; the chosen one that took longest
 * is the server of the try.
 */
export async function walk(trying: Trying, question: Question): Promise<Walked> {
  const table: EvidenceTable = {
    title: 'Step by step from the root',
    columns: [{ name: 'zone', as: 'code' }, { name: 'server', as: 'code' }, { name: 'address', as: 'code' }, { name: 'took', as: 'time' }, { name: 'answer' }], rows: []
  }
  trying.evidence.tables = [table]
  const roots = await rootServers(trying)
  let name = question.name
  let servers = roots
  let zone = '.'
  let took = 0
  let slowest = -1
  let silent = 0
  const aliases: string[] = []
  for (let step = 1; step <= STEPS_MOST; step += 1) {
    const asked = await askAll(trying, servers, { ...question, name })
    for (const each of asked) table.rows.push([zone, each.name, each.address, each.error === 'silent' ? null : each.ms, said(each, name, question.type)])
    silent += asked.filter((each) => each.error === 'silent').length
    const used = chosen(asked)
    took += used.waited
    // the server that took most of the walk's time is the one it is told apart by
    if (used.name !== undefined && used.waited > slowest) {
      slowest = used.waited
      trying.noted.server = used.name
    }
    const { answer } = used
    if (!answer) throw new TryFailure('no-answer', `none of the servers of ${zone} gives an answer: ${asked.map((each) => `${each.name} ${each.error === 'silent' ? 'is silent' : each.error ?? codeOf(each.answer!)}`).join('; ')}`)
    const found = valuesIn(answer, name, question.type)
    if (found.values.length > 0 || codeOf(answer) === 'NXDOMAIN') {
      const disagreeing = asked.filter((each) => each.answer && outcome(each.answer, name, question.type) !== outcome(answer, name, question.type)).length
      return { packet: answer, aliases: [...aliases, ...found.aliases], took, steps: step, disagreeing, silent }
    }
    if (found.aliases.length > 0) {
      aliases.push(...found.aliases)
      if (aliases.length > ALIASES_MOST) throw new TryFailure('bad-answer', `the aliases of ${question.name} lead on and on: ${aliases.slice(0, 4).join(', ')} …`)
      name = found.last
      servers = roots
      zone = '.'
      continue
    }
    const referral = referralIn(answer, zone)
    if (!referral) return { packet: answer, aliases, took, steps: step, disagreeing: 0, silent }
    zone = referral.zone
    servers = await addressesFor(trying, referral.servers, answer)
    if (servers.length === 0) throw new TryFailure('server-failed', `the zone ${zone} names servers that have no address: ${referral.servers.join(', ')}`)
  }
  throw new TryFailure('bad-answer', `after ${STEPS_MOST} steps there is no answer: the delegation runs in a circle`)
}

/** The servers of the root, as the location's resolver names them (RFC 8109). */
async function rootServers(trying: Trying): Promise<Server[]> {
  const resolver = trying.link.resolver()
  trying.begin('lookup')
  const answer = await askOverUdp(trying.link, resolver, 53, { name: '.', type: 'NS', recursive: true, dnssec: false }, trying.signal)
  const names = (answer.answers ?? []).filter((record) => record.type === 'NS').map(recordText)
  const servers = await addressesFor(trying, shuffled(names), answer)
  trying.clock.stop()
  if (servers.length === 0) throw new TryFailure('lookup-failed', `the resolver at ${resolver} does not say which servers the root has`)
  return servers
}

/** Addresses of some servers: from the same answer where it brings them, looked up otherwise. */
async function addressesFor(trying: Trying, names: string[], { additionals = [] }: DecodedPacket): Promise<Server[]> {
  const servers: Server[] = []
  for (const name of names.slice(0, SERVERS_MOST)) {
    const glue = additionals.find((record) => record.type === 'A' && plainName(record.name) === plainName(name))
    const address = glue ? recordText(glue) : await trying.link.lookup(name, 4, trying.signal).then((found) => found.addresses[0], (error: unknown) => {
      if (error instanceof LinkError && error.fault === 'aborted') throw error
      return undefined
    })
    if (address !== undefined) servers.push({ name: plainName(name), address })
  }
  return servers
}

/** Asks some servers at once; none rejects. */
async function askAll(trying: Trying, servers: Server[], question: Question): Promise<Asked[]> {
  return Promise.all(servers.map(async (server): Promise<Asked> => {
    const started = performance.now()
    try {
      guard(server.address, trying.link)
      const answer = await within(trying.link, server.address, question, trying.signal)
      const ms = performance.now() - started
      const code = codeOf(answer)
      return code === 'NOERROR' || code === 'NXDOMAIN' ? { ...server, ms, answer } : { ...server, ms, error: code }
    } catch (error) {
      const ms = performance.now() - started
      if (trying.signal.aborted) throw error
      return { ...server, ms, error: error instanceof TryFailure && error.reason === 'no-answer' ? 'silent' : (error as Error).message }
    }
  }))
}

async function within(link: Link, address: string, question: Question, signal: AbortSignal): Promise<DecodedPacket> {
  const patience = AbortSignal.any([signal, AbortSignal.timeout(PATIENCE)])
  return askOverUdp(link, address, 53, question, patience)
}

/** The server whose answer counts: one at random, and while one does not help, the next, with the time waited for it. */
function chosen(asked: Asked[]): { answer?: DecodedPacket; waited: number; name?: string } {
  let waited = 0
  for (const each of shuffled(asked)) {
    waited += each.ms
    if (each.answer) return { answer: each.answer, waited, name: each.name }
  }
  return { waited }
}

function referralIn({ authorities = [] }: DecodedPacket, zone: string): { zone: string; servers: string[] } | undefined {
  const records = authorities.filter((record) => record.type === 'NS')
  const next = records[0] && plainName(records[0].name)
  const isBelow = next !== undefined && next !== plainName(zone) && (zone === '.' || next.endsWith(`.${plainName(zone)}`))
  return isBelow ? { zone: next, servers: shuffled(records.map(recordText)) } : undefined
}

/** What an answer comes to, for comparing servers of one zone. */
function outcome(answer: DecodedPacket, name: string, type: string): string {
  return `${codeOf(answer)} ${valuesIn(answer, name, type).values.sort().join(' ')}`
}

function said({ answer, error }: Asked, name: string, type: string): string {
  if (error === 'silent') return 'no answer'
  if (error !== undefined) return error
  if (!answer) return ''
  const { values, aliases } = valuesIn(answer, name, type)
  if (values.length > 0) return values.slice(0, 4).join(', ')
  if (aliases.length > 0) return `is an alias of ${aliases.at(-1)!}`
  if (codeOf(answer) === 'NXDOMAIN') return 'the name does not exist'
  const next = (answer.authorities ?? []).find((record) => record.type === 'NS')
  return next ? `ask the servers of ${plainName(next.name)}` : `no ${type} record`
}

function shuffled<Item>(items: Item[]): Item[] {
  return items.map((item) => ({ item, order: Math.random() })).sort((a, b) => a.order - b.order).map(({ item }) => item)
}
