const UNITS: Record<string, number> = { B: 1, kB: 1e3, MB: 1e6, GB: 1e9 }

/** Reads `20kB`, `3MB`, `512B` (decimal units) as bytes; undefined when the text is no size. */
export function parseSize(text: string): number | undefined {
  const match = /^(\d+(?:\.\d+)?)\s*(B|kB|MB|GB)$/.exec(text)
  return match ? Math.round(Number(match[1]) * UNITS[match[2]!]!) : undefined
}

/** Writes bytes so that parseSize reads them back exactly. */
export function formatSize(bytes: number): string {
  for (const unit of ['GB', 'MB', 'kB'] as const) {
    if (bytes >= UNITS[unit]! && bytes % (UNITS[unit]! / 1000) === 0) return `${bytes / UNITS[unit]!}${unit}`
  }
  return `${bytes}B`
}

/** Says bytes for reading, rounded to three figures: `214 B`, `18.2 kB`, `3 MB`. */
export function speakSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`
  const unit = bytes < 1e6 ? 'kB' : bytes < 1e9 ? 'MB' : 'GB'
  return `${Number((bytes / UNITS[unit]!).toPrecision(3))} ${unit}`
}
