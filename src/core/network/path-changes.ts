/** The steps of a path that were answered, by how far away they are. */
export type Steps = Record<number, string[]>

/**
 * How many steps of a path are others than before. A step that did not answer this time or last time proves nothing;
 * one that several routers share changes only when no router of before is among them.
 */
export function changedSteps(before: Steps, now: Steps): number[] {
  return Object.entries(now).flatMap(([away, addresses]) => {
    const last = before[Number(away)]
    return last && addresses.length > 0 && last.length > 0 && !addresses.some((address) => last.includes(address)) ? [Number(away)] : []
  })
}
