import { percentileOfSketch, shareOf, type GroupAnswer } from '@/core/findout/answer'
import type { Question } from '@/core/findout/question'
import { numbered } from '@/core/findout/sheet'
import { eachOfDay } from '@/core/sketches/day-sheet'
import { emptyDense, mergeBytes, mergeDense, percentileOfDense, type DenseSketch } from '@/core/sketches/dense-sketch'
import { emptySketch, mergeEncoded, mergeInto, type Sketch } from '@/core/sketches/sketch'
import { DAY, HOUR } from '@/core/units'
import type { StoredCheck } from '@/store/checks'
import { readDaySheets } from '@/store/day-sheets'
import { database } from '@/store/database'
import type { Location } from '@/store/locations'
import { METRICS, readWindows, type Metric } from '@/store/rollups'

/** Days are looked at instead of hours above so many hours of checks and locations. */
const MOST_HOURS = 60_000

interface Keys { ofCheck?: ((check: number) => string | undefined) | undefined; ofLocation?: ((location: number) => string | undefined) | undefined }

/** Answers a question from the counts and sketches of hours or days: percentiles are merged, never averaged. */
export async function rolledUpAnswer(question: Question, { checks, locations }: { checks: StoredCheck[]; locations: Location[] }, keys: Keys, range: { from: number; to: number }): Promise<{ groups: GroupAnswer[]; step: number; span: '1h' | '1d'; tries: number }> {
  const isPlaced = keys.ofLocation !== undefined || locations.length < 12
  const hours = ((range.to - range.from) / HOUR) * checks.length * (isPlaced ? locations.length : 1)
  const span = hours > MOST_HOURS ? '1d' as const : '1h' as const
  const step = span === '1d' ? DAY : [HOUR, 2 * HOUR, 4 * HOUR, 6 * HOUR, 12 * HOUR].find((each) => each >= (range.to - range.from) / 120) ?? DAY
  const metric = (METRICS as readonly string[]).includes(question.metric) ? question.metric as Metric : 'total'
  const points = Math.max(1, Math.ceil((range.to - range.from) / step))
  if (span === '1d' && keys.ofLocation) return { span, step, ...await fromDaySheets(question, checks, locations, keys.ofLocation, metric, range, points) }
  const found = new Map<string, { sketch: Sketch; tries: number; fails: number; line: { sketch: Sketch; tries: number; fails: number }[] }>()
  let tries = 0
  for (const window of await readWindows(database(), checks.map((each) => each.id), isPlaced ? locations.map((each) => each.id) : [0], span, metric, range)) {
    const name = keys.ofCheck ? keys.ofCheck(window.check) : keys.ofLocation?.(window.location)
    if (name === undefined) continue
    let group = found.get(name)
    if (!group) found.set(name, group = { sketch: emptySketch(), tries: 0, fails: 0, line: Array.from({ length: points }, () => ({ sketch: emptySketch(), tries: 0, fails: 0 })) })
    const point = group.line[Math.min(points - 1, Math.max(0, Math.floor((window.at - range.from) / step)))]!
    for (const each of [group, point]) {
      each.tries += window.all
      each.fails += window.fails
    }
    if (window.sketch) mergeEncoded(point.sketch, window.sketch)
    tries += window.all
  }
  const share = shareOf(question.statistic)
  return {
    span, step, tries,
    groups: [...found].map(([name, group], code): GroupAnswer => {
      for (const point of group.line) mergeInto(group.sketch, point.sketch)
      const of = (sketch: Sketch, wanted: number) => percentileOfSketch(sketch, wanted)
      const [p50, p95] = [of(group.sketch, 0.5), of(group.sketch, 0.95)]
      const value = share === undefined ? group.fails / Math.max(1, group.tries) : of(group.sketch, share)
      return {
        name, code, tries: group.tries, fails: group.fails, ...(p50 === undefined ? {} : { p50 }), ...(p95 === undefined ? {} : { p95 }), ...(value === undefined ? {} : { value }),
        line: group.line.map((point) => (share === undefined ? (point.tries === 0 ? null : point.fails / point.tries) : of(point.sketch, share) ?? null))
      }
    })
  }
}

interface DenseGroup { sketch: DenseSketch; tries: number; fails: number }
const emptyGroup = (): DenseGroup => ({ sketch: emptyDense(), tries: 0, fails: 0 })

/** Answers a question by place from the sheets of days: all checks at all locations of a day lie in one of them. */
async function fromDaySheets({ statistic }: Question, checks: StoredCheck[], locations: Location[], nameOf: (location: number) => string | undefined, metric: Metric, range: { from: number; to: number }, points: number): Promise<{ groups: GroupAnswer[]; tries: number }> {
  const wanted = numbered(checks.map((each) => each.id))
  const known = new Map(locations.map((each) => [each.id, nameOf(each.id)]))
  const found = new Map<string, DenseGroup[]>()
  const linesAt: (DenseGroup[] | undefined)[] = []
  for (const [location, name] of known) {
    if (name === undefined) continue
    const line = found.get(name) ?? Array.from({ length: points }, emptyGroup)
    found.set(name, line)
    linesAt[location] = line
  }
  let tries = 0
  for (const { day, content } of await readDaySheets(database(), metric, range)) {
    const point = Math.min(points - 1, Math.max(0, Math.floor((day * DAY - range.from) / DAY)))
    eachOfDay(content, (check, location, all, fails, from, to) => {
      const group = wanted[check] === 1 ? linesAt[location]?.[point] : undefined
      if (!group) return
      group.tries += all
      group.fails += fails
      mergeBytes(group.sketch, content, from, to)
      tries += all
    })
  }
  const share = shareOf(statistic)
  const of = (sketch: DenseSketch, wantedShare: number) => { const value = percentileOfDense(sketch, wantedShare); return value === undefined ? undefined : value / 1000 }
  const groups = [...found].flatMap(([name, line], code): GroupAnswer[] => {
    const all = emptyGroup()
    for (const point of line) {
      all.tries += point.tries
      all.fails += point.fails
      mergeDense(all.sketch, point.sketch)
    }
    if (all.tries === 0) return []
    const [p50, p95] = [of(all.sketch, 0.5), of(all.sketch, 0.95)]
    const value = share === undefined ? all.fails / all.tries : of(all.sketch, share)
    return [{
      name, code, tries: all.tries, fails: all.fails, ...(p50 === undefined ? {} : { p50 }), ...(p95 === undefined ? {} : { p95 }), ...(value === undefined ? {} : { value }),
      line: line.map((point) => (share === undefined ? (point.tries === 0 ? null : point.fails / point.tries) : of(point.sketch, share) ?? null))
    }]
  })
  return { groups, tries }
}
