import { setTimeout as sleep } from 'node:timers/promises'
import type { Observation } from '../core/observation'
import type { Spool } from './spool'
import { WireError, type Wire } from './wire'

const PAUSE = 120
const BATCH = 400

/** Sends observations in batches, at once when there are any; what the server does not take goes to the spool and follows later. */
export class Outbox {
  private waiting: Observation[] = []
  private stopped = false
  private wake: () => void = () => undefined
  private readonly running: Promise<void>

  constructor(private readonly wire: Pick<Wire, 'observations'>, private readonly spool: Spool, private readonly say: (text: string) => void) {
    this.running = this.run()
  }

  put(observation: Observation): void {
    this.waiting.push(observation)
    this.wake()
  }

  /** Stops sending; what is left is on disk when this resolves. */
  async stop(): Promise<void> {
    this.stopped = true
    this.wake()
    await this.running
    if (this.waiting.length > 0) this.spool.put(this.waiting.splice(0))
  }

  private async run(): Promise<void> {
    let away = false
    while (!this.stopped) {
      if (this.waiting.length === 0 && !away) await new Promise<void>((resolve) => { this.wake = resolve })
      await sleep(away ? 500 : PAUSE)
      away = !(await this.sendOld())
      while (this.waiting.length > 0) {
        const batch = this.waiting.splice(0, BATCH)
        if (away || !(await this.send(batch))) {
          this.spool.put(batch)
          away = true
        }
      }
    }
  }

  private async sendOld(): Promise<boolean> {
    for (let old = this.spool.oldest(); old; old = this.spool.oldest()) {
      if (this.stopped || !(await this.send(old.observations))) return false
      old.forget()
    }
    return true
  }

  /** False when the server is away. A batch it refuses for good is dropped and said. */
  private async send(batch: Observation[]): Promise<boolean> {
    try {
      await this.wire.observations(batch)
      return true
    } catch (error) {
      const refused = error instanceof WireError && [400, 413, 422].includes(error.status)
      if (refused) this.say(`${batch.length} observations were refused: ${error.message}`)
      return refused
    }
  }
}
