/** Random numbers that are always the same for the same seed, so that history and live runs agree. */
export function seeded(...seeds: number[]): () => number {
  let state = 0x9e3779b9
  for (const seed of seeds) state = mix(state ^ mix(Math.floor(seed % 4_294_967_296) ^ Math.floor(seed / 4_294_967_296)))
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let value = Math.imul(state ^ (state >>> 15), 1 | state)
    value = (value + Math.imul(value ^ (value >>> 7), 61 | value)) ^ value
    return ((value ^ (value >>> 14)) >>> 0) / 4_294_967_296
  }
}

function mix(number: number): number {
  let hash = number | 0
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  hash = Math.imul(hash ^ (hash >>> 13), 0xc2b2ae35)
  return hash ^ (hash >>> 16)
}

/** A factor around 1 with a long upper tail, as response times have. */
export function tail(random: () => number, spread: number): number {
  const normal = Math.sqrt(-2 * Math.log(1 - random() * 0.999)) * Math.cos(2 * Math.PI * random())
  return Math.exp(spread * normal)
}
