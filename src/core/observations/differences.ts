/** A header of one answer beside the same header of another one. */
export interface HeaderDifference { name: string; now?: string; before?: string; differs: boolean }

/** Headers that differ between any two answers of a healthy server and say nothing. */
const ALWAYS = /^(date|content-length|age|expires|last-modified|etag|set-cookie|x-request-id)$/i

/** Puts the headers of two answers side by side, those of the first in their order, then what only the second has. */
export function headersBeside(now: readonly [string, string][], before: readonly [string, string][]): HeaderDifference[] {
  const byName = new Map(before.map(([name, value]) => [name.toLowerCase(), value]))
  const own = new Set(now.map(([name]) => name.toLowerCase()))
  return [
    ...now.map(([name, value]): HeaderDifference => { const other = byName.get(name.toLowerCase()); return { name, now: value, ...(other === undefined ? {} : { before: other }), differs: other !== value && !ALWAYS.test(name) } }),
    ...before.filter(([name]) => !own.has(name.toLowerCase())).map(([name, value]): HeaderDifference => ({ name, before: value, differs: !ALWAYS.test(name) }))
  ]
}
