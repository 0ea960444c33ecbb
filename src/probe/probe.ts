import { setTimeout as sleep } from 'node:timers/promises'
import type { Check } from '../core/definitions/check'
import { acceptedCheck } from '../core/definitions/read-check'
import { isWithinHours } from '../core/hours/hours'
import type { AskInside } from '../core/inside/inside'
import { redactAll } from '../core/layers/redact'
import type { Observation, Occasion, Verdict } from '../core/observation'
import { kinds } from '../kinds/definitions'
import type { Link } from '../kinds/link'
import { runners } from '../kinds/runners'
import { Outbox } from './outbox'
import { Scheduler } from './scheduler'
import { ServerClock } from './server-clock'
import { Turnstile } from './turnstile'
import type { Spool } from './spool'
import { LineWatch } from './line-watch'
import { proxiedLink } from './links/proxied-link'
import { WireError, type Assignments, type Orders, type ProbeLocation, type Runnable, type Wire } from './wire'

/** Runs going on at the same time; more wait their turn. */
const AT_ONCE = 600
/** Tries, and runs that a person asked for, going on at the same time: thousands may be asked for at once, and what is watched must not suffer from them. */
const TRIES_AT_ONCE = 40
const ASKED_AT_ONCE = 24
/** One passing observation in so many keeps its evidence. */
const SAMPLE = 40
/** How many scheduled runs the lateness is judged by, and how often the probe says how it is. */
const LATENESS_KEPT = 2000
const HEALTH_EVERY = 5000
const BODY_KEPT = { observation: 16_000, try: 200_000 }

interface Assigned {
  id: number
  version: number
  check: Check
  used: Runnable['used']
  secrets: string[]
  missing?: string
  locations: number[]
}

/** A probe: holds its own schedule, runs checks through links and hands observations over. */
export class Probe {
  private checks = new Map<number, Assigned>()
  private readonly links = new Map<number, Link>()
  private zone = 'UTC'
  private readonly verdicts = new Map<string, Verdict>()
  private readonly memories = new Map<string, Map<string, unknown>>()
  private readonly outbox: Outbox
  private readonly clock = new ServerClock()
  private readonly scheduler: Scheduler
  private readonly lines = new LineWatch(() => this.wakeHealth())
  private readonly lateness: number[] = []
  private wakeHealth: () => void = () => undefined
  private readonly runs = new Turnstile(AT_ONCE)
  private readonly tries = new Turnstile(TRIES_AT_ONCE)
  private readonly asked = new Turnstile(ASKED_AT_ONCE)
  private readonly pending = new Set<string>()
  private stopped = false

  /**
   * @param linkOf makes the link of a location
   * @param late is told how late each scheduled run began, in milliseconds
   */
  constructor(
    private readonly wire: Wire, private readonly spool: Spool, private readonly linkOf: (location: ProbeLocation) => Link,
    private readonly say: (text: string) => void, private readonly late: (milliseconds: number) => void = () => undefined
  ) {
    this.outbox = new Outbox(wire, spool, say)
    this.scheduler = new Scheduler((item, due) => {
      this.late(Date.now() - due)
      this.lateness.push(Date.now() - due)
      if (this.lateness.length > LATENESS_KEPT) this.lateness.shift()
      const assigned = this.checks.get(item.check)
      if (assigned && isWithinHours(assigned.check.hours, due, this.zone)) void this.observe(assigned, item.location, 'scheduled')
    })
  }

  /** Works until `stop`. A server that is away is waited for; the schedule goes on meanwhile. */
  async run(): Promise<void> {
    await Promise.all([this.followAssignments(), this.followOrders(), this.sayHealth()])
  }

  async stop(): Promise<void> {
    this.stopped = true
    this.scheduler.stop()
    this.lines.stop()
    this.wakeHealth()
    await this.outbox.stop()
  }

  private async followAssignments(): Promise<void> {
    let etag: string | undefined
    while (!this.stopped) {
      try {
        const assignments = await this.wire.assignments(etag)
        if (!assignments) continue
        etag = assignments.etag
        this.assign(assignments)
      } catch (error) {
        await this.pauseAfter(error)
      }
    }
  }

  private assign({ locations, checks, zone }: Assignments): void {
    this.zone = zone
    for (const location of locations) {
      const link = this.linkOf(location)
      this.links.set(location.id, location.proxy === null ? link : proxiedLink(link, location.proxy))
    }
    this.lines.set(locations.map(({ id, references }) => ({ id, references, link: this.links.get(id)! })))
    this.checks = new Map(checks.flatMap(({ document, locations: places, ...rest }) => {
      try {
        return [[rest.id, { ...rest, check: acceptedCheck(document, kinds), locations: places.map((place) => place.id) }] as const]
      } catch {
        this.say(`check ${document.check} needs a newer probe`)
        return []
      }
    }))
    for (const key of this.memories.keys()) {
      const [id, version] = key.split('/').map(Number)
      if (this.checks.get(id!)?.version !== version) this.memories.delete(key)
    }
    this.scheduler.set(checks.flatMap(({ id, locations: places }) => places.flatMap(({ id: location, turn }) => {
      const every = this.checks.get(id)?.check.every
      return every === undefined ? [] : [{ check: id, location, every, ...(turn ? { turn } : {}) }]
    })))
    this.say(`${this.checks.size} checks at ${locations.length} locations`)
  }

