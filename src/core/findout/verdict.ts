import { speakMilliseconds } from '../definitions/duration'
import { BESIDE, PHASES, type Beside, type Phase } from '../observation'
import { partyOfNetwork, type Party, type PartyKind } from '../parties/parties'
import { contrast, type Contrast, type Finding } from './contrast'
import { isFail, isTimed, middles, pairsOf } from './bases'
import { nearness, OUTCOMES, regionOf, type Region } from './dimensions'
import { pick, placesOf, type Column, type Tries } from './tries'

/** How much of the excess a phase carries. */
export interface PhaseShare { phase: Phase; before: number; now: number; share: number }

/** A number measured beside the time that moves with it. */
export interface Companion { metric: string; before: number; now: number }

export interface PartyVerdict {
  name: string
  kind: PartyKind
  verdict: 'to blame' | 'cleared' | 'cannot be told'
  why: string
  contact?: string
}

export interface Verdict {
  of: 'failures' | 'times'
  /** `named`: one thing, or two together, accounts for it. `alike`: everything is affected the same. `nothing`: nothing stands out. `few`: not enough observations to say so. */
  outcome: 'named' | 'alike' | 'nothing' | 'few'
  /** What it is named by: the first, with what cannot be told apart from it. */
  named: Finding[]
  /** The second half of a combination, where two say more than one. */
  and?: Finding
  contrast: Contrast
  phases: PhaseShare[]
  companions: Companion[]
  /** The commonest reason of the failures that are named. */
  reason?: string
  parties: PartyVerdict[]
  /** Dimensions of which no value stands out. */
  ruledOut: string[]
}

const LEAST_TRIES = 20
const LEAST_FAILS = 3
/** Named only below this chance, for at least this share, and when at least this much worse than before. */
const [CERTAIN, MOST_OF_IT, WORSE] = [0.01, 0.55, 1.1]

/**
 * What sets a stretch apart from its reference. Nothing is named unless chance is below 1 % after all that was looked at,
 * it accounts for most of what is bad, and what remains without it is as before.
 * @param metric the time that is looked at when nothing fails more than before, `total` or a phase
 * @param asked by which percentile times are said; and whether why tries fail is asked: failures are looked at then also where as many fail in
 * the reference, as those of a fault that comes again do
 */
export function judge(inside: Tries, reference: Tries, metric: string, parties: readonly Party[], networks: readonly string[], { percentile = 0.5, isAboutFailures = false }: { percentile?: number; isAboutFailures?: boolean | undefined } = {}): Verdict {
  const [fails, before] = [inside, reference].map((tries) => placesOf(tries, (index) => isFail(tries, index)).length) as [number, number]
  const isFailing = fails >= LEAST_FAILS && (isAboutFailures || fails / inside.count > 2 * (before / Math.max(1, reference.count)) + 0.002)
  const of = isFailing ? 'failures' as const : 'times' as const
  const explains = inside.columns.map((column) => !OUTCOMES.includes(column.dimension as never) && isSplit(column) && (column.dimension !== 'resolver' || isInLookup(inside, reference, of, metric)) && (!VERSIONS.includes(column.dimension) || isMixed(inside, column)))
  const candidates = (tries: Tries): Tries => ({ ...tries, columns: tries.columns.filter((column, place) => !CLOCK.includes(column.dimension) && (explains[place] ?? isSplit(column))) })
  const [looked, other] = [candidates(inside), candidates(reference)]
  const values = (tries: Tries) => tries.times[metric] ?? new Float32Array(tries.count).fill(NaN)
  const found = contrast(looked, other, of, values(looked), values(other), percentile)
  const base: Verdict = { of, outcome: 'nothing', named: [], contrast: found, phases: [], companions: [], parties: [], ruledOut: [] }
  if (inside.count < LEAST_TRIES || (of === 'times' && reference.count < LEAST_TRIES)) return { ...base, outcome: 'few' }
  const [nearest] = nearestFirst(found.findings)
  const clock = nearest && accounts(nearest, found, isAboutFailures) ? undefined : byTheClock(inside, reference, of, values, percentile)
  const [own, first] = clock ? [clock.tries, clock.finding] : [looked, nearest]
  const isNamed = first !== undefined && (clock !== undefined || accounts(first, found, isAboutFailures))
  const isAlike = !isNamed && found.chance < CERTAIN && (of === 'failures' ? found.level > 0.02 : found.level >= WORSE)
  if (!isNamed && !isAlike) return { ...base, ruledOut: ruledOut(looked, found, undefined) }
  const and = isNamed && !clock ? combined(own, found, first) : undefined
  const codes = isNamed ? own.columns[first.column]!.codes : undefined
  const isHere = (index: number) => codes === undefined || (codes[index] === first!.code && (!and || own.columns[and.column]!.codes[index] === and.code))
  const bad = pick(own, placesOf(own, (index) => isHere(index) && (of === 'times' || isFail(own, index))))
  const reason = of === 'failures' ? commonest(inside, 'reason', (index) => isHere(index) && isFail(inside, index)) : undefined
  const phases = of === 'times' ? phasesOf(bad, other) : []
  const named = isNamed ? [first, ...(clock ? [] : found.findings.filter((each) => each.alias))] : []
  const verdict: Verdict = { ...base, outcome: isNamed ? 'named' : 'alike', named, ...(and ? { and } : {}), phases, companions: companionsOf(bad, other), ...(reason === undefined ? {} : { reason }), ruledOut: ruledOut(looked, found, first) }
  return { ...verdict, parties: judgeParties(verdict, inside, parties, networks) }
}

