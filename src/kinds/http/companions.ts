import { roundTrips } from '../../core/network/round-trips'
import type { EvidenceTable } from '../../core/observation'
import { MINUTE, type Instant } from '../../core/units'
import type { Link } from '../link'
import { knownAround, lookAround, seenAround, type Around } from './surroundings'

/** Beside tries that are as usual, packets are sent this seldom; after a bad one, and where a condition asks for them, beside every try. Looks around that a condition asks for are no older than this. */
const EVERY = 5 * MINUTE
const PACKETS = { count: 4, size: 56, interval: 60, wait: 700 }

const PACKET_READINGS = ['loss', 'rtt'] as const
const LOOK_READINGS = ['hops', 'changes', 'resolution'] as const

/** What a look around found, for the try that follows it. */
export interface Beside { readings: Record<string, number>; tables: EvidenceTable[] }

/**
 * What is measured of the line beside a web check, at the same place and moment. Packet loss and round trip to the address it uses: they
 * begin when the connection stands, run beside the request and count in none of its phases. The way to the address and the resolution of
 * the name from the root: they are begun by a bad try, or now and then, and what they find is kept with the try that follows.
 */
export class Companions {
  private sent: Promise<Record<string, number>> | undefined

  /** @param asked the readings that conditions are about: packets go with every try, and looks around are waited for, where they need them */
  constructor(private readonly link: Link, private readonly memory: Map<string, unknown>, private readonly now: Instant, private readonly asked: ReadonlySet<string> = new Set()) {}

  /** Sends packets to an address if it is time to, once. A line that carries none (a proxy, a machine without the tool) has no companions. */
  begin(address: string): void {
    const isDue = PACKET_READINGS.some((name) => this.asked.has(name)) || this.memory.get('wasBad') === true || this.now - Number(this.memory.get('packetsAt') ?? -Infinity) >= EVERY
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

  /** What conditions ask of the way and the resolution: the newest look, begun and waited for where there is none or it is old. */
  async around(around: Around): Promise<Record<string, number>> {
    if (!LOOK_READINGS.some((name) => this.asked.has(name))) return {}
    lookAround(this.link, around, this.now, false, EVERY)
    return knownAround(this.link, around, this.now - 2 * EVERY)
  }

  /** What was found around since the last try; as tables only where it is news, or while tries go badly. Begins the next look, and packets beside the next try, if this one was bad. */
  end(around: Around, isBad: boolean): Beside {
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
