import type { Sample } from '../numbers/points'
import type { CheckState } from '../states/check-state'
import type { Instant } from '../units'

/** What a job said when it called: that it begins, or that it has ended. */
export interface Call {
  at: Instant
  event: 'begin' | 'end'
  /** The exit code of an end; 0 when the job said nothing of one. */
  exit?: number
  /** Tells runs of one job apart that go on at the same time. */
  run?: string
  /** The end of what the job printed. */
  output?: string
}

/** Numbers that came in together. */
export interface Push {
  at: Instant
  samples: Sample[]
}

/** A check as another one sees it. */
export interface Member {
  key: string
  name: string
  state: CheckState
  since: Instant
}

/** What a check that is judged inside Hemeron asks for; everything comes from the store, never from the network. */
export interface InsideQuestion {
  /** The latest calls of the check's job. */
  calls?: true
  /** Pushes since a moment: the newest whole, of the others only numbers with these names (without labels). */
  pushes?: { since: Instant; names: string[] }
  /** The states of checks, by key. */
  members?: string[]
}

export interface InsideAnswer {
  now: Instant
  /** The workspace's zone, in which people read. */
  zone: string
  /** When the check was made; missing for one that is not saved. */
  made?: Instant
  /** The last stretch in which Hemeron was away and could not be called. */
  away?: { from: Instant; to: Instant }
  calls: Call[]
  pushes: Push[]
  members: Member[]
}

/** Asks for what only Hemeron itself knows. Rejects when it cannot be asked at the moment. */
export type AskInside = (question: InsideQuestion) => Promise<InsideAnswer>
