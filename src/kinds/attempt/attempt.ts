import type { Duplex } from 'node:stream'
import type { Answer } from '../../core/conditions/condition'
import { judgeAnswer } from '../../core/conditions/judge-answer'
import type { Check } from '../../core/definitions/check'
import type { KindDefinition } from '../../core/definitions/kind'
import type { AskInside, InsideAnswer, InsideQuestion } from '../../core/inside/inside'
import { redactAll } from '../../core/layers/redact'
import type { Evidence, StepTime } from '../../core/observation'
import type { Reason } from '../../core/reasons/reasons'
import type { Milliseconds } from '../../core/units'
import type { Link } from '../link'
import type { KindRunner, Measured } from '../runner'
import { failureOf, TryFailure } from './failure'
import { addressesOf, guard, open, secure, seenOf, type Begin, type Destination, type Opened, type Secure } from './open'
import { patience } from './patience'
import { PhaseClock } from './phase-clock'
import { printable, Talk } from './talk'

/** What a try brings for its conditions; everything may be missing. */
export type Brought = Partial<Omit<Answer, 'times'>> & {
  /** What counts as the time of the try, where it is not how long the try took: the round trip of a ping. */
  took?: Milliseconds
  /** The kind has judged by itself; the conditions are not asked. */
  said?: { verdict: 'pass' } | { verdict: 'warn'; reason: Reason; sentence: string }
}

/** A try while it runs: what a kind needs to ask its target and to keep what it finds. */
export class Trying {
  readonly found: Partial<Opened> = {}
  readonly talk: Talk
  /** What is kept even when the try fails. */
  readonly evidence: Evidence = {}
  readonly facts: Record<string, string[]> = {}
  readonly readings: Record<string, number> = {}
  /** What it did one after the other. */
  readonly steps: StepTime[] = []
  readonly noted: Partial<Pick<Measured, 'status' | 'server' | 'protocol' | 'bytesSent' | 'bytesReceived'>> = {}
  /** Values that came up in the try and must not be recorded: tokens that were given, cookies. */
  readonly secrets: string[] = []
  /** How long the try took, once what follows no longer counts. */
  ended: Milliseconds | undefined
  private readonly sockets: Duplex[] = []

  /**
   * @param signal aborts when the try may take no longer
   * @param memory what this check at this location remembers from one try to the next, while the probe runs
   */
  constructor(readonly link: Link, readonly clock: PhaseClock, readonly signal: AbortSignal, readonly bodyKept: number, readonly memory: Map<string, unknown>, private readonly asksInside?: AskInside) {
    this.talk = new Talk(clock.started)
  }

  /** Asks Hemeron what only itself knows. Throws TryFailure `cannot-tell` while it cannot be asked. */
  async inside(question: InsideQuestion): Promise<InsideAnswer> {
    if (!this.asksInside) throw new TryFailure('cannot-tell', 'this can only be judged by Hemeron itself')
    try {
      return await this.asksInside(question)
    } catch (error) {
      throw new TryFailure('cannot-tell', `Hemeron could not be asked: ${error instanceof Error ? error.message : String(error)}`)
    }
  }

  begin: Begin = (phase) => this.clock.begin(phase)

  /** Opens a connection; it is closed when the try is over. */
  async open(to: Destination): Promise<Duplex> {
    const { socket } = await open(to, this.link, this.begin, this.signal, this.found)
    return this.keep(socket)
  }

  /** Shakes hands for TLS over a connection that is open already. */
  async secure(socket: Duplex, host: string, how: Secure): Promise<Duplex> {
    const secured = await secure(socket, host, how, this.link, this.begin, this.signal, this.found)
    // from now on the connection below is TLS's to close; closing it first would take it away under TLS's hands
    this.sockets.splice(this.sockets.indexOf(socket), 1)
    return this.keep(secured)
  }

  /** Shakes hands for TLS over a connection beside the main one, in the same session, without its time or certificate counting. */
  async secureAside(socket: Duplex, host: string, verify: boolean): Promise<Duplex> {
    const secured = await secure(socket, host, { verify, ...(this.found.session ? { session: this.found.session } : {}) }, this.link, () => undefined, this.signal, {})
    return this.keep(secured)
  }

