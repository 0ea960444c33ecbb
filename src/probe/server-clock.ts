import type { Instant, Milliseconds } from '../core/units'

/** A clock less far off than this is taken for right: small corrections would only make times jump. */
const RIGHT: Milliseconds = 1000

/** The server's time on a machine whose clock may be wrong: probes of one workspace stamp what they see by one clock. */
export class ServerClock {
  private ahead: Milliseconds = 0

  /**
   * Learns how far the own clock is ahead of the server's. What the round trip leaves open (half of it, RFC 5905 section 8) changes nothing.
   * @param roundTrip how long asking for the server's time took
   */
  heard(ahead: Milliseconds, roundTrip: Milliseconds): void {
    if (Math.abs(ahead - this.ahead) > RIGHT + roundTrip / 2) this.ahead = Math.abs(ahead) > RIGHT ? Math.round(ahead) : 0
  }

  now(): Instant {
    return Date.now() - this.ahead
  }
}