/** When something was is no cause; it is said only where nothing else accounts for it. */
const CLOCK: readonly string[] = ['hour', 'weekday']

/** The hour or the weekday on which nearly all of it falls, which makes the stretch narrower; undefined where there is none. */
function byTheClock(inside: Tries, reference: Tries, of: Verdict['of'], values: (tries: Tries) => Float32Array, percentile: number): { tries: Tries; finding: Finding } | undefined {
  const timed = (tries: Tries, isWanted: (column: Column) => boolean): Tries => ({ ...tries, columns: tries.columns.filter((column) => CLOCK.includes(column.dimension) && isWanted(column)) })
  const tries = timed(inside, isSplit)
  if (tries.columns.length === 0) return undefined
  const found = contrast(tries, timed(reference, () => true), of, values(tries), values(reference), percentile)
  const [finding] = found.findings
  return finding && accounts(finding, found) ? { tries, finding } : undefined
}

/** A version that every check has one of says no more than which check it is. */
const VERSIONS: readonly string[] = ['HTTP version', 'TLS version']

/** Whether some check has more than one value of a column. */
function isMixed({ check, count }: Tries, { codes }: Column): boolean {
  const first = new Map<number, number>()
  for (let index = 0; index < count; index += 1) {
    const code = codes[index]!
    if (code < 0) continue
    const known = first.get(check[index]!)
    if (known === undefined) first.set(check[index]!, code)
    else if (known !== code) return true
  }
  return false
}

/** Whether finding the name is what is bad: a resolver accounts for nothing else, though it stands for the same tries as its network. */
function isInLookup(inside: Tries, reference: Tries, of: Verdict['of'], metric: string): boolean {
  if (of === 'failures') return phaseOfReason(commonest(inside, 'reason', (index) => isFail(inside, index)) ?? '') === 'lookup'
  const [most] = metric === 'total' ? phasesOf(inside, reference) : []
  return metric === 'lookup' || (most?.phase === 'lookup' && most.share >= 0.5)
}

/** Whether a column tells any tries apart. */
function isSplit({ codes }: Column): boolean {
  for (let index = 1; index < codes.length; index += 1) if (codes[index] !== codes[0]) return true
  return false
}

/** Of the best finding and what cannot be told apart from it, the one nearest to a cause comes first. */
function nearestFirst(findings: Finding[]): Finding[] {
  const [best] = findings
  if (!best) return findings
  const same = [best, ...findings.filter((each) => each.alias)].sort((a, b) => nearness(a.dimension) - nearness(b.dimension))
  const [lead] = same
  if (lead !== best) {
    delete lead!.alias
    best.alias = true
  }
  return [lead!, ...findings.filter((each) => each !== lead)]
}

/** What holds for nearly all tries sets nothing apart. */
const NEARLY_ALL = 0.8

