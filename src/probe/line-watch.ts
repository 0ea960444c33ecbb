import type { Instant } from '../core/units'
import type { Link } from '../kinds/link'

const BETWEEN = 10_000
const PATIENCE = 3000
/** How old the last look may be to judge a failure by it. */
const FRESH = 1500

interface Line {
  references: string[]
  link: Link
  lookedAt: Instant
  cutSince: Instant | null
  looking?: Promise<void>
}

/**
 * Watches the reference targets of each location. While none of them answers, the location has lost its own line: its
 * failures prove nothing. A location without reference targets is believed.
 */
export class LineWatch {
  private readonly lines = new Map<number, Line>()
  private readonly timer: NodeJS.Timeout

  /** @param changed is told when a location loses its line or has it again */
  constructor(private readonly changed: () => void, private readonly now: () => Instant = Date.now) {
    this.timer = setInterval(() => {
      for (const line of this.lines.values()) void this.look(line)
    }, BETWEEN)
    this.timer.unref()
  }

  stop(): void {
    clearInterval(this.timer)
  }

  /** Makes these the locations; what is known of those that stay is kept. */
  set(locations: { id: number; references: string[]; link: Link }[]): void {
    const before = new Map(this.lines)
    this.lines.clear()
    for (const { id, references, link } of locations) {
      const known = before.get(id)
      this.lines.set(id, { references, link, lookedAt: known?.lookedAt ?? 0, cutSince: references.length === 0 ? null : known?.cutSince ?? null })
    }
  }

  /** Whether a failure at a location counts: looks again first when the last look is old. */
  async isCut(location: number): Promise<boolean> {
    const line = this.lines.get(location)
    if (!line || line.references.length === 0) return false
    if (this.now() - line.lookedAt > FRESH) await this.look(line)
    return line.cutSince !== null
  }

  /** The locations with since when each has no line, or null. */
  states(): { location: number; cutSince: Instant | null }[] {
    return [...this.lines].map(([location, { cutSince }]) => ({ location, cutSince }))
  }

  private look(line: Line): Promise<void> {
    if (line.references.length === 0) return Promise.resolve()
    line.looking ??= this.ask(line).finally(() => { delete line.looking })
    return line.looking
  }

  private async ask(line: Line): Promise<void> {
    const begun = this.now()
    const answers = await Promise.any(line.references.map((reference) => reach(line.link, reference))).then(() => true, () => false)
    line.lookedAt = this.now()
    const cutSince = answers ? null : line.cutSince ?? begun
    const isNews = (cutSince === null) !== (line.cutSince === null)
    line.cutSince = cutSince
    if (isNews) this.changed()
  }
}

/** Connects to `host:port` and hangs up; rejects when that cannot be done in time. */
async function reach(link: Link, reference: string): Promise<void> {
  const [, host = '', port = ''] = /^\[?(.*?)\]?:(\d+)$/.exec(reference) ?? []
  const abort = new AbortController()
  const timer = setTimeout(() => abort.abort(), PATIENCE)
  try {
    const isNumber = /^[\d.]+$|:/.test(host)
    const address = isNumber ? host : (await link.lookup(host, undefined, abort.signal)).addresses[0]
    if (address === undefined) throw new Error('no address')
    const socket = await link.connect(address, Number(port), abort.signal)
    socket.on('error', () => undefined)
    socket.destroy()
  } finally {
    clearTimeout(timer)
  }
}
