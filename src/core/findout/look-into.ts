import type { Party } from '../parties/parties'
import type { Tries } from './tries'
import { judge, type Verdict } from './verdict'

/** Tries to look into: plain numbers and texts, so that they can be handed to another thread. */
export interface ToLookInto {
  inside: Tries
  reference: Tries
  /** The time that is looked at when nothing fails more than before, `total` or a phase. */
  metric: string
  /** By which times are said, 0 to 1. */
  percentile: number
  /** Why tries fail is asked, not why they take longer. */
  isAboutFailures?: boolean
  parties: Party[]
}

export interface LookedInto {
  verdict: Verdict
  /** The server that gives the answers of an address, where it is always the same one. */
  servers: Map<string, string>
  /** The commonest status of the failures that are named. */
  status?: string
}

/** What sets tries apart from others, with what it takes to say it. */
export function lookInto({ inside, reference, metric, percentile, isAboutFailures, parties }: ToLookInto): LookedInto {
  const networks = [...new Set([inside, reference].flatMap((tries) => columnOf(tries, 'network')?.names ?? []))]
  const verdict = judge(inside, reference, metric, parties, networks, { percentile, isAboutFailures })
  const status = statusOf(inside, verdict)
  return { verdict, servers: serversOf([inside, reference]), ...(status === undefined ? {} : { status }) }
}

const columnOf = (tries: Tries, dimension: string) => tries.columns.find((each) => each.dimension === dimension)

function serversOf(all: Tries[]): Map<string, string> {
  const found = new Map<string, Set<string>>()
  for (const tries of all) {
    const [address, server] = [columnOf(tries, 'address'), columnOf(tries, 'server')]
    for (let index = 0; address && server && index < tries.count; index += 1) {
      if (address.codes[index]! < 0 || server.codes[index]! < 0) continue
      const key = address.names[address.codes[index]!]!
      const known = found.get(key)
      if (known) known.add(server.names[server.codes[index]!]!)
      else found.set(key, new Set([server.names[server.codes[index]!]!]))
    }
  }
  return new Map([...found].flatMap(([key, names]) => (names.size === 1 ? [[key, [...names][0]!] as const] : [])))
}

function statusOf(inside: Tries, { named: [first] }: Verdict): string | undefined {
  const column = columnOf(inside, 'status')
  const lead = first && inside.columns.find((each) => each.dimension === first.dimension && each.names.includes(first.value))
  const code = first && lead?.names.indexOf(first.value)
  const counts = new Map<string, number>()
  for (let index = 0; column && index < inside.count; index += 1) {
    if (inside.verdict[index] !== FAIL || column.codes[index]! < 0 || (lead && lead.codes[index] !== code)) continue
    const name = column.names[column.codes[index]!]!
    counts.set(name, (counts.get(name) ?? 0) + 1)
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0]
}

const FAIL = 3

/** The memory tries lie in, for handing it over instead of copying it; whoever hands it over has it no more. */
export const memoryOf = (...all: Tries[]): ArrayBuffer[] => [...new Set(all.flatMap((tries) => [tries.at, tries.check, tries.location, tries.verdict, ...Object.values(tries.times), ...tries.columns.map((each) => each.codes)].map((each) => each.buffer as ArrayBuffer)))]
