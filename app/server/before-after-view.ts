import { beforeAfter, type BeforeAfter, type Block } from '@/core/marks/before-after'
import type { Mark } from '@/core/marks/mark'
import { bucketsOf, emptySketch, mergeEncoded, mergeInto, type Sketch } from '@/core/sketches/sketch'
import { seededRandom } from '@/core/seeded-random'
import { DAY, HOUR, MINUTE } from '@/core/units'
import { database } from '@/store/database'
import { readWindows } from '@/store/rollups'
import { askedWorld } from './asked-world'

export interface BeforeAfterView {
  found: BeforeAfter
  before: { from: number; to: number }
  after: { from: number; to: number }
  /** Tries by time, as shares of each side: the two distributions. */
  distribution: { at: number; before: number; after: number }[]
  places: Map<number, { place: string; network: string }>
  checks: number
}

/** The longest that is compared, and how long a block is. */
const LONGEST = 7 * DAY

/** Compares what was seen after a mark with the same hours before it: of the day before, or of the week before for what lasted longer. */
export async function beforeAfterView(mark: Mark, now: number): Promise<BeforeAfterView> {
  const world = await askedWorld()
  const service = world.services.find((each) => each.key === mark.service)
  const checks = world.checks.filter((stored) => (mark.check !== null ? stored.check.key === mark.check : service ? stored.serviceId === service.id : true))
  const length = Math.min(LONGEST, now - mark.at)
  const isFine = length < 6 * HOUR && now - mark.at < 20 * HOUR
  const unit = isFine ? 5 * MINUTE : HOUR
  const begin = Math.ceil(mark.at / unit) * unit
  const whole = Math.max(unit, Math.floor((mark.at + length - begin) / unit) * unit)
  const back = whole > DAY ? 7 * DAY : DAY
  const after = { from: begin, to: begin + whole }
  const before = { from: begin - back, to: begin - back + whole }
  // the day before would hold the change itself
  if (back < whole) before.to = Math.min(before.to, begin)
  const read = async (range: { from: number; to: number }): Promise<Block[]> => {
    const blocks = new Map<string, Block>()
    for (const window of await readWindows(database(), checks.map((each) => each.id), world.locations.map((each) => each.id), isFine ? '5m' : '1h', 'total', range)) {
      if (window.at < range.from) continue
      const key = `${window.location}/${window.at}`
      let block = blocks.get(key)
      if (!block) blocks.set(key, block = { location: window.location, sketch: emptySketch(), tries: 0, fails: 0 })
      if (window.sketch) mergeEncoded(block.sketch, window.sketch)
      block.tries += window.all
      block.fails += window.fails
    }
    return [...blocks.values()]
  }
  const [old, fresh] = await Promise.all([read(before), read(after)])
  return { found: beforeAfter(old, fresh, seededRandom(mark.id)), before, after, distribution: distributionOf(old, fresh), places: new Map(world.locations.map((each) => [each.id, { place: each.place, network: each.network }])), checks: checks.length }
}

/** Both distributions over equal steps of the logarithm of time. */
function distributionOf(before: Block[], after: Block[]): { at: number; before: number; after: number }[] {
  const all = (blocks: Block[]): Sketch => {
    const merged = emptySketch()
    for (const block of blocks) mergeInto(merged, block.sketch)
    return merged
  }
  const [old, fresh] = [bucketsOf(all(before)), bucketsOf(all(after))]
  const times = [...old, ...fresh].map((each) => each.value)
  if (times.length === 0) return []
  const [least, most] = [Math.log(Math.max(1, Math.min(...times))), Math.log(Math.max(2, ...times))]
  const steps = 60
  const place = (value: number) => Math.min(steps - 1, Math.floor(((Math.log(Math.max(1, value)) - least) / Math.max(0.01, most - least)) * steps))
  const count = (buckets: { value: number; count: number }[]) => {
    const found = new Float64Array(steps)
    let total = 0
    for (const { value, count: own } of buckets) {
      found[place(value)]! += own
      total += own
    }
    return found.map((each) => (total === 0 ? 0 : each / total))
  }
  const [one, other] = [count(old), count(fresh)]
  return Array.from({ length: steps }, (_, step) => ({ at: Math.exp(least + ((step + 0.5) / steps) * (most - least)) / 1000, before: one[step]!, after: other[step]! }))
}
