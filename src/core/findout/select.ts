/**
 * The number that would stand at a place if numbers were sorted, found without sorting them (quickselect: Hoare, CACM 4/7, 1961, with the
 * middle of three as pivot). Numbers are moved around. NaN is not allowed.
 * @param rank from 0 to the number of values minus 1
 */
export function selectAt(values: Float32Array, rank: number): number {
  let [low, high] = [0, values.length - 1]
  while (low < high) {
    const middle = (low + high) >> 1
    order(values, low, middle)
    order(values, low, high)
    order(values, middle, high)
    const pivot = values[middle]!
    let [left, right] = [low, high]
    while (left <= right) {
      while (values[left]! < pivot) left += 1
      while (values[right]! > pivot) right -= 1
      if (left > right) break
      swap(values, left, right)
      left += 1
      right -= 1
    }
    if (rank <= right) high = right
    else if (rank >= left) low = left
    else break
  }
  return values[rank]!
}

function swap(values: Float32Array, one: number, other: number): void {
  const kept = values[one]!
  values[one] = values[other]!
  values[other] = kept
}

function order(values: Float32Array, lower: number, upper: number): void {
  if (values[lower]! > values[upper]!) swap(values, lower, upper)
}

/** The value at or below which a share of numbers lies (nearest rank); undefined of none. Numbers are moved around. */
export const selectPercentile = (values: Float32Array, share: number): number | undefined => (values.length === 0 ? undefined : selectAt(values, Math.max(0, Math.ceil(share * values.length) - 1)))
