import type { Sample } from './points'
import { readExposition } from './read-exposition'
import { isOtlp, readOtlp } from './read-otlp'
import { collected, isNumberName, keyOf, NumbersError, type Labels } from './sample'

const DEPTH_MOST = 6

/**
 * Reads what was pushed. JSON is an object of numbers by name: `{"queue": 4, "disk.used": {"/": 0.4}}`; objects inside are
 * joined by dots, and a list such as `[{"mount": "/", "value": 0.4}]` gives one number for each, with the texts beside
 * `value` as labels. Anything that is not JSON is read as an exposition.
 * @param type the content type, as it was sent
 * @throws NumbersError
 */
export function readPushed(text: string, type: string): Sample[] {
  const looksLikeJson = /^\s*[[{]/.test(text)
  if (!/json/i.test(type) && !looksLikeJson) return readExposition(text)
  let body: unknown
  try {
    body = JSON.parse(text)
  } catch {
    throw new NumbersError('the body is not JSON')
  }
  if (isOtlp(body)) return readOtlp(body)
  if (body === null || typeof body !== 'object' || Array.isArray(body)) throw new NumbersError('expected an object of numbers by name')
  const samples: Sample[] = []
  for (const [name, value] of Object.entries(body)) put(samples, name, value, 1)
  if (samples.length === 0) throw new NumbersError('there is no number in the body')
  return collected(samples)
}

function put(samples: Sample[], name: string, value: unknown, depth: number): void {
  if (typeof value === 'boolean') value = Number(value)
  if (value === null) return
  if (depth > DEPTH_MOST) throw new NumbersError(`${name} is nested more than ${DEPTH_MOST} deep`)
  if (typeof value === 'number') {
    if (!isNumberName(name)) throw new NumbersError(`"${name.slice(0, 80)}" is no name of a number: letters, digits and _ : . - / only`)
    if (Number.isFinite(value)) samples.push([name, value])
  } else if (Array.isArray(value)) for (const each of value) labelled(samples, name, each)
  else if (typeof value === 'object') for (const [inner, each] of Object.entries(value)) put(samples, `${name}.${inner}`, each, depth + 1)
  else throw new NumbersError(`${name.slice(0, 80)} is ${JSON.stringify(value).slice(0, 60)}, no number`)
}

function labelled(samples: Sample[], name: string, each: unknown): void {
  const { value, ...rest } = (each ?? {}) as Record<string, unknown>
  if (typeof value !== 'number' || !isNumberName(name)) throw new NumbersError(`${name.slice(0, 80)} expects objects such as {"mount": "/", "value": 0.4}`)
  const labels: Labels = Object.entries(rest).map(([label, text]) => [label, String(text)])
  if (Number.isFinite(value)) samples.push([keyOf(name, labels), value])
}
