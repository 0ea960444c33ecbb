import { MINUTE } from '../units'
import { judgeConditions } from '../conditions/judge-condition'
import { readCondition } from '../conditions/read-condition'
import { conditionSentence } from '../sentence/condition-sentence'
import { plainText } from '../sentence/sentence'
import { readExposition } from './read-exposition'
import { readOtlp } from './read-otlp'
import { readPushed } from './read-pushed'
import { fitsSelector, keyOf, readKey } from './sample'
import { atEvenTimes, judgeSeries, numbersOf, ratesOf } from './series'
import type { Points } from './points'

describe('the text forms of OpenMetrics and of version 0.0.4 before it', () => {
  it('give names with labels in order, without timestamps and exemplars', () => {
    expect(readExposition([
      '# HELP http_requests_total Requests.', '# TYPE http_requests_total counter', 'http_requests_total{method="post",code="200"} 1027 1395066363000', 'http_requests_total{code="400",method="post"} 3 # {trace_id="x"} 0.67 1395066363',
      'msdos_file_access_time_seconds{path="C:\\\\DIR\\\\FILE.TXT",error="Cannot find file:\\n\\"FILE.TXT\\""} 1.458255915e9', 'metric_without_timestamp_and_labels 12.47', 'something_weird{problem="division by zero"} +Inf -3982045', 'lower{quantile="0.5"} NaN',
      '# EOF', 'after_the_end 1'
    ].join('\n'))).toEqual([
      ['http_requests_total{code="200",method="post"}', 1027], ['http_requests_total{code="400",method="post"}', 3],
      ['msdos_file_access_time_seconds{error="Cannot find file:\\n\\"FILE.TXT\\"",path="C:\\\\DIR\\\\FILE.TXT"}', 1458255915], ['metric_without_timestamp_and_labels', 12.47]
    ])
  })

  it.each(['a', 'a b', '{x="1"} 2', 'a{x=1} 2', 'a{x="1" 2', 'a{x="1"', '9a 1', 'a 1 2 3', '<html>', 'a 0x12'])('refuse %s with its line', (line) => {
    expect(() => readExposition(`ok 1\n${line}`)).toThrow(/line 2/)
  })

  it('refuse more numbers than are taken', () => {
    expect(() => readExposition(Array.from({ length: 20_001 }, (_, index) => `a${index} 1`).join('\n'))).toThrow(/at most 20000/)
  })
})

describe('OTLP in JSON', () => {
  const body = {
    resourceMetrics: [{
      resource: { attributes: [{ key: 'host.name', value: { stringValue: 'quay' } }, { key: 'os.type', value: { stringValue: 'linux' } }] },
      scopeMetrics: [{
        metrics: [
          { name: 'queue.length', gauge: { dataPoints: [{ asInt: '12', attributes: [{ key: 'queue', value: { stringValue: 'tickets' } }] }] } },
          { name: 'sent', sum: { isMonotonic: true, dataPoints: [{ asDouble: 4.5 }] } },
          { name: 'took', histogram: { dataPoints: [{ count: '4', sum: 2, bucketCounts: ['1', '3'], explicitBounds: [1] }] } },
          { name: 'old', summary: { dataPoints: [{ count: 2, quantileValues: [{ quantile: 0.5, value: 7 }] }] } }
        ]
      }]
    }]
  }

  it('gives gauges, sums, histograms and summaries with what tells senders apart', () => {
    expect(readOtlp(body)).toEqual([
      ['queue.length{host.name="quay",queue="tickets"}', 12], ['sent{host.name="quay"}', 4.5], ['took.count{host.name="quay"}', 4], ['took.sum{host.name="quay"}', 2], ['took.mean{host.name="quay"}', 0.5],
      ['old.count{host.name="quay"}', 2], ['old{host.name="quay",quantile="0.5"}', 7]
    ])
  })

  it.each([[{}], [[]], [{ resourceMetrics: 4 }], [{ resourceMetrics: [{ scopeMetrics: [{ metrics: [{ name: 'a b' }] }] }] }]])('refuses %j', (wrong) => {
    expect(() => readOtlp(wrong)).toThrow()
  })
})

describe('numbers pushed as JSON', () => {
  it('are joined by dots, with labels from lists', () => {
    expect(readPushed('{"queue": 4, "disk": {"used": {"data": 0.4}}, "on": true, "none": null, "mounts": [{"mount": "/", "value": 0.3}]}', 'application/json'))
      .toEqual([['queue', 4], ['disk.used.data', 0.4], ['on', 1], ['mounts{mount="/"}', 0.3]])
  })

  it('are told from an exposition and from OTLP by what they look like', () => {
    expect(readPushed('a 1\n', 'application/octet-stream')).toEqual([['a', 1]])
    expect(readPushed('{"a": 1}', 'text/plain')).toEqual([['a', 1]])
    expect(readPushed('{"resourceMetrics":[]}', 'application/json')).toEqual([])
  })

  it.each(['{"a": "much"}', '{"a b": 1}', '[1, 2]', '{', '{}', '{"a": [1]}', '{"a":{"b":{"c":{"d":{"e":{"f":{"g":1}}}}}}}'])('refuse %s', (body) => {
    expect(() => readPushed(body, 'application/json')).toThrow()
  })
})

