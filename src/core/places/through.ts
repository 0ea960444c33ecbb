import { selectPercentile } from '../findout/select'
import type { Tries } from '../findout/tries'
import type { Instant } from '../units'

/** How tries went: the time that three of four stay within, in milliseconds, and the share that failed. */
export interface Went { tries: number; fails: number; p75?: number }

/** One check through a network and through the others, of late and before. */
export interface ThroughRow {
  check: number
  own: { now: Went; before: Went }
  others: { now: Went; before: Went }
  /** How many times longer it takes through the network than before. */
  change?: number
  othersChange?: number
  /** Through this network it is worse than before, and through the others it is not. */
  isWorse: boolean
}

/** Fewer tries than these say nothing of a check; so many times longer is worse, while the others stay below this. */
const LEAST = 8
const [WORSE, ALIKE] = [1.3, 1.15]
const FAIL = 3

/**
 * Sets what goes through a network beside what goes through the others, check by check, of late and before. A far network is always slower:
 * only what has changed there and not elsewhere is called worse.
 * @param isOwn whether a location sits on the network
 * @param since from when on tries count as late
 */
export function through(tries: Tries, isOwn: (location: number) => boolean, since: Instant): ThroughRow[] {
  const total = tries.times.total!
  // four counts a check, each of tries, failures and times: own and others, of late and before
  const sizes = new Map<number, Int32Array>()
  const slotOf = (index: number) => (isOwn(tries.location[index]!) ? 0 : 2) + (tries.at[index]! >= since ? 0 : 1)
  for (let index = 0; index < tries.count; index += 1) {
    const own = sizes.get(tries.check[index]!) ?? new Int32Array(12)
    sizes.set(tries.check[index]!, own)
    const slot = slotOf(index)
    own[slot]! += 1
    if (tries.verdict[index] === FAIL) own[slot + 4]! += 1
    else if (!Number.isNaN(total[index]!)) own[slot + 8]! += 1
  }
  const values = new Map([...sizes].map(([check, own]) => [check, [8, 9, 10, 11].map((slot) => new Float32Array(own[slot]!))] as const))
  const filled = new Map([...sizes.keys()].map((check) => [check, new Int32Array(4)] as const))
  for (let index = 0; index < tries.count; index += 1) {
    if (tries.verdict[index] === FAIL || Number.isNaN(total[index]!)) continue
    const [slot, check] = [slotOf(index), tries.check[index]!]
    values.get(check)![slot]![filled.get(check)![slot]!++] = total[index]!
  }
  return [...sizes].map(([check, own]) => {
    const went = (slot: number): Went => {
      const p75 = own[slot]! < LEAST ? undefined : selectPercentile(values.get(check)![slot]!, 0.75)
      return { tries: own[slot]!, fails: own[slot + 4]!, ...(p75 === undefined ? {} : { p75 }) }
    }
    return judged({ check, own: { now: went(0), before: went(1) }, others: { now: went(2), before: went(3) } })
  }).sort((a, b) => Number(b.isWorse) - Number(a.isWorse) || failing(b.own.now) - failing(a.own.now) || (b.change ?? 0) - (a.change ?? 0))
}

const failing = ({ tries, fails }: Went) => (tries === 0 ? 0 : fails / tries)

function judged(row: Omit<ThroughRow, 'isWorse'>): ThroughRow {
  const ratio = ({ now, before }: ThroughRow['own']) => (now.p75 === undefined || before.p75 === undefined || before.p75 === 0 ? undefined : now.p75 / before.p75)
  const [change, othersChange] = [ratio(row.own), ratio(row.others)]
  const isSlower = change !== undefined && change > WORSE && (othersChange ?? 1) < ALIKE
  const isFailing = row.own.now.fails >= 2 && failing(row.own.now) > failing(row.own.before) + 0.05 && failing(row.own.now) > 3 * failing(row.others.now)
  return { ...row, ...(change === undefined ? {} : { change }), ...(othersChange === undefined ? {} : { othersChange }), isWorse: isSlower || isFailing }
}

/** The conclusion, as one sentence. */
export function speakThrough(network: string, rows: readonly ThroughRow[]): string {
  const known = rows.filter(({ own }) => own.now.tries >= LEAST)
  const worse = known.filter((each) => each.isWorse)
  if (known.length === 0) return `Too little was tried through ${network} in the last hour to say how it is.`
  if (worse.length === 0) return `Through ${network} nothing is worse than in the day before that is not worse elsewhere.`
  const failed = worse.filter(({ own }) => failing(own.now) > 0.05).length
  const what = failed === worse.length ? 'fail' : failed === 0 ? 'are slower' : 'are slower or fail'
  return `${worse.length} of ${known.length} checks ${what} through ${network}, and not elsewhere.`
}
