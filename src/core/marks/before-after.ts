import { emptySketch, mergeInto, percentile, type Sketch } from '../sketches/sketch'
import { fisherExact } from '../findout/statistics'
import type { Milliseconds } from '../units'

/** What was seen at one location in one stretch of some minutes: tries next to each other are not independent, so a stretch counts once. */
export interface Block { location: number; sketch: Sketch; tries: number; fails: number }

export type Change = 'faster' | 'slower' | 'no difference' | 'too few'

/** Two middles and the range in which their difference lies, in milliseconds. */
export interface Compared {
  change: Change
  before?: Milliseconds
  after?: Milliseconds
  /** After minus before: the middle 95 % of the bootstrap. */
  low?: Milliseconds
  high?: Milliseconds
}

export interface BeforeAfter extends Compared {
  locations: ({ location: number } & Compared)[]
  failing: { before: number; after: number; change: 'more' | 'fewer' | 'no difference' | 'too few' }
  tries: { before: number; after: number }
}

/** Fewer blocks or tries on either side than this say nothing. */
const [LEAST_BLOCKS, LEAST_TRIES] = [6, 60]
const REPLICATES = 400

/**
 * Compares the times before and after a moment: the difference of the medians with the middle 95 % of a bootstrap over
 * blocks (B. Efron, 1979), drawn within each location. A difference counts when that range leaves out zero and is worth
 * 2 % of what it was at least.
 * @param random from 0 to 1
 */
export function beforeAfter(before: readonly Block[], after: readonly Block[], random: () => number): BeforeAfter {
  const locations = [...new Set([...before, ...after].map((each) => each.location))].sort((a, b) => a - b)
  const of = (blocks: readonly Block[], location: number) => blocks.filter((each) => each.location === location)
  // what is seen from one side only cannot be compared
  const both = locations.filter((location) => of(before, location).length >= 2 && of(after, location).length >= 2)
  const [old, fresh] = [both.map((location) => of(before, location)), both.map((location) => of(after, location))]
  return {
    ...compare(old, fresh, random), failing: failing(before, after), tries: { before: sum(before, 'tries'), after: sum(after, 'tries') },
    locations: locations.map((location) => ({ location, ...compare([of(before, location)], [of(after, location)], random) }))
  }
}

const sum = (blocks: readonly Block[], field: 'tries' | 'fails') => blocks.reduce((all, each) => all + each[field], 0)

function compare(before: readonly Block[][], after: readonly Block[][], random: () => number): Compared {
  const enough = (groups: readonly Block[][]) => groups.flat().length >= LEAST_BLOCKS && sum(groups.flat(), 'tries') >= LEAST_TRIES
  if (!enough(before) || !enough(after)) return { change: 'too few' }
  const dense = new Dense([...before, ...after].flat())
  const [was, is] = [dense.median(before), dense.median(after)]
  if (was === undefined || is === undefined) return { change: 'too few' }
  const differences = Float64Array.from({ length: REPLICATES }, () => (dense.median(after, random) ?? is) - (dense.median(before, random) ?? was)).sort()
  const [low, high] = [differences[Math.floor(0.025 * REPLICATES)]!, differences[Math.ceil(0.975 * REPLICATES) - 1]!]
  const isWorth = Math.abs(is - was) >= 0.02 * was
  return { change: !isWorth || (low <= 0 && high >= 0) ? 'no difference' : is < was ? 'faster' : 'slower', before: was, after: is, low, high }
}

/** Sketches in arrays, so that hundreds of draws cost little. */
class Dense {
  private readonly buckets: number[]
  private readonly counts = new Map<Block, Float64Array>()

  constructor(blocks: readonly Block[]) {
    const all = emptySketch()
    for (const block of blocks) mergeInto(all, block.sketch)
    this.buckets = [...all.counts.keys()].sort((a, b) => a - b)
    const place = new Map(this.buckets.map((bucket, index) => [bucket, index]))
    for (const block of blocks) {
      const own = new Float64Array(this.buckets.length)
      for (const [bucket, count] of block.sketch.counts) own[place.get(bucket)!] = count
      this.counts.set(block, own)
    }
  }

  /** The median of all blocks, or of as many drawn with replacement within each group, in milliseconds. */
  median(groups: readonly Block[][], random?: () => number): Milliseconds | undefined {
    const merged = new Float64Array(this.buckets.length)
    for (const group of groups) {
      for (let index = 0; index < group.length; index += 1) {
        const own = this.counts.get(random ? group[Math.floor(random() * group.length)]! : group[index]!)!
        for (let bucket = 0; bucket < own.length; bucket += 1) merged[bucket]! += own[bucket]!
      }
    }
    const sketch: Sketch = { counts: new Map(), total: 0 }
    merged.forEach((count, index) => {
      if (count === 0) return
      sketch.counts.set(this.buckets[index]!, count)
      sketch.total += count
    })
    const found = percentile(sketch, 0.5)
    return found === undefined ? undefined : found / 1000
  }
}

function failing(before: readonly Block[], after: readonly Block[]): BeforeAfter['failing'] {
  const share = (blocks: readonly Block[]) => sum(blocks, 'fails') / Math.max(1, sum(blocks, 'tries'))
  const bad = (blocks: readonly Block[]) => blocks.filter((each) => each.fails > 0).length
  if (before.length < LEAST_BLOCKS || after.length < LEAST_BLOCKS) return { before: share(before), after: share(after), change: 'too few' }
  const [a, b] = [bad(after), bad(before)]
  const more = fisherExact(a, after.length - a, b, before.length - b)
  const fewer = fisherExact(b, before.length - b, a, after.length - a)
  return { before: share(before), after: share(after), change: more < 0.01 ? 'more' : fewer < 0.01 ? 'fewer' : 'no difference' }
}

/** “Faster by 180 to 240 ms, at 9 of 12 locations.” and the like; it never says more than was found. */
export function speakBeforeAfter({ change, low, high, locations, failing: fails }: BeforeAfter, speak: (milliseconds: number) => string): string {
  const more = fails.change === 'more' ? ' More tries fail than before.' : fails.change === 'fewer' ? ' Fewer tries fail than before.' : ''
  if (change === 'too few') return `Too few observations to judge.${more}`
  const known = locations.filter((each) => each.change !== 'too few')
  const same = known.filter((each) => each.change === change)
  if (change === 'no difference') {
    const moved = known.filter((each) => each.change !== 'no difference')
    return `No difference${moved.length > 0 ? ` over all, though ${moved.length} of ${known.length} locations changed` : ` beyond chance: between ${speak(Math.abs(low!))} faster and ${speak(Math.max(0, high!))} slower`}.${more}`
  }
  const [least, most] = [Math.abs(low!), Math.abs(high!)].sort((a, b) => a - b) as [number, number]
  return `${change === 'faster' ? 'Faster' : 'Slower'} by ${speak(least) === speak(most) ? speak(least) : `${speak(least)} to ${speak(most)}`}, at ${same.length === known.length ? `all ${known.length}` : `${same.length} of ${known.length}`} ${known.length === 1 ? 'location' : 'locations'}.${more}`
}
