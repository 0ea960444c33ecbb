import { isFail, isTimed, leanings, middles, pairsOf } from './bases'
import { BINS, cellsOf, groupsOf, groupSums, type Group } from './groups'
import { meanBin, ratioAt, ratioBins, referenceBins } from './ratio-bins'
import { adjusted, fisherExact, likelihoodGain, rankTest, shareAbove } from './statistics'
import type { Column, Tries } from './tries'

// looked up once: they are called for every try
const { isNaN: isMissing } = Number
const { floor, max, min } = Math

/** One thing that some of the bad tries have in common, and how far it accounts for what is bad. */
export interface Finding {
  dimension: string
  value: string
  /** Tries of the stretch with it, and without. */
  tries: number
  others: number
  /** Failures: how many of them. Times: the percentile that was asked for of what they took, in milliseconds. */
  bad: number
  othersBad: number
  /** Times: how many times longer its tries take on average than they did. */
  worse?: number
  /** Before, or wherever the reference lies: the failing share, or the middle time. */
  reference?: number
  /** Share of everything bad that falls on it, 0 to 1. */
  share: number
  /** How unlikely this is by chance, adjusted for all that was looked at. */
  chance: number
  /** How much better the bad tries are understood by splitting here. */
  gain: number
  /** It stands for exactly these tries of the stretch. */
  column: number
  code: number
  /** Told apart from the one above by nothing. */
  alias?: boolean
  /** Once the first finding is set aside, it says nothing more. */
  nothingMore?: boolean
}

export interface Contrast {
  of: 'failures' | 'times'
  /** Bad tries of the stretch, or tries with a time; and all of it. */
  bad: number
  all: number
  /** The failing share or the middle ratio to the reference, in the stretch and outside of it. */
  level: number
  referenceLevel: number
  /** How unlikely it is by chance that the stretch differs from its reference at all. */
  chance: number
  /** Best first. */
  findings: Finding[]
}

const MOST_FINDINGS = 40
const WITH_TIMES = 12


/**
 * Sets failing tries beside passing ones, or slow beside quick: everything by which they can be told apart is looked at.
 * @param percentile the one by which times of findings are said, 0 to 1
 */
export function contrast(inside: Tries, reference: Tries, of: 'failures' | 'times', values: Float32Array, referenceValues: Float32Array, percentile = 0.5): Contrast {
  return of === 'failures' ? contrastFailures(inside, reference) : contrastTimes(inside, reference, values, referenceValues, percentile)
}

function contrastFailures(inside: Tries, reference: Tries): Contrast {
  const pairs = pairsOf(inside)
  const cells = cellsOf(inside)
  const whole = groupsOf(inside, { dimension: '', codes: new Int32Array(inside.count), names: [''] }, 0, pairs.of(inside), pairs.count, cells, (index) => (isFail(inside, index) ? 1 : 0))[0]
  const before = countFails(reference)
  if (!whole || whole.bad === 0) return { of: 'failures', bad: 0, all: inside.count, level: 0, referenceLevel: before / max(1, reference.count), chance: 1, findings: [] }
  const every = inside.columns.flatMap((column, place) => groupsOf(inside, column, place, pairs.of(inside), pairs.count, cells, (index) => (isFail(inside, index) ? 1 : 0)))
  const groups = every.filter((group) => group.bad > 0 && group.n < inside.count)
  const chances = adjusted(groups.map((group) => fisherExact(group.badCells, group.goodCells, besides(every, whole, group, 'badCells'), besides(every, whole, group, 'goodCells'))))
  const referenceShare = shareOfFails(reference)
  const findings = groups.map((group, index): Finding => ({
    dimension: inside.columns[group.column]!.dimension, value: inside.columns[group.column]!.names[group.code]!, tries: group.n, others: inside.count - group.n, bad: group.bad, othersBad: whole.bad - group.bad,
    ...referenceShare(inside.columns[group.column]!, group.code), share: group.bad / whole.bad, chance: chances[index]!,
    gain: group.bad / group.n > whole.bad / inside.count ? likelihoodGain(group.bad, group.n, whole.bad - group.bad, inside.count - group.n) : 0, column: group.column, code: group.code
  }))
  const referenceLevel = before / max(1, reference.count)
  return {
    of: 'failures', bad: whole.bad, all: inside.count, level: whole.bad / inside.count, referenceLevel,
    chance: reference.count === 0 ? (whole.badCells >= 3 ? 0 : 1) : fisherExact(whole.badCells, whole.goodCells, ...episodesOf(reference)), findings: ranked(inside, findings, (index) => (isFail(inside, index) ? 1 : 0))
  }
}

