import { QUESTION_METRICS } from './question'
import { METRIC_WORDS } from './question-sentence'
import { speakStatistic, unitOf } from './speak-statistic'

describe('a statistic of a metric', () => {
  it.each([
    [0.25, 'loss', '25%'], [0.0004, 'share failing', '<0.1%'], [7, 'hops', '7'], [7.25, 'hops', '7.3'], [7.04, 'hops', '7'], [412, 'total', '412 ms'], [31.4, 'rtt', '31 ms']
  ])('%d of %s is said as %s', (value, metric, said) => expect(speakStatistic(value, metric)).toBe(said))
  it.each([...QUESTION_METRICS, 'share failing'])('%s is a dash where it is not known', (metric) => expect(speakStatistic(undefined, metric)).toBe('—'))
  it('is of every metric there is, each with a name of its own', () => {
    expect(new Set(QUESTION_METRICS.map((each) => METRIC_WORDS[each])).size).toBe(QUESTION_METRICS.length)
    expect(QUESTION_METRICS.filter((each) => unitOf(each) !== 'milliseconds')).toEqual(['loss', 'hops'])
  })
})
