import { beforeAfter, type BeforeAfter, type Block } from '@/core/marks/before-after'
import type { Mark } from '@/core/marks/mark'
import { twoDistributions, type DistributionPoint } from '@/core/sketches/distributions'
import { emptySketch, mergeEncoded, mergeInto, type Sketch } from '@/core/sketches/sketch'
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
  distribution: DistributionPoint[]
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
  return { found: beforeAfter(old, fresh, seededRandom(mark.id)), before, after, distribution: twoDistributions(together(old), together(fresh)), places: new Map(world.locations.map((each) => [each.id, { place: each.place, network: each.network }])), checks: checks.length }
}

/** Everything in some blocks. */
function together(blocks: Block[]): Sketch {
  const merged = emptySketch()
  for (const block of blocks) mergeInto(merged, block.sketch)
  return merged
}