/**
 * How many episodes the other tries make. One episode may hold several values of a column, a server after another one, so
 * that those of the others are counted by themselves; of what has no value they are what is left of all.
 */
function besides(groups: readonly Group[], whole: Group, { column, code, ...own }: Group, field: 'cells' | 'badCells' | 'goodCells'): number {
  const others = groups.reduce((sum, each) => (each.column === column && each.code !== code ? sum + each[field] : sum), 0)
  return min(whole[field], max(whole[field] - own[field], others))
}

function countFails(tries: Tries): number {
  let fails = 0
  for (let index = 0; index < tries.count; index += 1) if (isFail(tries, index)) fails += 1
  return fails
}

function episodesOf(tries: Tries): [number, number] {
  const pairs = pairsOf(tries)
  const whole = groupsOf(tries, { dimension: '', codes: new Int32Array(tries.count), names: [''] }, 0, pairs.of(tries), pairs.count, cellsOf(tries), (index) => (isFail(tries, index) ? 1 : 0))[0]
  return whole ? [whole.badCells, whole.goodCells] : [0, 0]
}

/** The failing share of a value in the reference. */
function shareOfFails(reference: Tries): (column: Column, code: number) => { reference?: number } {
  const known = new Map<string, Map<string, { n: number; bad: number }>>()
  return ({ dimension, names }, code) => {
    let found = known.get(dimension)
    if (!found) {
      found = new Map()
      for (const column of reference.columns.filter((each) => each.dimension === dimension)) {
        const counts = column.names.map(() => ({ n: 0, bad: 0 }))
        for (let index = 0; index < reference.count; index += 1) {
          const own = column.codes[index]!
          if (own < 0) continue
          counts[own]!.n += 1
          if (isFail(reference, index)) counts[own]!.bad += 1
        }
        column.names.forEach((name, place) => found!.set(name, counts[place]!))
      }
      known.set(dimension, found)
    }
    const own = found.get(names[code]!)
    return own && own.n > 0 ? { reference: own.bad / own.n } : {}
  }
}

function contrastTimes(inside: Tries, reference: Tries, values: Float32Array, referenceValues: Float32Array, percentile: number): Contrast {
  const pairs = pairsOf(inside, reference)
  const own = pairs.of(inside)
  const base = middles(reference, referenceValues, pairs.of(reference), pairs.count)
  const lean = leanings(reference, referenceValues, pairs.of(reference), base)
  const excess = new Float64Array(inside.count).fill(NaN)
  for (let index = 0; index < inside.count; index += 1) {
    const expected = base[own[index]!]!
    if (isTimed(inside, values, index) && !isMissing(expected)) excess[index] = values[index]! - expected - lean[own[index]!]!
  }
  const bins = ratioBins(inside, values, own, base, excess)
  const cells = cellsOf(inside)
  const amount = (index: number) => excess[index]!
  const whole = groupsOf(inside, { dimension: '', codes: new Int32Array(inside.count), names: [''] }, 0, own, pairs.count, cells, amount, bins)[0]
  if (!whole) return { of: 'times', bad: 0, all: inside.count, level: 1, referenceLevel: 1, chance: 1, findings: [] }
  const every = inside.columns.flatMap((column, place) => groupsOf(inside, column, place, own, pairs.count, cells, amount, bins))
  const groups = every.filter((group) => group.n < whole.n && group.n >= 5)
  const outside = groups.map((group) => Float64Array.from(whole.bins!, (count, bin) => count - group.bins![bin]!))
  const shares = groups.map((group, index) => shareAbove(group.bins!, outside[index]!))
  const chances = adjusted(groups.map((group, index) => rankTest(shares[index]!, group.cells, max(1, besides(every, whole, group, 'cells')))))
  const total = max(whole.sum, groups.reduce((most, group) => max(most, group.sum), 0))
  const expected = (index: number) => base[own[index]!]!
  const expectedOf = groupSums(inside, excess, expected)
  const worseOf = ({ column, code, sum }: Group) => { const before = expectedOf(column, code); return before > 0 ? 1 + sum / before : 1 }
  const findings = groups.map((group, index): Finding => {
    const column = inside.columns[group.column]!
    const [mean, rest] = [group.sum / group.n, (whole.sum - group.sum) / (whole.n - group.n)]
    return {
      dimension: column.dimension, value: column.names[group.code]!, tries: group.n, others: whole.n - group.n,
      bad: NaN, othersBad: NaN, worse: worseOf(group), share: total > 0 ? max(0, group.sum / total) : 0, chance: shares[index]! > 0.5 ? chances[index]! : 1,
      gain: mean > rest ? (group.n * (whole.n - group.n) / whole.n) * (meanBin(group.bins!) - meanBin(outside[index]!)) ** 2 : 0, column: group.column, code: group.code
    }
  })
  const flat = new Float64Array(BINS)
  const [ownBins, ownCells] = referenceBins(reference, referenceValues, pairs.of(reference), base)
  flat.set(ownBins)
  const order = ranked(inside, findings, amount)
  // middle times cost a sort each, and only what is shown needs them
  for (const finding of order.slice(0, WITH_TIMES)) {
    const { codes } = inside.columns[finding.column]!
    finding.bad = percentileAt(inside, values, percentile, (place) => codes[place] === finding.code && !isMissing(excess[place]!))
    finding.othersBad = percentileAt(inside, values, percentile, (place) => codes[place] !== finding.code && !isMissing(excess[place]!))
    Object.assign(finding, referencePercentile(reference, referenceValues, percentile, inside.columns[finding.column]!, finding.code))
  }
  return {
    of: 'times', bad: whole.n, all: inside.count, level: ratioAt(whole.bins!), referenceLevel: ratioAt(flat), chance: rankTest(shareAbove(whole.bins!, flat), whole.cells, ownCells), findings: order
  }
}

