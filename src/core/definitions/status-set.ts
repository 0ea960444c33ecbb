/** HTTP status codes and ranges of them, both ends included (RFC 9110, section 15: 100 to 599). */
export type StatusRange = { from: number; to: number }

/**
 * Reads `200`, `"200-299"`, `"200-299, 304"` or a list of these.
 * @returns the ranges in the order given; undefined when anything in it is no status code
 */
export function parseStatusSet(value: unknown): StatusRange[] | undefined {
  const pieces = (Array.isArray(value) ? value : [value]).flatMap((piece) =>
    typeof piece === 'string' ? piece.split(',') : [piece])
  const ranges: StatusRange[] = []
  for (const piece of pieces) {
    const match = /^\s*(\d{3})(?:\s*(?:-|–|to)\s*(\d{3}))?\s*$/.exec(String(piece))
    if (!match) return undefined
    const from = Number(match[1])
    const to = match[2] === undefined ? from : Number(match[2])
    if (from < 100 || to > 599 || to < from) return undefined
    ranges.push({ from, to })
  }
  return ranges.length > 0 ? ranges : undefined
}

/** Writes a set as short as it can be read back: one code as a number, else `200-299, 304`. */
export function formatStatusSet(ranges: StatusRange[]): string | number {
  const only = ranges[0]
  if (ranges.length === 1 && only && only.from === only.to) return only.from
  return ranges.map((range) => (range.from === range.to ? `${range.from}` : `${range.from}-${range.to}`)).join(', ')
}

/** Says a set inside a sentence: `200 to 299 or 304`. */
export function speakStatusSet(ranges: StatusRange[]): string {
  const said = ranges.map((range) => (range.from === range.to ? `${range.from}` : `${range.from} to ${range.to}`))
  return said.length < 2 ? said.join('') : `${said.slice(0, -1).join(', ')} or ${said.at(-1)}`
}

/** Whether a status code is in the set. */
export function statusFits(ranges: StatusRange[], status: number): boolean {
  return ranges.some((range) => status >= range.from && status <= range.to)
}
