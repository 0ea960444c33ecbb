import { groupOfParts, type GroupAnswer, type Measured } from '@/core/findout/group-answer'
import type { Question } from '@/core/findout/question'
import { numbered } from '@/core/findout/sheet'
import { eachOfDay } from '@/core/sketches/day-sheet'
import { bucketsOfDense, emptyDense, mergeBytes, mergeDense, percentileOfDense, type DenseSketch } from '@/core/sketches/dense-sketch'
import { heatOf, type Heat, type Seen } from '@/core/sketches/heat'
import { bucketsOf, emptySketch, mergeEncoded, mergeInto, percentile, type Sketch } from '@/core/sketches/sketch'
import { DAY, HOUR } from '@/core/units'
import type { StoredCheck } from '@/store/checks'
import { readDaySheets } from '@/store/day-sheets'
import { database } from '@/store/database'
import type { Location } from '@/store/locations'
import { METRICS, readWindows, type Metric } from '@/store/rollups'

/** Days are looked at instead of hours above so many hours of checks and locations. */
const MOST_HOURS = 60_000

interface Keys { ofCheck?: ((check: number) => string | undefined) | undefined; ofLocation?: ((location: number) => string | undefined) | undefined }

/** Tries that fell into one group and one part of the line: counts, and a sketch of one kind or the other. */
interface Part<OneSketch> { sketch: OneSketch; tries: number; fails: number }
/** How a kind of sketch is made, merged and read. */
interface Sketching<OneSketch> { empty: () => OneSketch; merge: (into: OneSketch, other: OneSketch) => void; percentile: (sketch: OneSketch, share: number) => number | undefined; seen: (sketch: OneSketch) => Seen }

const SPARSE: Sketching<Sketch> = { empty: emptySketch, merge: mergeInto, percentile, seen: bucketsOf }
const DENSE: Sketching<DenseSketch> = { empty: emptyDense, merge: mergeDense, percentile: percentileOfDense, seen: bucketsOfDense }

/** Groups by name with as many parts as the line has points, made when something falls into them. */
class Parts<OneSketch> {
  readonly byName = new Map<string, Part<OneSketch>[]>()

  constructor(private readonly sketching: Sketching<OneSketch>, private readonly points: number) {}

  lineOf(name: string): Part<OneSketch>[] {
    let line = this.byName.get(name)
    if (!line) this.byName.set(name, line = Array.from({ length: this.points }, () => this.emptyPart()))
    return line
  }

  answers({ statistic, view }: Question): { groups: GroupAnswer[]; tries: number; heat?: Heat } {
    const groups = [...this.byName].flatMap(([name, line], code): GroupAnswer[] => {
      const all = this.emptyPart()
      for (const part of line) {
        all.tries += part.tries
        all.fails += part.fails
        this.sketching.merge(all.sketch, part.sketch)
      }
      return all.tries === 0 ? [] : [groupOfParts(name, code, this.measured(all), line.map((part) => this.measured(part)), statistic)]
    })
    const heat = view === 'heat' ? this.heat() : undefined
    return { groups, tries: groups.reduce((sum, each) => sum + each.tries, 0), ...(heat ? { heat } : {}) }
  }

  /** All groups together, point by point. */
  private heat(): Heat | undefined {
    return heatOf(Array.from({ length: this.points }, (_, point) => {
      const all = this.sketching.empty()
      for (const line of this.byName.values()) this.sketching.merge(all, line[point]!.sketch)
      return this.sketching.seen(all)
    }))
  }

  private emptyPart(): Part<OneSketch> {
    return { sketch: this.sketching.empty(), tries: 0, fails: 0 }
  }

  /** Sketches hold microseconds, answers milliseconds. */
  private measured({ sketch, tries, fails }: Part<OneSketch>): Measured {
    return { tries, fails, percentile: (share) => { const found = this.sketching.percentile(sketch, share); return found === undefined ? undefined : found / 1000 } }
  }
}

/** Answers a question from the counts and sketches of hours or days: percentiles are merged, never averaged. */
export async function rolledUpAnswer(question: Question, { checks, locations }: { checks: StoredCheck[]; locations: Location[] }, keys: Keys, range: { from: number; to: number }): Promise<{ groups: GroupAnswer[]; step: number; span: '1h' | '1d'; tries: number; heat?: Heat }> {
  const isPlaced = keys.ofLocation !== undefined || locations.length < 12
  const hours = ((range.to - range.from) / HOUR) * checks.length * (isPlaced ? locations.length : 1)
  const span = hours > MOST_HOURS ? '1d' as const : '1h' as const
  const step = span === '1d' ? DAY : [HOUR, 2 * HOUR, 4 * HOUR, 6 * HOUR, 12 * HOUR].find((each) => each >= (range.to - range.from) / 120) ?? DAY
  const metric = (METRICS as readonly string[]).includes(question.metric) ? question.metric as Metric : 'total'
  const points = Math.max(1, Math.ceil((range.to - range.from) / step))
  const pointOf = (at: number) => Math.min(points - 1, Math.max(0, Math.floor((at - range.from) / step)))
  if (span === '1d' && keys.ofLocation) return { span, step, ...await fromDaySheets(question, checks, locations, keys.ofLocation, metric, range, points, pointOf) }
  const parts = new Parts(SPARSE, points)
  for (const window of await readWindows(database(), checks.map((each) => each.id), isPlaced ? locations.map((each) => each.id) : [0], span, metric, range)) {
    const name = keys.ofCheck ? keys.ofCheck(window.check) : keys.ofLocation?.(window.location)
    if (name === undefined) continue
    const part = parts.lineOf(name)[pointOf(window.at)]!
    part.tries += window.all
    part.fails += window.fails
    if (window.sketch) mergeEncoded(part.sketch, window.sketch)
  }
  return { span, step, ...parts.answers(question) }
}

/** Answers a question by place from the sheets of days: all checks at all locations of a day lie in one of them. */
async function fromDaySheets(question: Question, checks: StoredCheck[], locations: Location[], nameOf: (location: number) => string | undefined, metric: Metric, range: { from: number; to: number }, points: number, pointOf: (at: number) => number): Promise<{ groups: GroupAnswer[]; tries: number; heat?: Heat }> {
  const wanted = numbered(checks.map((each) => each.id))
  const parts = new Parts(DENSE, points)
  const lines: Part<DenseSketch>[][] = []
  for (const { id } of locations) {
    const name = nameOf(id)
    if (name !== undefined) lines[id] = parts.lineOf(name)
  }
  for (const { day, content } of await readDaySheets(database(), metric, range)) {
    const point = pointOf(day * DAY)
    eachOfDay(content, (check, location, tries, fails, from, to) => {
      const part = wanted[check] === 1 ? lines[location]?.[point] : undefined
      if (!part) return
      part.tries += tries
      part.fails += fails
      mergeBytes(part.sketch, content, from, to)
    })
  }
  return parts.answers(question)
}
