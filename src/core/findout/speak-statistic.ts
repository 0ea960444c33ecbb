import { speakMilliseconds } from '../definitions/duration'
import { speakShare } from '../definitions/share'

/** Says a statistic of a metric in its unit; a dash where there is none. */
export const speakStatistic = (value: number | undefined, metric: string): string => (metric === 'share failing' || metric === 'loss' ? speakShare(value) : value === undefined ? '—' : speakMilliseconds(value))