describe('names', () => {
  it('are read back as they are written', () => {
    const key = keyOf('disk.used', [['mount', '/var "x" \\ \n'], ['device', 'sda']])
    expect(readKey(key)).toEqual({ name: 'disk.used', labels: [['device', 'sda'], ['mount', '/var "x" \\ \n']] })
  })

  it('are chosen by name and any of their labels', () => {
    expect(['a', 'a{x="1"}', 'a{x="1",y="2"}', 'ab', 'a.b'].filter(fitsSelector('a'))).toEqual(['a', 'a{x="1"}', 'a{x="1",y="2"}'])
    expect(['a', 'a{x="1"}', 'a{x="1",y="2"}', 'a{x="2"}'].filter(fitsSelector('a{x="1"}'))).toEqual(['a{x="1"}', 'a{x="1",y="2"}'])
  })
})

describe('numbers of several senders', () => {
  it('are all among the latest as long as they came not long before the newest', () => {
    const pushes = [{ at: 0, samples: [['old', 1]] }, { at: MINUTE, samples: [['a', 2]] }, { at: 2 * MINUTE, samples: [['b', 3]] }] as { at: number; samples: [string, number][] }[]
    expect(numbersOf(pushes).latest).toEqual([['b', 3]])
    expect(numbersOf(pushes, MINUTE).latest).toEqual([['a', 2], ['b', 3]])
  })
})

describe('a number over time', () => {
  const minutes = (...values: number[]): Points => values.map((value, index) => [index * MINUTE, value])

  it('counts when it has been beyond a limit for the time, and is good again at once without a margin', () => {
    const rule = { limits: { max: 10 }, for: 3 * MINUTE, margin: 0 }
    expect(judgeSeries(rule, minutes(5, 11, 11, 11))).toEqual({ outcome: 'held', beyondSince: MINUTE })
    expect(judgeSeries(rule, minutes(5, 11, 11, 11, 11)).outcome).toBe('failed')
    expect(judgeSeries(rule, minutes(11, 11, 11, 9, 11, 11, 11)).outcome).toBe('held')
    expect(judgeSeries(rule, minutes(11, 11, 11, 11, 10)).outcome).toBe('held')
  })

  it('stays bad until it is back inside by the margin', () => {
    const rule = { limits: { max: 10, warnMax: 8 }, for: 0, margin: 0.1 }
    expect(judgeSeries(rule, minutes(11, 9.5)).outcome).toBe('failed')
    expect(judgeSeries(rule, minutes(11, 9)).outcome).toBe('warned')
    expect(judgeSeries(rule, minutes(11, 9, 7.5)).outcome).toBe('warned')
    expect(judgeSeries(rule, minutes(11, 9, 7.2)).outcome).toBe('held')
    expect(judgeSeries({ limits: { min: 10 }, for: 0, margin: 0.1 }, minutes(9, 10.5)).outcome).toBe('failed')
    expect(judgeSeries({ limits: { min: 10 }, for: 0, margin: 0.1 }, minutes(9, 11)).outcome).toBe('held')
  })

  it('grows by the second, also across a new beginning', () => {
    expect(ratesOf([[0, 100], [10_000, 150], [20_000, 30]])).toEqual([[10_000, 5], [20_000, 3]])
  })

  it('is drawn at even times, with holes where nothing came', () => {
    expect(atEvenTimes([[0, 2], [1, 4], [9, 6]], 0, 10, 5)).toEqual([3, null, null, null, 6])
  })
})

describe('a condition on a number', () => {
  const subjects = { common: new Set(['metric']), readings: {}, facts: {} }
  const condition = readCondition({ metric: 'disk.used', value: { max: '95%', warn: '85%' }, for: '5m', margin: '2%' }, subjects)

  it('reads as a sentence', () => {
    expect(plainText(conditionSentence(condition, 0))).toBe('disk.used is at most 95%, warn above 85%, counting after 5 min, good again 2% inside')
  })

  it('is judged by the worst that fits, and fails when there is none', () => {
    const at = (minute: number) => ({ at: minute * MINUTE, samples: [['disk.used{mount="/"}', 0.3], ['disk.used{mount="/data"}', 0.97]] as [string, number][] })
    const judge = (numbers: ReturnType<typeof numbersOf>) => judgeConditions([condition], { headers: [], body: '', bytes: 0, times: {}, numbers })[0]!
    expect(judge(numbersOf([at(0), at(3)]))).toMatchObject({ outcome: 'held' })
    expect(judge(numbersOf([at(0), at(3), at(5)]))).toMatchObject({ outcome: 'failed', found: 'disk.used{mount="/data"} is 97% and has passed the limit for 5 min' })
    expect(judge(numbersOf([{ at: 0, samples: [['cpu.busy', 1]] }]))).toMatchObject({ outcome: 'failed', found: 'there is no number disk.used' })
  })
})