const LOOKED_AT = 20_000

/** A percentile of times; of very many tries, of every so-manieth. */
function percentileAt(tries: Tries, values: Float32Array, share: number, counts: (index: number) => boolean): number {
  const step = max(1, floor(tries.count / LOOKED_AT))
  const found = new Float32Array(Math.ceil(tries.count / step))
  let count = 0
  for (let index = 0; index < tries.count; index += step) if (counts(index)) found[count++] = values[index]!
  return count === 0 ? NaN : found.subarray(0, count).sort()[max(0, Math.ceil(share * count) - 1)]!
}

function referencePercentile(reference: Tries, values: Float32Array, share: number, { dimension, names }: Column, code: number): { reference?: number } {
  for (const column of reference.columns) {
    if (column.dimension !== dimension) continue
    const place = column.names.indexOf(names[code]!)
    if (place < 0) continue
    const found = percentileAt(reference, values, share, (index) => column.codes[index] === place && isTimed(reference, values, index))
    if (!isMissing(found)) return { reference: found }
  }
  return {}
}

/** Puts findings in their order and says which of them are the same tries under another name, or say nothing more. */
function ranked(tries: Tries, findings: Finding[], amount: (index: number) => number): Finding[] {
  const order = findings.sort((a, b) => b.gain - a.gain || a.chance - b.chance).slice(0, MOST_FINDINGS)
  const [first] = order
  if (!first) return order
  const step = max(1, floor(tries.count / LOOKED_AT))
  const lead = tries.columns[first.column]!.codes
  for (const each of order.slice(1)) {
    const { codes } = tries.columns[each.column]!
    let [both, either, more, moreAll, rest, restAll] = [0, 0, 0, 0, 0, 0]
    for (let index = 0; index < tries.count; index += step) {
      const [a, b] = [lead[index] === first.code, codes[index] === each.code]
      if (a && b) both += 1
      if (a || b) either += 1
      if (a) continue
      const bad = amount(index)
      if (isMissing(bad)) continue
      if (b) { more += bad; moreAll += 1 } else { rest += bad; restAll += 1 }
    }
    if (either > 0 && both / either > 0.98) each.alias = true
    // outside of the first, is it any worse than everything else?
    else if (moreAll === 0 || more / moreAll <= max(2 * (restAll === 0 ? 0 : rest / restAll), 0.1 * (first.share > 0 ? meanOf(tries, first, amount) : 0))) each.nothingMore = true
  }
  return order
}

function meanOf(tries: Tries, { column, code }: Finding, amount: (index: number) => number): number {
  const { codes } = tries.columns[column]!
  let [sum, count] = [0, 0]
  for (let index = 0; index < tries.count; index += 1) {
    const bad = amount(index)
    if (codes[index] !== code || isMissing(bad)) continue
    sum += bad
    count += 1
  }
  return count === 0 ? 0 : sum / count
}
