import type { Phase } from '@/core/observation'
import { twoDistributions, type DistributionPoint } from '@/core/sketches/distributions'
import { emptySketch, mergeEncoded, percentile, type Sketch } from '@/core/sketches/sketch'
import { DAY, HOUR, MINUTE } from '@/core/units'
import { database } from '@/store/database'
import { readSketches, type Metric } from '@/store/rollups'

/** What the times of a check look like over a stretch, and how they are made up of parts. */
export interface TimeShape {
  distribution: DistributionPoint[]
  tries: { before: number; after: number }
  /** The middle time of every phase, point by point; a phase nothing was measured of is left out. */
  parts: { at: number; times: Partial<Record<Phase, number>> }[]
  phases: Phase[]
}

/** The distribution of a stretch beside the one before it, and the middle of each part of the time along it. */
export async function timeShape(check: number, length: number, phases: readonly Phase[], now: number): Promise<TimeShape> {
  const isFine = length < DAY
  const [span, unit] = isFine ? ['5m' as const, 5 * MINUTE] : ['1h' as const, HOUR]
  const step = isFine ? 15 * MINUTE : Math.max(HOUR, Math.ceil(length / 48 / HOUR) * HOUR)
  const from = Math.floor((now - length) / unit) * unit
  const read = (metric: Metric, range: { from: number; to: number }) => readSketches(database(), [check], span, metric, range)
  const [before, after, ...each] = await Promise.all([read('total', { from: from - length, to: from }), read('total', { from, to: now }), ...phases.map((phase) => read(phase, { from, to: now }))])
  const merged = phases.map((_, index) => {
    const points = new Map<number, Sketch>()
    for (const window of each[index]!) {
      const at = from + Math.floor((window.at - from) / step) * step
      const sketch = points.get(at) ?? emptySketch()
      mergeEncoded(sketch, window.sketch)
      points.set(at, sketch)
    }
    return points
  })
  const [old, fresh] = [all(before!), all(after!)]
  const moments = [...new Set(merged.flatMap((points) => [...points.keys()]))].sort((a, b) => a - b)
  return {
    distribution: twoDistributions(old, fresh), tries: { before: old.total, after: fresh.total }, phases: phases.filter((_, index) => merged[index]!.size > 0),
    parts: moments.map((at) => ({ at, times: Object.fromEntries(phases.flatMap((phase, index) => { const middle = merged[index]!.get(at); const time = middle && percentile(middle, 0.5); return time === undefined ? [] : [[phase, time / 1000]] })) }))
  }
}

function all(windows: { sketch: Uint8Array }[]): Sketch {
  const sketch = emptySketch()
  for (const window of windows) mergeEncoded(sketch, window.sketch)
  return sketch
}
