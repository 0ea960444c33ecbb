import { speakMilliseconds } from '../definitions/duration'
import { speakShare } from '../definitions/share'

/** In what a metric of a question, or the share failing, is counted. */
export const unitOf = (metric: string): 'milliseconds' | 'share' | 'steps' => (metric === 'share failing' || metric === 'loss' ? 'share' : metric === 'hops' ? 'steps' : 'milliseconds')

/** Says a statistic of a metric in its unit; a dash where there is none. */
export function speakStatistic(value: number | undefined, metric: string): string {
  const unit = unitOf(metric)
  if (unit === 'share') return speakShare(value)
  if (value === undefined || Number.isNaN(value)) return '—'
  return unit === 'steps' ? String(Math.round(10 * value) / 10) : speakMilliseconds(value)
}
