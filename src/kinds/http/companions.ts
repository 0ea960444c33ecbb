import { roundTrips } from '../../core/network/round-trips'
import type { EvidenceTable } from '../../core/observation'
import { MINUTE, type Instant } from '../../core/units'
import type { Link } from '../link'
import { lookAround, seenAround } from './surroundings'

/** Beside tries that are as usual, packets are sent this seldom; after a bad one, and where a condition asks for them, beside every try. */
const EVERY = 5 * MINUTE
const PACKETS = { count: 4, size: 56, interval: 60, wait: 700 }

/** What a look around found, for the try that follows it. */
export interface Beside { readings: Record<string, number>; tables: EvidenceTable[] }

/**
 * What is measured of the line beside a web check, at the same place and moment. Packet loss and round trip to the address it uses: they
 * begin when the connection stands, run beside the request and count in none of its phases. The way to the address and the resolution of
 * the name from the root: they are begun by a bad try, or now and then, and what they find is kept with the try that follows.
 */
export class Companions {
  private sent: Promise<Record<string, number>> | undefined

  /** @param always packets go with every try */
  constructor(private readonly link: Link, private readonly memory: Map<string, unknown>, private readonly now: Instant, private readonly always = false) {}

  /** Sends packets to an address if it is time to, once. A line that carries none (a proxy, a machine without the tool) has no companions. */
  begin(address: string): void {
    const isDue = this.always || this.memory.get('wasBad') === true || this.now - Number(this.memory.get('packetsAt') ?? -Infinity) >= EVERY
    if (!isDue || this.sent) return
    this.memory.set('packetsAt', this.now)
    this.sent = this.link.ping(address, PACKETS, AbortSignal.timeout(2500)).then((times) => {
      const { loss, median } = roundTrips(times)
      return { loss, ...(median === undefined ? {} : { rtt: median }) }
    }).catch(() => ({}))
  }

  /** What came of the packets. */
  async readings(): Promise<Record<string, number>> {
    return (await this.sent) ?? {}
  }

  /** What was found around since the last try; as tables only where it is news, or while tries go badly. Begins the next look, and packets beside the next try, if this one was bad. */
  end(around: { address: string | undefined; host: string }, isBad: boolean): Beside {
    const wasBad = this.memory.get('wasBad') === true
    const seenUntil = Number(this.memory.get('seenUntil') ?? this.now - 2 * EVERY)
    const looks = seenAround(this.link, around, seenUntil)
    this.memory.set('wasBad', isBad)
    this.memory.set('seenUntil', Math.max(seenUntil, ...looks.map((each) => each.at)))
    lookAround(this.link, around, this.now, isBad)
    const seconds = (at: Instant) => Math.max(0, Math.round((this.now - at) / 1000))
    return {
      readings: Object.assign({}, ...looks.map((each) => each.readings)) as Record<string, number>,
      tables: looks.filter((each) => each.isNews || isBad || wasBad).map(({ at, table }) => ({ ...table, title: `${table.title}, ${seconds(at)} s before` }))
    }
  }
}