/** @param isChronic what fails as it did before accounts for it as well */
function accounts(finding: Finding, { of }: Contrast, isChronic = false): boolean {
  if (finding.tries > NEARLY_ALL * (finding.tries + finding.others)) return false
  if (finding.chance >= CERTAIN || finding.share < MOST_OF_IT || finding.gain <= 0) return false
  if (of === 'failures') {
    const [own, rest] = [finding.bad / finding.tries, finding.others === 0 ? 0 : finding.othersBad / finding.others]
    return finding.bad >= LEAST_FAILS && own > 3 * rest && (isChronic || own > (finding.reference ?? 0) + 0.02)
  }
  // what all have to wait for weighs more, set beside their own time, for those who are near: a try with it must take longer than one without it
  const [own, rest] = [finding.share / finding.tries, (1 - finding.share) / Math.max(1, finding.others)]
  return (finding.worse ?? 1) >= WORSE && own > 3 * rest
}

/** The second thing that has to hold as well, where the two together say clearly more than the first. */
function combined(tries: Tries, { of, findings }: Contrast, first: Finding): Finding | undefined {
  if (of === 'failures' && first.bad / first.tries > 0.8) return undefined
  const lead = tries.columns[first.column]!.codes
  const within = pick(tries, placesOf(tries, (index) => lead[index] === first.code))
  if (of !== 'failures' || within.count < LEAST_TRIES) return undefined
  const nested = contrast({ ...within, columns: within.columns.map((column, place) => (place === first.column ? { ...column, codes: new Int32Array(within.count).fill(-1) } : column)) }, { ...within, count: 0 }, 'failures', new Float32Array(0), new Float32Array(0))
  const [second] = nearestFirst(nested.findings)
  if (!second || second.chance >= CERTAIN || second.share < 0.8 || second.bad / second.tries < 2 * (first.bad / first.tries)) return undefined
  const known = findings.find((each) => each.column === second.column && each.code === second.code)
  return { ...(known ?? second), bad: second.bad, tries: second.tries }
}

function phasesOf(bad: Tries, reference: Tries): PhaseShare[] {
  const pairs = pairsOf(bad, reference)
  const total = bad.times.total
  if (!total) return []
  const excesses = PHASES.flatMap((phase) => {
    const [own, other] = [bad.times[phase], reference.times[phase]]
    if (!own || !other) return []
    const base = middles(reference, other, pairs.of(reference), pairs.count)
    let [sum, now, before, count] = [0, 0, 0, 0]
    for (let index = 0; index < bad.count; index += 1) {
      const expected = base[pairs.of(bad)[index]!]!
      if (!isTimed(bad, own, index) || Number.isNaN(expected)) continue
      sum += own[index]! - expected
      now += own[index]!
      before += expected
      count += 1
    }
    return count === 0 ? [] : [{ phase, sum: sum / count, now: now / count, before: before / count }]
  })
  const all = excesses.reduce((sum, each) => sum + Math.max(0, each.sum), 0)
  return excesses.map(({ phase, sum, now, before }) => ({ phase, before, now, share: all > 0 ? Math.max(0, sum / all) : 0 })).sort((a, b) => b.share - a.share)
}

/** How much more than before of what is measured beside the time is worth telling; a way that has become shorter is another way, too. */
const WORTH_TELLING: Record<Beside, (now: number, before: number) => boolean> = {
  loss: (now, before) => now > before + 0.03, rtt: (now, before) => now > 1.3 * before, resolution: (now, before) => now > 1.3 * before, hops: (now, before) => Math.abs(now - before) >= 0.5
}

/** Fewer measurements than this, now or before, say nothing. */
const LEAST_BESIDE = 4

/**
 * What was measured beside the time and moved with it: packet loss, the round trip, the resolution of the name from the root, the steps of
 * the way. Each try is set beside what the reference saw of its own check at its own location, so that far places do not look worse by
 * being far.
 */
