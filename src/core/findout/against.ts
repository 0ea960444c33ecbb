import { fromLocal, toLocal } from '../time/zoned'
import { DAY, type Instant, type Milliseconds } from '../units'
import { scatter } from '../schedule/next-run'
import { SHEET, sheetOf } from './sheet'

export interface Span { from: Instant; to: Instant }

const WEEK = 7 * DAY
/** So many days, or for stretches of more than a day weeks, say what is usual. */
const [USUAL_DAYS, USUAL_WEEKS] = [14, 4]

/**
 * The times that say what is usual for a stretch: the same hours, on the clock of a zone, of the days before; for more than a day the same
 * weekdays of the weeks before. None of them overlaps the stretch.
 */
export function usualSpans({ from, to }: Span, zone: string): Span[] {
  const length = to - from
  const back = length <= DAY ? DAY : Math.ceil(length / WEEK) * WEEK
  return Array.from({ length: length <= DAY ? USUAL_DAYS : USUAL_WEEKS }, (_, place) => {
    const begin = fromLocal(toLocal(from, zone) - (place + 1) * back, zone)
    return { from: begin, to: begin + length }
  }).filter((each) => each.to <= from).reverse()
}

/**
 * What lies around a stretch: three times as long before it, six hours at least, and as long after it, within a range. A range that went on
 * with the clock and left the beginning of the stretch behind is no bound for what came before it.
 */
export function spansAround({ from, to }: Span, range: Span, least: Milliseconds): Span[] {
  const length = to - from
  const before = from - Math.max(3 * length, least)
  const around = [{ from: from < range.from ? before : Math.max(range.from, before), to: from }, { from: to, to: Math.min(Math.max(range.to, to), to + length) }]
  return around.filter((each) => each.to > each.from)
}

/** The sheets that hold some spans of time: all of them, or a share, one at least, chosen by a hash so that no cadence falls in step with it. */
export function sheetsOf(spans: readonly Span[], share = 1): Instant[] {
  const found = new Set<Instant>()
  for (const { from, to } of spans) for (let at = sheetOf(from); at < to; at += SHEET) found.add(at)
  const byChance = [...found].map((at) => ({ at, chance: scatter(at / SHEET) })).sort((a, b) => a.chance - b.chance)
  return byChance.slice(0, Math.max(1, Math.ceil(share * found.size))).map((each) => each.at).sort((a, b) => a - b)
}
