import type { Check } from '../core/definitions/check'
import type { AskInside } from '../core/inside/inside'
import type { Observation } from '../core/observation'
import type { Link } from './link'

/** The part of an observation that a kind measures; the probe adds which, where, when and why. */
export type Measured = Pick<Observation,
  'verdict' | 'reason' | 'sentence' | 'phases' | 'total' | 'status' | 'address' | 'server' | 'protocol' | 'resolver' | 'tlsVersion' | 'steps' |
  'bytesSent' | 'bytesReceived' | 'certificateEnd' | 'readings' | 'evidence'>

/** How a kind runs one try. It never rejects: every way to fail is an observation, within `check.wait`. */
export interface KindRunner<Target = unknown> {
  run: (check: Check<Target>, link: Link, options: RunOptions) => Promise<Measured>
}

export interface RunOptions {
  /** How much of an answer's body is kept as evidence, in characters. */
  bodyKept: number
  /** What the check remembers at this location from one try to the next; empty when the probe has started anew. */
  memory?: Map<string, unknown>
  /** Asks Hemeron what only itself knows, for kinds that are judged inside. */
  inside?: AskInside
}