function companionsOf(bad: Tries, reference: Tries): Companion[] {
  const pairs = pairsOf(bad, reference)
  const [own, other] = [pairs.of(bad), pairs.of(reference)]
  return BESIDE.flatMap((metric) => {
    const { sums, counts } = summed(reference.times[metric], other, pairs.count)
    const values = bad.times[metric]
    let [now, before, count] = [0, 0, 0]
    const looked = new Set<number>()
    for (let index = 0; values && index < bad.count; index += 1) {
      const pair = own[index]!
      if (Number.isNaN(values[index]!) || counts[pair] === 0) continue
      now += values[index]!
      before += sums[pair]! / counts[pair]!
      count += 1
      looked.add(pair)
    }
    const seen = [...looked].reduce((sum, pair) => sum + counts[pair]!, 0)
    return count >= LEAST_BESIDE && seen >= LEAST_BESIDE && WORTH_TELLING[metric](now / count, before / count) ? [{ metric, before: before / count, now: now / count }] : []
  })
}

/** The sum and the number of the values of each pair of check and location. */
function summed(values: Float32Array | undefined, pairs: Int32Array, count: number): { sums: Float64Array; counts: Int32Array } {
  const [sums, counts] = [new Float64Array(count), new Int32Array(count)]
  for (let index = 0; values && index < pairs.length; index += 1) {
    if (Number.isNaN(values[index]!)) continue
    sums[pairs[index]!]! += values[index]!
    counts[pairs[index]!]! += 1
  }
  return { sums, counts }
}

function commonest(tries: Tries, dimension: string, counts: (index: number) => boolean): string | undefined {
  const column = tries.columns.find((each) => each.dimension === dimension)
  if (!column) return undefined
  const found = new Int32Array(column.names.length)
  for (let index = 0; index < tries.count; index += 1) if (column.codes[index]! >= 0 && counts(index)) found[column.codes[index]!]! += 1
  const most = Math.max(...found)
  return most > 0 ? column.names[found.indexOf(most)] : undefined
}

function ruledOut(tries: Tries, { findings }: Contrast, first: Finding | undefined): string[] {
  const several = [...new Set(tries.columns.filter(isSplit).map((column) => column.dimension))]
  return several.filter((dimension) => dimension !== first?.dimension && findings.filter((each) => each.dimension === dimension).every((each) => each.nothingMore || each.chance >= CERTAIN))
}

/** The phase a failure happened in, by its reason. */
export function phaseOfReason(reason: string): Phase {
  const timed = /^timed-out-(\w+)/.exec(reason)?.[1]
  if (timed && PHASES.includes(timed as Phase)) return timed as Phase
  if (/^(name-not-found|lookup-failed|no-record)$/.test(reason)) return 'lookup'
  if (/^(connection-refused|no-answer|host-silent)$/.test(reason)) return 'connect'
  return /^(certificate|tls)/.test(reason) ? 'tls' : 'wait'
}

/** Where on the way it lies, as far as the phase tells: the phase that carries most of the excess, or in which tries failed. */
export const phaseNamed = ({ phases, reason }: Pick<Verdict, 'phases' | 'reason'>): Phase | undefined => (reason !== undefined ? phaseOfReason(reason) : phases[0] && phases[0].share >= 0.5 ? phases[0].phase : undefined)