  private async followOrders(): Promise<void> {
    while (!this.stopped) {
      try {
        const orders = await this.wire.orders()
        for (const run of orders.runs) void this.runOrder(run)
        for (const each of orders.tries) void this.tryOnce(each)
      } catch (error) {
        await this.pauseAfter(error)
      }
    }
  }

  private async runOrder(run: { check: number; location: number; at: number; occasion: Occasion }): Promise<void> {
    await sleep(Math.max(0, run.at - Date.now()))
    for (let waited = 0; waited < 5000 && !this.checks.has(run.check); waited += 50) await sleep(50)
    const assigned = this.checks.get(run.check)
    if (!assigned?.locations.includes(run.location)) return
    const observe = () => this.observe(assigned, run.location, run.occasion)
    // another try after a failure waits for nobody
    if (run.occasion !== 'asked') return observe()
    // an order that waits its turn here is handed out again after a while
    const key = `${run.check}/${run.location}/${run.at}`
    if (this.pending.has(key)) return
    this.pending.add(key)
    await this.asked.through(observe).finally(() => this.pending.delete(key))
  }

  private async tryOnce({ id, location, document, ...rest }: Orders['tries'][number]): Promise<void> {
    const assigned = { id: 0, version: 0, check: acceptedCheck(document, kinds), locations: [location], ...rest }
    const observation = await this.tries.through(() => this.measure(assigned, location, 'asked', BODY_KEPT.try, (question) => this.wire.inside({ try: id }, question)))
    await this.wire.tries([{ id, location, observation }]).catch((error: unknown) => this.say(`a try could not be answered: ${String(error)}`))
  }

  /** Says how the probe is, every few seconds and whenever a location loses its line or has it again. */
  private async sayHealth(): Promise<void> {
    let clockOffset: number | null = null
    while (!this.stopped) {
      const sent = Date.now()
      try {
        const lateness = [...this.lateness].sort((a, b) => a - b)
        const { now } = await this.wire.health({
          clockOffset, backlog: this.spool.size(), lateness: lateness[Math.floor(lateness.length * 0.99)] ?? 0, checks: this.checks.size, lines: this.lines.states()
        })
        // the server's time was taken about half way between sending and hearing (as in RFC 5905)
        const heard = Date.now()
        const offset: number = (sent + heard) / 2 - now
        this.clock.heard(offset, heard - sent)
        const isFirst: boolean = clockOffset === null
        clockOffset = offset
        if (isFirst) continue
      } catch (error) {
        await this.pauseAfter(error)
      }
      await Promise.race([sleep(HEALTH_EVERY, undefined, { ref: false }), new Promise<void>((resolve) => { this.wakeHealth = resolve })])
    }
  }

  private async observe(assigned: Assigned, location: number, occasion: Occasion): Promise<void> {
    const measured = await this.measure(assigned, location, occasion, BODY_KEPT.observation, (question) => this.wire.inside({ id: assigned.id }, question))
    // what cannot be told is no observation: the state stays as it is, and becomes No data when that lasts
    if (measured.reason === 'cannot-tell') return
    const isCut = measured.verdict === 'fail' && (await this.lines.isCut(location))
    const observation: Observation = isCut ? { ...measured, occasion: 'cut-off', reason: 'line-away', sentence: `no reference target answers here either; ${measured.sentence ?? ''}` } : measured
    const key = `${assigned.id}/${location}`
    const changed = this.verdicts.get(key) !== observation.verdict
    this.verdicts.set(key, observation.verdict)
    const keepsEvidence = observation.verdict !== 'pass' || changed || occasion !== 'scheduled' || observation.evidence?.beside !== undefined || Math.random() * SAMPLE < 1
    if (!keepsEvidence) delete observation.evidence
    this.outbox.put(observation)
  }

  private measure(assigned: Assigned, location: number, occasion: Occasion, bodyKept: number, inside: AskInside): Promise<Observation> {
    return this.runs.through(() => this.measureNow(assigned, location, occasion, bodyKept, inside))
  }

  private async measureNow({ id, version, check, used, secrets, missing }: Assigned, location: number, occasion: Occasion, bodyKept: number, inside: AskInside): Promise<Observation> {
    const at = this.clock.now()
    try {
      if (missing) return { check: id, location, at, occasion, version, verdict: 'fail', reason: 'variable-missing', sentence: missing, phases: {}, total: 0 }
      const measured = redactAll(await runners[check.kind]!.run(check, this.links.get(location)!, { bodyKept, inside, memory: this.memoryOf(`${id}/${version}/${location}`) }), secrets)
      return { check: id, location, at, occasion, version, ...measured, ...(used.length > 0 ? { evidence: { ...measured.evidence, variables: used } } : {}) }
    } catch (error) {
      this.say(`${check.key}: ${error instanceof Error ? error.stack : String(error)}`)
      return { check: id, location, at, occasion, version, verdict: 'fail', reason: 'probe-fault', sentence: 'the probe could not run this check; its log says why', phases: {}, total: this.clock.now() - at }
    }
  }

  private memoryOf(key: string): Map<string, unknown> {
    if (key.startsWith('0/')) return new Map()
    const memory = this.memories.get(key) ?? new Map<string, unknown>()
    this.memories.set(key, memory)
    return memory
  }

  private async pauseAfter(error: unknown): Promise<void> {
    if (error instanceof WireError && error.status === 401) this.say('the server does not know this token')
    await sleep(error instanceof WireError ? 2000 : 500)
  }
}
