/** Reads `99.9%` as 0.999; undefined when the text is no share between 0% and 100%. */
export function parseShare(text: string): number | undefined {
  const match = /^(\d+(?:\.\d+)?)%$/.exec(text)
  if (!match) return undefined
  const percent = Number(match[1])
  return percent > 100 ? undefined : Number((percent / 100).toPrecision(12))
}

/** Writes a share so that parseShare reads it back. */
export function formatShare(share: number): string {
  return `${Number((share * 100).toPrecision(10))}%`
}

/** Says a share as people read it: `0%`, `<0.1%`, `4.2%`, `37%`; a dash for one that is not known. */
export function speakShare(share: number | undefined): string {
  if (share === undefined) return '—'
  if (share > 0 && share < 0.0005) return '<0.1%'
  return `${(100 * share).toFixed(share > 0 && share < 0.0995 ? 1 : 0)}%`
}
