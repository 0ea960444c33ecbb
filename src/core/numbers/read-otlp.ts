import type { Sample } from './points'
import { collected, isNumberName, keyOf, NumbersError, type Labels } from './sample'

type Written = Record<string, unknown>
const isObject = (value: unknown): value is Written => value !== null && typeof value === 'object' && !Array.isArray(value)
const list = (value: unknown): Written[] => (Array.isArray(value) ? value.filter(isObject) : [])

/** Attributes of the resource that tell one sender from another. */
const TELLING = ['service.name', 'service.instance.id', 'host.name']

/** Whether a body is a request of the OpenTelemetry protocol. */
export const isOtlp = (body: unknown): boolean => isObject(body) && Array.isArray(body.resourceMetrics)

/**
 * Reads metrics as OTLP/HTTP sends them in JSON (OpenTelemetry Protocol 1.x, ExportMetricsServiceRequest): gauges and sums
 * as they are, of histograms their count, sum and mean, of summaries their quantiles. Of several points of one series
 * the last counts.
 * @throws NumbersError when it is not of this form
 */
export function readOtlp(body: unknown): Sample[] {
  if (!isOtlp(body)) throw new NumbersError('expected an object with resourceMetrics')
  const samples: Sample[] = []
  for (const resource of list((body as Written).resourceMetrics)) {
    const own = attributes(isObject(resource.resource) ? resource.resource.attributes : undefined).filter(([name]) => TELLING.includes(name))
    for (const scope of list(resource.scopeMetrics)) for (const metric of list(scope.metrics)) samples.push(...readMetric(metric, own))
  }
  return collected(samples)
}

function readMetric(metric: Written, own: Labels): Sample[] {
  const name = String(metric.name ?? '')
  if (!isNumberName(name)) throw new NumbersError(`"${name.slice(0, 80)}" is no name of a metric`)
  const points = (of: string) => list(isObject(metric[of]) ? metric[of].dataPoints : undefined)
  const samples: Sample[] = []
  const put = (key: string, labels: Labels, value: unknown) => {
    const number = typeof value === 'string' && value.trim() !== '' ? Number(value) : value
    if (typeof number === 'number' && Number.isFinite(number)) samples.push([keyOf(key, labels), number])
  }
  for (const point of [...points('gauge'), ...points('sum')]) put(name, labelsOf(point, own), point.asDouble ?? point.asInt)
  for (const point of [...points('histogram'), ...points('exponentialHistogram')]) {
    const labels = labelsOf(point, own)
    const [count, sum] = [Number(point.count), Number(point.sum)]
    put(`${name}.count`, labels, count)
    put(`${name}.sum`, labels, point.sum === undefined ? undefined : sum)
    if (count > 0) put(`${name}.mean`, labels, sum / count)
  }
  for (const point of points('summary')) {
    const labels = labelsOf(point, own)
    put(`${name}.count`, labels, point.count)
    for (const each of list(point.quantileValues)) put(name, [...labels, ['quantile', String(each.quantile ?? 0)]], each.value)
  }
  return samples
}

/** A point's own attributes count before the resource's. */
function labelsOf(point: Written, own: Labels): Labels {
  return [...new Map([...own, ...attributes(point.attributes)])]
}

function attributes(written: unknown): [string, string][] {
  return list(written).flatMap(({ key, value }): [string, string][] => {
    const plain = isObject(value) ? value.stringValue ?? value.intValue ?? value.doubleValue ?? value.boolValue : undefined
    return typeof key === 'string' && plain !== undefined ? [[key, String(plain)]] : []
  })
}
