import type { Numbers } from '../numbers/points'
import type { Unit } from './subject'
import type { Milliseconds } from '../units'
import type { Phase } from '../observation'
import type { StatusRange } from '../definitions/status-set'

/** A range with hard ends, and softer ends that only warn. Every end is optional; ends themselves are inside. */
export interface Limits {
  min?: number
  max?: number
  warnMin?: number
  warnMax?: number
}

/** How a text value is judged; exactly one is set, or none when it only has to be there. */
export interface TextTest {
  is?: string | number | boolean | null
  has?: string
  matches?: string
}

/** How values in words are judged: `is` names all of them, whatever their order; `has` and `matches` look for one. */
export interface FactTest {
  is?: string[]
  has?: string
  matches?: string
}

export type ConditionTest =
  | { on: 'status'; set: StatusRange[] }
  | { on: 'text'; text: string }
  | { on: 'pattern'; pattern: string }
  | { on: 'json'; path: string; test: TextTest; value?: Limits; count?: Limits }
  | { on: 'xml'; path: string; test: TextTest; value?: Limits; count?: Limits }
  | { on: 'header'; name: string; test: TextTest }
  | { on: 'certificate'; left: Limits }
  | { on: 'size'; bytes: Limits }
  | { on: 'metric'; name: string; unit: Unit; rate: boolean; limits: Limits; for: Milliseconds; margin: number }
  | { on: 'phase'; phase: Phase | 'total'; time: Limits }
  | { on: 'reading'; name: string; says: string; unit: Unit; limits: Limits }
  | { on: 'fact'; name: string; says: string; many: string; test: FactTest; count?: Limits }

export interface Condition {
  test: ConditionTest
  /** Turned round: it holds when the test does not. */
  not: boolean
  /** Its failure only warns. */
  softly: boolean
}

/** What a condition can look at. Times in milliseconds; `certificateLeft` is negative after the end. */
export interface Answer {
  status?: number
  headers: [string, string][]
  body: string
  bytes: number
  times: Partial<Record<Phase | 'total', Milliseconds>>
  certificateLeft?: Milliseconds
  /** Numbers of the kind, by name; one that is missing could not be measured. */
  readings?: Record<string, number>
  /** Numbers that a host or a service gave, with their recent past. */
  numbers?: Numbers
  /** What the kind found out in words, by name; none is an empty list. */
  facts?: Record<string, string[]>
}
