import type { Sample } from './points'

/** The most numbers one push or one exposition may hold. */
export const SAMPLES_MOST = 20_000
export const NAME_MOST = 300

/** The body cannot be read; the sentence says where and why. */
export class NumbersError extends Error {}

export type Labels = readonly (readonly [name: string, value: string])[]

const NAME = /^[\p{L}_:][\p{L}\p{N}_:.\-/]*$/u

/** Whether a text is a name that a number may have, without labels. */
export const isNumberName = (text: string): boolean => text.length <= NAME_MOST && NAME.test(text)

const quoted = (value: string) => `"${value.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('\n', '\\n')}"`

/** Writes a name with its labels in their order by name: `disk.used{mount="/"}`. */
export function keyOf(name: string, labels: Labels): string {
  if (labels.length === 0) return name
  return `${name}{${[...labels].sort((a, b) => (a[0] < b[0] ? -1 : 1)).map(([label, value]) => `${label}=${quoted(value)}`).join(',')}}`
}

/** Reads what keyOf wrote, and what people type in the same form. Undefined when it is not of this form. */
export function readKey(key: string): { name: string; labels: [string, string][] } | undefined {
  const brace = key.indexOf('{')
  const name = (brace < 0 ? key : key.slice(0, brace)).trim()
  if (!isNumberName(name) || key.length > 2000) return undefined
  if (brace < 0) return { name, labels: [] }
  const read = readLabels(key, brace)
  return read && key.slice(read.end).trim() === '' ? { name, labels: read.labels } : undefined
}

/** Reads `{a="b",c="d"}` from a place in a line; undefined when it is not of this form. */
export function readLabels(line: string, from: number): { labels: [string, string][]; end: number } | undefined {
  const label = /\s*([\p{L}_][\p{L}\p{N}_.:-]*)\s*=\s*"((?:[^"\\]|\\.)*)"\s*/uy
  const labels: [string, string][] = []
  let at = from + 1
  for (;;) {
    if (/\s/.test(line[at] ?? '')) at += 1
    else if (line[at] === '}') return { labels, end: at + 1 }
    else {
      label.lastIndex = at
      const match = label.exec(line)
      if (!match) return undefined
      labels.push([match[1]!, match[2]!.replace(/\\(.)/g, (_, escaped: string) => (escaped === 'n' ? '\n' : escaped))])
      at = label.lastIndex
      if (line[at] === ',') at += 1
      else if (line[at] !== '}') return undefined
    }
  }
}

/** Whether a number is meant by a selector: the same name, and every label the selector names. */
export function fitsSelector(selector: string): (key: string) => boolean {
  const wanted = readKey(selector)
  if (!wanted) return () => false
  if (wanted.labels.length === 0) return (key) => key === wanted.name || key.startsWith(`${wanted.name}{`)
  return (key) => {
    const own = readKey(key)
    return own !== undefined && own.name === wanted.name && wanted.labels.every(([label, value]) => own.labels.some((each) => each[0] === label && each[1] === value))
  }
}

/** The name alone: `disk.used` of `disk.used{mount="/"}`. */
export const nameOf = (key: string): string => key.split('{', 1)[0]!.trim()

/** Refuses more numbers than are taken, and takes the last of two with the same name. */
export function collected(samples: Sample[]): Sample[] {
  if (samples.length > SAMPLES_MOST) throw new NumbersError(`${samples.length} numbers; at most ${SAMPLES_MOST} are taken at once`)
  return [...new Map(samples)]
}
