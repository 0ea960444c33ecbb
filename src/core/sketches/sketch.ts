import { VarintWriter } from '../varints'

/**
 * A mergeable sketch of times: counts in log-linear buckets as in HdrHistogram (Gil Tene, hdrhistogram.org),
 * with 64 linear buckets in every power of two. Values are whole microseconds from 0 to 2^40.
 * Any percentile read from it lies within SKETCH_ERROR of the exact one, relatively; merging adds no error.
 */
export interface Sketch {
  counts: Map<number, number>
  total: number
}

const LINEAR_BITS = 6
const LINEAR = 1 << LINEAR_BITS
/** How many buckets there are. */
export const BUCKETS = (40 - LINEAR_BITS + 2) << LINEAR_BITS

/** Half a bucket's width relative to its value, at most. */
export const SKETCH_ERROR = 1 / (2 * LINEAR)

export function emptySketch(): Sketch {
  return { counts: new Map(), total: 0 }
}

function bucketOf(value: number): number {
  if (value < LINEAR) return value < 0 ? 0 : Math.floor(value)
  if (value < 2 ** 31) {
    const shift = 31 - Math.clz32(value) - LINEAR_BITS
    return ((shift + 1) << LINEAR_BITS) + (value >>> shift) - LINEAR
  }
  const power = Math.floor(Math.log2(value)) - LINEAR_BITS
  return ((power + 1) << LINEAR_BITS) + Math.floor(value / 2 ** power) - LINEAR
}

/** The middle of a bucket, in microseconds. */
export function valueOfBucket(bucket: number): number {
  if (bucket < LINEAR) return bucket
  const power = (bucket >> LINEAR_BITS) - 1
  return ((bucket & (LINEAR - 1)) + LINEAR + 0.5) * 2 ** power
}

/** Adds one value in microseconds. */
export function addValue(sketch: Sketch, microseconds: number): void {
  const bucket = bucketOf(microseconds)
  sketch.counts.set(bucket, (sketch.counts.get(bucket) ?? 0) + 1)
  sketch.total += 1
}

/** Adds everything in `other` to `sketch`. */
export function mergeInto(sketch: Sketch, other: Sketch): void {
  for (const [bucket, count] of other.counts) sketch.counts.set(bucket, (sketch.counts.get(bucket) ?? 0) + count)
  sketch.total += other.total
}

/** What a sketch holds: the middle of every bucket in microseconds, with how many values lie in it, in rising order. */
export const bucketsOf = (sketch: Sketch): { value: number; count: number }[] => [...sketch.counts].sort((a, b) => a[0] - b[0]).map(([bucket, count]) => ({ value: valueOfBucket(bucket), count }))

/**
 * The value below or at which the given share of all values lies (nearest rank).
 * @returns microseconds; undefined when the sketch is empty
 */
export function percentile(sketch: Sketch, share: number): number | undefined {
  if (sketch.total === 0) return undefined
  const rank = Math.max(1, Math.ceil(share * sketch.total))
  let seen = 0
  for (const bucket of [...sketch.counts.keys()].sort((a, b) => a - b)) {
    seen += sketch.counts.get(bucket)!
    if (seen >= rank) return valueOfBucket(bucket)
  }
  return undefined
}

/** Writes a sketch for the store: pairs of (distance from the bucket before, count), each as LEB128 varint. */
export function encodeSketch(sketch: Sketch): Buffer {
  const bytes = new VarintWriter()
  let before = 0
  for (const bucket of [...sketch.counts.keys()].sort((a, b) => a - b)) {
    bytes.number(bucket - before)
    bytes.number(sketch.counts.get(bucket)!)
    before = bucket
  }
  return Buffer.from(bytes.done())
}

/** Adds an encoded sketch to another one without making it first. */
export function mergeEncoded(sketch: Sketch, encoded: Uint8Array): void {
  let place = 0
  let bucket = 0
  const varint = () => {
    let value = 0
    let factor = 1
    for (;;) {
      const byte = encoded[place++]!
      value += (byte & 127) * factor
      if (byte < 128) return value
      factor *= 128
    }
  }
  while (place < encoded.length) {
    bucket += varint()
    const count = varint()
    sketch.counts.set(bucket, (sketch.counts.get(bucket) ?? 0) + count)
    sketch.total += count
  }
}

/** Encodes plain values, in microseconds, without making a sketch first; the same bytes as encodeSketch gives. */
export function encodeValues(values: ArrayLike<number>): Buffer {
  const buckets = new Float64Array(values.length)
  for (let index = 0; index < values.length; index += 1) buckets[index] = bucketOf(values[index]!)
  buckets.sort()
  const bytes = new VarintWriter()
  let before = 0
  for (let index = 0; index < buckets.length;) {
    const bucket = buckets[index]!
    let end = index + 1
    while (end < buckets.length && buckets[end] === bucket) end += 1
    bytes.number(bucket - before)
    bytes.number(end - index)
    before = bucket
    index = end
  }
  return Buffer.from(bytes.done())
}
