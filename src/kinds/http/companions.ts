import { roundTrips } from '../../core/network/round-trips'
import { MINUTE } from '../../core/units'
import type { Link } from '../link'

/** Beside tries that are as usual, packets are sent this seldom; after a bad one, beside every try. */
const EVERY = 5 * MINUTE
const PACKETS = { count: 4, size: 56, interval: 60, wait: 700 }

/**
 * What is measured of the line beside a web check: packet loss and round trip to the address it uses, at the same place
 * and moment. They begin when the connection stands, run beside the request and count in none of its phases.
 */
export class Companions {
  private sent: Promise<Record<string, number>> | undefined

  constructor(private readonly memory: Map<string, unknown>, private readonly now: number) {}

  /** Sends packets to an address if it is time to, once. A line that carries none (a proxy, a machine without the tool) has no companions. */
  begin(link: Link, address: string): void {
    const isDue = this.memory.get('wasBad') === true || this.now - Number(this.memory.get('packetsAt') ?? -Infinity) >= EVERY
    if (!isDue || this.sent) return
    this.memory.set('packetsAt', this.now)
    this.sent = link.ping(address, PACKETS, AbortSignal.timeout(2500)).then((times) => {
      const { loss, median } = roundTrips(times)
      return { loss, ...(median === undefined ? {} : { rtt: median }) }
    }).catch(() => ({}))
  }

  /** What came of it, and whether the next try is to have company again. */
  async end(isBad: boolean): Promise<Record<string, number>> {
    this.memory.set('wasBad', isBad)
    return (await this.sent) ?? {}
  }
}
