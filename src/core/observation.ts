import type { VariableOrigin } from './layers/variables'
import type { Instant, Milliseconds } from './units'

/**
 * The parts of an observation's time, in the order in which they happen. Every kind uses those that mean something for it:
 * `greet` is what a server says before it is asked, `login` an account being accepted, `send` handing something over,
 * `wait` from the question to the beginning of the answer, `receive` the rest of the answer, `remove` taking away what the
 * check itself has made.
 */
export const PHASES = ['lookup', 'connect', 'greet', 'tls', 'login', 'send', 'wait', 'receive', 'remove'] as const
export type Phase = (typeof PHASES)[number]
export type PhaseTimes = Partial<Record<Phase, Milliseconds>>

/** Readings that are measured beside some tries and can be asked about as times can: loss as a share, the round trip, the resolution from the root, the steps on the way. */
export const BESIDE = ['loss', 'rtt', 'resolution', 'hops'] as const
export type Beside = (typeof BESIDE)[number]

export const VERDICTS = ['pass', 'warn', 'slow', 'fail'] as const
export type Verdict = (typeof VERDICTS)[number]

/** Why an observation was made: by the schedule, as another try after a failure, because a person asked, or because something was told: a call, numbers, another check. */
export const OCCASIONS = ['scheduled', 'again', 'asked', 'cut-off', 'told'] as const
export type Occasion = (typeof OCCASIONS)[number]

/** The result of one try of one check at one location. */
export interface Observation {
  check: number
  location: number
  /** When the try began; with check and location the key of the observation. */
  at: Instant
  occasion: Occasion
  verdict: Verdict
  /** A code from the closed list of reasons; undefined for a pass. */
  reason?: string
  /** The reason as a sentence a person understands; undefined for a pass. */
  sentence?: string
  phases: PhaseTimes
  /** From the start of the lookup to the last byte. */
  total: Milliseconds
  /** The code the protocol answers with, where it has one: HTTP, SMTP, FTP, SIP, gRPC. */
  status?: number
  /** Numbers that the kind measures beside the time, by name: `loss`, `jitter`, `hops`. Shares from 0 to 1, times in milliseconds. */
  readings?: Record<string, number>
  /** The address that answered. */
  address?: string
  /** Which server says it answered, from its own header where it sends one. */
  server?: string
  protocol?: string
  /** The resolver that was asked for the address of the name. */
  resolver?: string
  /** Which version of TLS was agreed on. */
  tlsVersion?: string
  bytesSent?: number
  bytesReceived?: number
  certificateEnd?: Instant
  /** What it did one after the other, of kinds that have steps, as far as it came. */
  steps?: StepTime[]
  /** The version of the definition that was run. */
  version: number
  evidence?: Evidence
}

/** One of several things that a try did one after the other. */
export interface StepTime {
  name: string
  took: Milliseconds
  status?: number
  /** The try failed at this step. */
  failed?: true
}

/** What was seen of one try, kept for failures, changes and a sample of the rest. Redacted before it leaves the probe. */
export interface Evidence {
  request?: { method: string; url: string; headers: [string, string][] }
  answer?: { status: number; statusText: string; headers: [string, string][]; body: string; bodyCut: boolean; bodyBytes: number }
  redirects?: { status: number; from: string; to: string }[]
  lookup?: { name: string; resolver: string; answers: string[]; ms: Milliseconds; error?: string }
  certificate?: CertificateFacts
  conditions?: ConditionFinding[]
  /** What the kind found out, as names with their values. */
  facts?: [string, string][]
  tables?: EvidenceTable[]
  /** What was looked at beside the try shortly before it: the way to the address, the resolution of the name. */
  beside?: EvidenceTable[]
  /** What was said over a connection, line by line; `ms` counts from the start of the try. */
  talk?: { way: 'sent' | 'received' | 'note'; text: string; ms: Milliseconds }[]
  /** The variables this try used and where each came from; a secret has no value here. */
  variables?: { name: string; from: VariableOrigin; value?: string }[]
}

/** Rows of things that came one after another: hops of a path, servers of a delegation, steps of a sequence. */
export interface EvidenceTable {
  title: string
  /** `time` columns hold milliseconds and share one scale, `length` ones stand alone; `share` columns hold 0 to 1, `moment` ones instants. */
  columns: { name: string; as?: 'code' | 'time' | 'length' | 'moment' | 'share' | 'number' }[]
  rows: (string | number | null)[][]
}

export interface CertificateFacts {
  subject: string
  issuer: string
  names: string[]
  validFrom: Instant
  validTo: Instant
  fingerprint: string
  protocol: string
  cipher: string
  trusted: boolean
  distrust?: string
  /** Who issued it, who issued that one, and so on, as far as the server or this location knows them. */
  chain?: { subject: string; issuer: string; validTo: Instant }[]
}

/** How one condition did on one answer. */
export interface ConditionFinding {
  /** Its place in the list, from 0. */
  index: number
  outcome: 'held' | 'warned' | 'failed'
  /** What was found, in words. */
  found: string
}