function judgeParties(verdict: Verdict, tries: Tries, known: readonly Party[], networks: readonly string[]): PartyVerdict[] {
  const [first] = verdict.named
  const region: Region | 'everywhere' = first ? regionOf(first.dimension) : 'everywhere'
  const isNames = isOnly(tries, 'kind', 'dns')
  const phase = isNames ? 'lookup' : phaseNamed(verdict)
  const found: PartyVerdict[] = []
  const add = (kind: PartyKind, name: string, told: PartyVerdict['verdict'], why: string, party = known.find((each) => each.kind === kind)) =>
    found.push({ kind, name: party?.name ?? name, verdict: told, why, ...(party?.contact === undefined ? {} : { contact: party.contact }) })
  const spoken = phase === 'lookup' ? 'finding the name' : phase === 'connect' ? 'connecting' : phase === 'tls' ? 'TLS' : phase === 'receive' ? 'receiving the answer' : phase === undefined ? 'no single phase' : 'waiting for the answer'
  // who runs the servers and what answers on them
  if (isNames && region !== 'place') {
    add('origin', 'The origin', 'cleared', 'only names were asked for')
    add('hosting', 'The hosting', 'cleared', 'only names were asked for')
    add('name service', 'The name service', 'to blame', region === 'server' ? `${first!.value} alone is affected; the other name servers are as before` : 'names are affected from everywhere')
    return [...found, ...networksOn(networks)].sort(byBlame)
  }
  const owner = first?.dimension === 'party' ? known.find((each) => each.name === first.value) : undefined
  if (owner) {
    add(owner.kind, owner.name, 'to blame', 'what belongs to it alone is affected, seen from everywhere', owner)
    return [...found, ...networksOn(networks)].sort(byBlame)
  }
  if (region === 'server') add('origin', 'The origin', 'to blame', `${first!.value} alone is affected, seen from everywhere`)
  else if (region === 'place') add('origin', 'The origin', 'cleared', 'seen from elsewhere it is as before')
  else if (phase === 'lookup') add('origin', 'The origin', 'cleared', 'it is the name that takes the time')
  else if (phase === 'connect' || phase === 'receive' || phase === undefined) add('origin', 'The origin', 'cannot be told', `${spoken} is affected; that may be the servers or the lines to them`)
  else add('origin', 'The origin', 'to blame', `${spoken} is affected from everywhere`)
  // whoever carries it
  if (region === 'everywhere' && (phase === 'connect' || phase === 'receive')) add('hosting', 'The hosting', 'cannot be told', `${spoken} is affected from everywhere`)
  else add('hosting', 'The hosting', region === 'server' && phase === 'connect' ? 'cannot be told' : 'cleared', region === 'place' ? 'seen from elsewhere it is as before' : region === 'server' ? phase === 'connect' ? 'the server, or what carries it' : 'its other servers are as before' : `${spoken} is not its part`)
  // names
  const isMeasured = tries.times.lookup !== undefined && tries.times.lookup.some((each) => !Number.isNaN(each))
  if (phase === 'lookup') add('name service', 'The name service', region === 'place' ? 'cannot be told' : 'to blame', region === 'place' ? 'the resolver there, or the name servers as seen from there' : 'finding the name takes the time, everywhere')
  else if (isMeasured) add('name service', 'The name service', 'cleared', 'names are found as before')
  // networks on the way
  if (region === 'place') {
    const network = verdict.named.find((each) => each.dimension === 'network')?.value
    const party = network === undefined ? undefined : partyOfNetwork(known, network)
    const place = verdict.named.find((each) => each.dimension === 'location')
    found.push({ kind: party?.kind ?? 'access network', name: network ?? `The networks of ${first!.value}`, verdict: 'to blame', why: network ? `only what goes through it is affected${place ? `; its location ${place.value} cannot be told from it` : ''}` : `everything from ${first!.value} is affected`, ...(party?.contact === undefined ? {} : { contact: party.contact }) })
    if (networks.length > 1) found.push({ kind: 'transit', name: `the ${networks.length - 1} other ${networks.length === 2 ? 'network' : 'networks'}`, verdict: 'cleared', why: 'as before' })
  } else found.push(...networksOn(networks))
  return found.sort(byBlame)
}

const ORDER = { 'to blame': 0, 'cannot be told': 1, cleared: 2 }
const byBlame = (a: PartyVerdict, b: PartyVerdict) => ORDER[a.verdict] - ORDER[b.verdict]

/** What is said of the networks when the trouble is not on one of them. */
function networksOn(networks: readonly string[]): PartyVerdict[] {
  if (networks.length > 1) return [{ kind: 'access network', name: `all ${networks.length} networks`, verdict: 'cleared', why: 'the same is seen through each of them' }]
  return networks.length === 1 ? [{ kind: 'access network', name: networks[0]!, verdict: 'cannot be told', why: 'it is the only network that looks' }] : []
}

/** Whether every try has one value, as when all of them ask for names. */
function isOnly(tries: Tries, dimension: string, value: string): boolean {
  const column = tries.columns.find((each) => each.dimension === dimension)
  return column !== undefined && column.names.length === 1 && column.names[0] === value
}

export const speakTimes = (milliseconds: number): string => (Number.isNaN(milliseconds) ? '—' : speakMilliseconds(milliseconds))
