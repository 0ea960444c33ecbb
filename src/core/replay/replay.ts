import { VERDICTS } from '../observation'
import { judgeCheck } from '../states/check-state'
import { rememberTry, type LocationMemory, type Seen, type StateRule } from '../states/location-memory'
import { nextTries } from '../states/next-tries'
import type { Instant, Milliseconds } from '../units'
import type { Tries } from './pack'

/** One incident a rule would have opened. */
export interface ReplayedIncident {
  trouble: 'down' | 'slow'
  /** The first failed or slow try of it. */
  from: Instant
  /** When it would have been called. */
  called: Instant
  /** When it would have been over; missing when it still lasted at the end. */
  to?: Instant
  failing: number
}

export interface Replayed {
  incidents: ReplayedIncident[]
  /** Tries looked at, the ones the rule would have asked for included. */
  tries: number
  /** Tries that failed by chance: outside every incident. */
  strayFailures: number
}

/** The rule to play and the past to play it on. */
export interface ReplayInput {
  rule: StateRule
  inTurn: boolean
  /** Time limits for slow by location and moment, for a rule against what is usual; undefined where that is not known. */
  limit?: (location: number, at: Instant) => Milliseconds | undefined
}

const [PASS, FAIL] = [VERDICTS.indexOf('pass'), VERDICTS.indexOf('fail')]
const AGAIN = 1
const CUT_OFF = 3

/**
 * Plays a rule for down and slow on the recorded tries of a check, through the same state machine that runs live.
 * Scheduled tries are taken as they were; the tries the rule would have asked for have the outcome of the recorded try
 * nearest in time at that location. Give the past piece by piece, in order.
 */
export class Replay {
  private readonly memories = new Map<number, LocationMemory>()
  private readonly wanted: { at: Instant; location: number }[] = []
  private open?: ReplayedIncident
  private pending = 0
  private readonly result: Replayed = { incidents: [], tries: 0, strayFailures: 0 }

  /** @param locations in the order in which they are asked after a first failure */
  constructor(private readonly input: ReplayInput, private readonly locations: number[]) {}

  /** Takes in a piece of the past, such as a day: the tries of every location. */
  feed(piece: ReadonlyMap<number, Tries>): void {
    const places = this.locations.flatMap((location) => {
      const tries = piece.get(location)
      return tries && tries.at.length > 0 ? [{ location, tries, next: 0 }] : []
    })
    for (;;) {
      let first: (typeof places)[number] | undefined
      for (const place of places) {
        while (place.next < place.tries.at.length && (place.tries.occasion[place.next] === AGAIN || place.tries.occasion[place.next] === CUT_OFF)) place.next += 1
        if (place.next < place.tries.at.length && (!first || place.tries.at[place.next]! < first.tries.at[first.next]!)) first = place
      }
      const due = this.wanted[0]
      if (due && (!first || due.at < first.tries.at[first.next]!)) {
        this.wanted.shift()
        const tries = piece.get(due.location)
        if (tries && tries.at.length > 0) this.take(due.location, due.at, tries, nearest(tries, due.at))
        continue
      }
      if (!first) return
      this.take(first.location, first.tries.at[first.next]!, first.tries, first.next)
      first.next += 1
    }
  }

  done(): Replayed {
    if (this.open) this.result.incidents.push(this.open)
    delete this.open
    return this.result
  }

  private take(location: number, at: Instant, tries: Tries, index: number): void {
    this.result.tries += 1
    const memory = this.memories.get(location)
    const verdict = this.verdictOf(location, at, tries, index)
    if (verdict.verdict === 'pass' && this.isQuiet(memory)) {
      memory.lastAt = at
      memory.lastPassAt = at
      return
    }
    const next = rememberTry(memory, verdict, this.input.rule)
    if (next === memory) return
    this.memories.set(location, next)
    if (verdict.verdict === 'fail') this.pending += this.open ? 0 : 1
    for (const wanted of nextTries(location, verdict, this.memories, this.input.rule, this.locations, at, this.input.inTurn)) this.ask(wanted)
    this.judge(at)
  }

  /** A pass where all is well changes nothing but the time of the last pass. */
  private isQuiet(memory: LocationMemory | undefined): memory is LocationMemory {
    return memory !== undefined && this.open === undefined && memory.lastVerdict === 'pass' && memory.failingSince === undefined && !memory.slow && memory.slowSince === undefined
  }

  private verdictOf(location: number, at: Instant, tries: Tries, index: number): Seen {
    if (tries.verdict[index] === FAIL) return { at, verdict: 'fail' }
    const { slow } = this.input.rule
    const time = tries.time[index]!
    const limit = !slow ? undefined : slow.above === 'usual' ? this.input.limit?.(location, at) : slow.above
    if (slow && limit !== undefined && time > limit) return { at, verdict: 'slow' }
    // a warning is neither a failure nor slow; it is a pass here
    return { at, verdict: VERDICTS[PASS]!, ...(slow && limit !== undefined ? { quick: time <= limit * (1 - slow.margin) } : {}) }
  }

  private ask(wanted: { at: Instant; location: number }): void {
    if (this.wanted.some((each) => each.location === wanted.location && Math.abs(each.at - wanted.at) < 500)) return
    const place = this.wanted.findIndex((each) => each.at > wanted.at)
    if (place < 0) this.wanted.push(wanted)
    else this.wanted.splice(place, 0, wanted)
  }

  private judge(at: Instant): void {
    const judgement = judgeCheck(this.locations.map((location) => this.memories.get(location)), this.input.rule)
    const trouble = judgement.down ? 'down' as const : judgement.slow ? 'slow' as const : undefined
    if (trouble && !this.open) {
      this.open = { trouble, from: judgement.since ?? at, called: at, failing: trouble === 'down' ? judgement.failing : judgement.needed }
      this.pending = 0
    } else if (trouble && this.open) {
      this.open.failing = Math.max(this.open.failing, judgement.failing)
      if (trouble === 'down') this.open.trouble = 'down'
    } else if (!trouble && this.open) {
      this.result.incidents.push({ ...this.open, to: at })
      delete this.open
    }
    if (!trouble && judgement.state === 'up') {
      this.result.strayFailures += this.pending
      this.pending = 0
    }
  }
}

/** The index of the try nearest to a moment. */
function nearest({ at }: Tries, moment: Instant): number {
  let [low, high] = [0, at.length - 1]
  while (low < high) {
    const middle = (low + high) >> 1
    if (at[middle]! < moment) low = middle + 1
    else high = middle
  }
  return low > 0 && moment - at[low - 1]! <= at[low]! - moment ? low - 1 : low
}
