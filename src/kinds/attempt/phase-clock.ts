import type { Phase, PhaseTimes } from '../../core/observation'

/** Adds up the time of each phase of a try, over repeated ones too. Times in milliseconds. */
export class PhaseClock {
  readonly times: PhaseTimes = {}
  phase: Phase = 'lookup'
  private since: number
  private open = false

  constructor(readonly started: number) {
    this.since = started
  }

  /** Ends the phase that runs and begins another. */
  begin = (phase: Phase): void => {
    const now = performance.now()
    if (this.open) this.times[this.phase] = (this.times[this.phase] ?? 0) + now - this.since
    this.open = true
    this.phase = phase
    this.since = now
  }

  /** Ends the phase that runs; what follows until `begin` belongs to none. */
  stop(): number {
    this.begin(this.phase)
    this.open = false
    return performance.now() - this.started
  }
}
