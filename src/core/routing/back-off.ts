/** How long to wait before the next try of a delivery: 2 s, 4 s, 8 s … at most 10 min; undefined when it is given up. */
export function backOff(triesMade: number): number | undefined {
  return triesMade >= 12 ? undefined : Math.min(600_000, 1000 * 2 ** triesMade)
}
