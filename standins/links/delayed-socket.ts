import { Duplex } from 'node:stream'
import type { Socket } from 'node:net'
import { roundTrip, type LineState } from '../world/model'

/** A real socket with a location's distance put between: every byte arrives half a round trip later, in order. */
export class DelayedSocket extends Duplex {
  private sendAt = 0
  private arriveAt = 0
  private readonly timers = new Set<NodeJS.Timeout>()
  /** What is under way, in its order: timers say when the next one is due, never which one. */
  private readonly underWay: Record<'sendAt' | 'arriveAt', (() => void)[]> = { sendAt: [], arriveAt: [] }

  constructor(private readonly real: Socket, private readonly line: () => LineState) {
    super({ allowHalfOpen: true })
    real.on('data', (chunk: Buffer) => this.later('arriveAt', chunk.length, () => this.push(chunk)))
    let ended = false
    real.on('end', () => {
      ended = true
      this.later('arriveAt', 0, () => this.push(null))
    })
    real.on('error', (error) => this.later('arriveAt', 0, () => this.destroy(error)))
    real.on('close', () => {
      if (!ended) this.later('arriveAt', 0, () => this.destroy())
    })
  }

  get remoteAddress(): string | undefined {
    return this.real.remoteAddress
  }

  setNoDelay(): this {
    return this
  }

  setKeepAlive(): this {
    return this
  }

  setTimeout(): this {
    return this
  }

  ref(): this {
    return this
  }

  unref(): this {
    return this
  }

  override _write(chunk: Buffer, _encoding: BufferEncoding, done: (error?: Error | null) => void): void {
    this.later('sendAt', chunk.length, () => this.real.write(chunk))
    done()
  }

  override _final(done: (error?: Error | null) => void): void {
    this.later('sendAt', 0, () => this.real.end())
    done()
  }

  override _read(): void {
    // bytes are pushed when they arrive
  }

  override _destroy(error: Error | null, done: (error?: Error | null) => void): void {
    for (const timer of this.timers) clearTimeout(timer)
    this.real.destroy()
    done(error)
  }

  private later(direction: 'sendAt' | 'arriveAt', bytes: number, act: () => void): void {
    const line = this.line()
    const now = performance.now()
    if (line.cut) return
    const takes = roundTrip(line, Math.random, false) - line.rtt / 2 + bytes / 1000 / line.bandwidth
    this[direction] = Math.max(this[direction], now + takes)
    this.underWay[direction].push(act)
    const timer = setTimeout(() => {
      this.timers.delete(timer)
      const next = this.underWay[direction].shift()
      if (!this.destroyed) next?.()
    }, this[direction] - now)
    this.timers.add(timer)
  }
}
