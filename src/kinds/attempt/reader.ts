import type { Duplex } from 'node:stream'
import { speakSize } from '../../core/definitions/size'
import { TryFailure } from './failure'

/** Reads an open connection by lines or bytes, never more than a limit in all. Ends when the try gives up. */
export class Reader {
  private held: Buffer = Buffer.alloc(0)
  private ended = false
  private fault: Error | undefined
  private wake: () => void = () => undefined
  private taken = 0

  constructor(private readonly socket: Duplex, private readonly signal: AbortSignal, private readonly most = 1_000_000) {
    socket.on('data', (chunk: Buffer) => {
      this.taken += chunk.length
      // what nobody has asked for yet is bounded, however fast the target sends
      if (this.held.length > this.most) socket.pause()
      this.held = Buffer.concat([this.held, chunk])
      this.wake()
    })
    const end = () => {
      this.ended = true
      this.wake()
    }
    socket.once('end', end).once('close', end)
    socket.on('error', (error) => {
      this.fault ??= error
      end()
    })
    signal.addEventListener('abort', end, { once: true })
  }

  /** Bytes that have come in all. */
  get bytes(): number {
    return this.taken
  }

  /** One line without its end. Throws TryFailure when it is longer than a line may be, and when the connection ends. */
  async line(longest = 16_384): Promise<string> {
    const line = await this.until((held) => {
      const at = held.indexOf(10)
      if (at < 0 && held.length > longest) throw new TryFailure('wrong-protocol', `the server sends ${speakSize(longest)} without the end of a line`)
      return at < 0 ? undefined : at + 1
    })
    return line.toString('utf8').replace(/\r?\n$/, '')
  }

  /** Exactly so many bytes. */
  async exactly(count: number): Promise<Buffer> {
    if (count > this.most) throw new TryFailure('answer-too-large', `the server announces ${speakSize(count)}, more than ${speakSize(this.most)}`)
    return this.until((held) => (held.length >= count ? count : undefined))
  }

  /** What has come by now, at least one byte. */
  async some(): Promise<Buffer> {
    return this.until((held) => (held.length > 0 ? held.length : undefined))
  }

  /** As many bytes as `enough` says of those that have come; undefined asks for more. */
  async until(enough: (held: Buffer) => number | undefined): Promise<Buffer> {
    for (;;) {
      const count = enough(this.held)
      if (count !== undefined) {
        const part = this.held.subarray(0, count)
        this.held = this.held.subarray(count)
        if (this.held.length <= this.most) this.socket.resume()
        return part
      }
      if (this.held.length > this.most) throw new TryFailure('answer-too-large', `the answer is larger than ${speakSize(this.most)}`)
      if (this.signal.aborted) throw new Error('aborted')
      if (this.ended) throw Object.assign(this.fault ?? new Error('closed'), { code: 'ECONNRESET' })
      await new Promise<void>((resolve) => { this.wake = resolve })
    }
  }

  /** Everything until the other side ends. */
  async rest(): Promise<Buffer> {
    for (;;) {
      if (this.held.length > this.most) throw new TryFailure('answer-too-large', `the answer is larger than ${speakSize(this.most)}`)
      if (this.signal.aborted) throw new Error('aborted')
      if (this.ended) return this.held
      await new Promise<void>((resolve) => { this.wake = resolve })
    }
  }
}
