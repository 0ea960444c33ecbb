export interface Named { label?: string; description?: string }

/** How near a typed text is to a name: it begins it, stands in it, stands in what is said of it, or nowhere. */
function nearness({ label = '', description = '' }: Named, text: string): number {
  const name = label.toLowerCase()
  if (name.startsWith(text)) return 0
  if (name.includes(text)) return 1
  return description.toLowerCase().includes(text) ? 2 : 3
}

/**
 * What a typed text finds, the thing that bears the name before what is about it; with nothing typed, everything as it stands.
 * Equally near things keep their order.
 */
export function byName<T extends Named>(text: string, things: readonly T[]): T[] {
  const typed = text.trim().toLowerCase()
  return things.filter((each) => nearness(each, typed) < 3).sort((a, b) => nearness(a, typed) - nearness(b, typed))
}
