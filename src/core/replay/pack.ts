import { OCCASIONS, PHASES, VERDICTS, type Observation, type Phase } from '../observation'
import type { Instant } from '../units'
import { VarintWriter } from '../varints'

/** The tries of one check at one location in columns, oldest first. Times in milliseconds; NaN where a phase did not happen. */
export interface Tries {
  at: Float64Array
  /** Index into VERDICTS. */
  verdict: Uint8Array
  /** Index into OCCASIONS. */
  occasion: Uint8Array
  time: Float32Array
}

const STEP = 10
const MISSING = 0
/** Phases that every packed try has a number for, and those that follow only where a try has one of them. */
const FIRST: readonly Phase[] = ['lookup', 'connect', 'tls', 'wait', 'receive']
const REST: readonly Phase[] = PHASES.filter((phase) => !FIRST.includes(phase))
/** Set beside verdict and occasion when the rest follows. */
const HAS_REST = 64

/**
 * Packs the tries of one check at one location of a day into about 16 bytes each: the time since the last one, verdict
 * and occasion, then the total and each phase in hundredths of a millisecond, as variable-length numbers (LEB128).
 * Phases that few kinds have take no room where they are missing.
 */
export function packTries(observations: Observation[], dayStart: Instant): Uint8Array {
  const sorted = [...observations].sort((a, b) => a.at - b.at)
  const bytes = new VarintWriter(sorted.length * 18 + 8)
  bytes.number(sorted.length)
  let last = dayStart
  for (const { at, verdict, occasion, total, phases } of sorted) {
    bytes.number(Math.max(0, Math.round(at - last)))
    last = at
    const hasRest = REST.some((phase) => phases[phase] !== undefined)
    bytes.number(VERDICTS.indexOf(verdict) + 8 * OCCASIONS.indexOf(occasion) + (hasRest ? HAS_REST : 0))
    bytes.number(inSteps(total))
    for (const phase of FIRST) bytes.number(inSteps(phases[phase]))
    if (hasRest) for (const phase of REST) bytes.number(inSteps(phases[phase]))
  }
  return bytes.done()
}

/** Reads packed tries back, with the time of one phase or the total. */
export function unpackTries(packed: Uint8Array, dayStart: Instant, phase: Phase | 'total'): Tries {
  let position = 0
  // millions of numbers are read for one replay, so this is one loop without calls into objects
  const number = (): number => {
    let byte = packed[position++]!
    if (!(byte >= 128)) return byte
    let value = byte & 127
    for (let scale = 128; ; scale *= 128) {
      byte = packed[position++]!
      if (byte < 128) return value + byte * scale
      if (!(byte >= 0)) throw new Error('packed tries end in the middle')
      value += (byte & 127) * scale
    }
  }
  const count = number()
  const tries: Tries = { at: new Float64Array(count), verdict: new Uint8Array(count), occasion: new Uint8Array(count), time: new Float32Array(count) }
  const wanted = phase === 'total' ? 0 : [...FIRST, ...REST].indexOf(phase) + 1
  let at = dayStart
  for (let index = 0; index < count; index += 1) {
    at += number()
    tries.at[index] = at
    const kind = number()
    tries.verdict[index] = kind & 7
    tries.occasion[index] = (kind & (HAS_REST - 1)) >> 3
    const columns = kind >= HAS_REST ? PHASES.length : FIRST.length
    if (wanted > columns) tries.time[index] = Number.NaN
    for (let column = 0; column <= columns; column += 1) {
      const value = number()
      if (column === wanted) tries.time[index] = value === MISSING ? Number.NaN : (value - 1) / (1000 / STEP)
    }
    if (position > packed.length) throw new Error('packed tries end in the middle')
  }
  return tries
}

/** The same columns from observations as they are. */
export function columnsOf(observations: Observation[], phase: Phase | 'total'): Tries {
  const sorted = [...observations].sort((a, b) => a.at - b.at)
  return {
    at: Float64Array.from(sorted, (each) => each.at), verdict: Uint8Array.from(sorted, (each) => VERDICTS.indexOf(each.verdict)), occasion: Uint8Array.from(sorted, (each) => OCCASIONS.indexOf(each.occasion)),
    time: Float32Array.from(sorted, (each) => (phase === 'total' ? each.total : each.phases[phase] ?? Number.NaN))
  }
}

const inSteps = (milliseconds: number | undefined): number => (milliseconds === undefined ? MISSING : 1 + Math.max(0, Math.round(milliseconds * (1000 / STEP))))
