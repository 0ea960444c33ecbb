/**
 * Finds a circle among needs that goes through one check.
 * @param needs the keys each check needs
 * @returns the keys along the circle, beginning and ending with the check; undefined when there is none
 */
export function circleThrough(key: string, needs: ReadonlyMap<string, string[]>): string[] | undefined {
  const visited = new Set<string>()
  const search = (path: string[]): string[] | undefined => {
    for (const next of needs.get(path.at(-1)!) ?? []) {
      if (next === key) return [...path, key]
      if (visited.has(next)) continue
      visited.add(next)
      const found = search([...path, next])
      if (found) return found
    }
    return undefined
  }
  return search([key])
}

/** Everything a check needs, directly or through others, nearest first. */
export function allNeeds(key: string, needs: ReadonlyMap<string, string[]>): string[] {
  const found: string[] = []
  let ring = needs.get(key) ?? []
  while (ring.length > 0) {
    const fresh = ring.filter((each, index) => each !== key && !found.includes(each) && ring.indexOf(each) === index)
    found.push(...fresh)
    ring = fresh.flatMap((each) => needs.get(each) ?? [])
  }
  return found
}