  /** The first address of a host that this location may ask. */
  async address(host: string, family?: 4 | 6): Promise<string> {
    const [address] = await addressesOf({ host, ...(family ? { family } : {}) }, this.link, this.begin, this.signal, this.found)
    guard(address!, this.link)
    this.found.address = address!
    return address!
  }

  /** What follows no longer counts as the try's time: cleaning up. */
  end(): void {
    this.ended = this.clock.stop()
  }

  /** The same link for work beside the try, with a time of its own; it counts in none of the try's phases. */
  aside(signal: AbortSignal): Trying {
    return new Trying(this.link, new PhaseClock(performance.now()), signal, this.bodyKept, this.memory, this.asksInside)
  }

  /** Rejects when the try may take no longer, for work that cannot be stopped otherwise. */
  whenOver(): Promise<never> {
    const over = new Promise<never>((_, reject) => {
      if (this.signal.aborted) reject(new Error('aborted'))
      else this.signal.addEventListener('abort', () => reject(new Error('aborted')), { once: true })
    })
    over.catch(() => undefined)
    return over
  }

  /** Keeps an answer as text, as far as evidence goes; gives it whole for conditions. */
  answer(body: Buffer | string): string {
    const text = typeof body === 'string' ? body : new TextDecoder('utf-8').decode(body)
    this.evidence.answer = { status: 0, statusText: '', headers: [], body: printable(text.slice(0, this.bodyKept)), bodyCut: text.length > this.bodyKept, bodyBytes: Buffer.byteLength(body) }
    return text
  }

  close(): void {
    for (const socket of this.sockets) socket.destroy()
  }

  private keep(socket: Duplex): Duplex {
    socket.on('error', () => undefined)
    this.sockets.push(socket)
    return socket
  }
}

/**
 * Makes a kind's run of what it does between the start and the answer. Time, failures, conditions, evidence and the
 * hiding of credentials are the same for all kinds.
 */
export function runnerOf<Target>(definition: KindDefinition<Target>, act: (target: Target, trying: Trying, check: Check<Target>) => Promise<Brought>): KindRunner<Target> {
  return {
    run: async (check, link, options) => {
      const { signal, isOver, end } = patience(check.wait)
      const trying = new Trying(link, new PhaseClock(performance.now()), signal, options.bodyKept, options.memory ?? new Map(), options.inside)
      let brought: Brought | undefined
      let failure: { reason: string; sentence: string } | undefined
      try {
        brought = await act(check.target, trying, check)
      } catch (error) {
        const { reason, message } = failureOf(error, trying.clock.phase, isOver(), check.wait)
        failure = { reason, sentence: message }
      } finally {
        end()
        trying.close()
      }
      const total = trying.ended ?? trying.clock.stop()
      return redactAll(measured(check, trying, brought, failure, brought?.took ?? total), [...definition.secretsOf(check.target), ...trying.secrets])
    }
  }
}

function measured(check: Check<unknown>, trying: Trying, brought: Brought | undefined, failure: { reason: string; sentence: string } | undefined, total: number): Measured {
  const { found, noted, evidence, clock } = trying
  const readings = { ...trying.readings, ...brought?.readings }
  const facts = { ...trying.facts, ...brought?.facts }
  const { certificate } = found
  const { verdict, findings } = brought?.said ? { verdict: brought.said, findings: [] } : judgeAnswer(check as Check, failure ?? {
    headers: [], body: '', bytes: brought?.body === undefined ? 0 : Buffer.byteLength(brought.body),
    ...(certificate ? { certificateLeft: certificate.validTo - Date.now() } : {}), ...brought, readings, facts, times: { ...clock.times, total }
  })
  return {
    ...verdict,
    phases: clock.times,
    total,
    ...noted,
    ...(brought?.status === undefined ? {} : { status: brought.status }),
    ...seenOf(found),
    ...(Object.keys(readings).length > 0 ? { readings } : {}),
    ...(trying.steps.length > 0 ? { steps: trying.steps } : {}),
    evidence: {
      ...evidence,
      ...(found.lookup ? { lookup: found.lookup } : {}),
      ...(certificate ? { certificate } : {}),
      ...(trying.talk.lines.length > 0 ? { talk: trying.talk.lines } : {}),
      ...(findings.length > 0 ? { conditions: findings } : {})
    }
  }
}
