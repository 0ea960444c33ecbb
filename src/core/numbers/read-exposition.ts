import type { Sample } from './points'
import { collected, isNumberName, keyOf, NumbersError, readLabels } from './sample'

/**
 * Reads numbers in the text forms of OpenMetrics (OpenMetrics 1.0, “Text format”) and of the exposition format 0.0.4
 * before it. Timestamps and exemplars are left out; numbers that are not finite are, too.
 * @throws NumbersError with the line that cannot be read
 */
export function readExposition(text: string): Sample[] {
  const samples: Sample[] = []
  const lines = text.split('\n')
  for (const [index, raw] of lines.entries()) {
    const line = raw.trim()
    if (line === '# EOF') break
    if (line === '' || line.startsWith('#')) continue
    const sample = readLine(line)
    if (!sample) throw new NumbersError(`line ${index + 1} is no number with its name: ${line.slice(0, 80)}`)
    if (Number.isFinite(sample[1])) samples.push(sample)
  }
  return collected(samples)
}

const VALUE = /^(?:[+-]?(?:\d+\.?\d*(?:[eE][+-]?\d+)?|\.\d+(?:[eE][+-]?\d+)?)|[+-]?Inf(?:inity)?|NaN)$/i

function readLine(line: string): Sample | undefined {
  const brace = line.indexOf('{')
  const space = line.search(/\s/)
  const hasLabels = brace >= 0 && (space < 0 || brace < space || line.slice(space, brace).trim() === '')
  const name = (hasLabels ? line.slice(0, brace) : line.slice(0, space < 0 ? line.length : space)).trim()
  if (!isNumberName(name)) return undefined
  const labels = hasLabels ? readLabels(line, brace) : { labels: [], end: name.length }
  if (!labels) return undefined
  const [value = '', stamp, next] = line.slice(labels.end).trim().split(/\s+/)
  if (!VALUE.test(value) || (stamp !== undefined && stamp !== '#' && !VALUE.test(stamp)) || (next !== undefined && stamp !== '#' && next !== '#')) return undefined
  const number = /inf/i.test(value) ? (value.startsWith('-') ? -Infinity : Infinity) : Number(value)
  return [keyOf(name, labels.labels), number]
}
