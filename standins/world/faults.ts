import { DAY, HOUR, MINUTE, type Instant } from '../../src/core/units'
import { minuteOfDay } from '../../src/core/time/zoned'
import { seeded } from './random'

/** The demo company's zone. */
export const ZONE = 'Europe/Oslo'

/** A fault somebody can switch on. The same ones happened in the past. */
export const DRILLS = {
  'edge-4': { name: 'edge-4 answers 503', says: 'One of the five servers behind the booking site answers every request with 503.' },
  'half-page': { name: 'Payment page half loaded', says: 'The payment page answers 200, but its form is missing.' },
  'pacifico-loss': { name: 'Pacífico Cable loses packets', says: 'A quarter of the packets on one network in Chile are lost; connecting takes far longer.' },
  'slow-booking': { name: 'Booking site slow', says: 'The booking servers take four times as long, as on weekday mornings at 09:15.' },
  'expired-certificate': { name: 'Berths certificate expired', says: 'The berths server presents a certificate that ended yesterday.' },
  'freight-refused': { name: 'Freight server switched off', says: 'Nothing listens at the freight server; connections are refused.' },
  'staging-flaps': { name: 'Staging flaps', says: 'Staging answers 502 for a minute, then works for a minute.' },
  'andes-detour': { name: 'Andes Transit takes a detour', says: 'Packets from one network in Chile go over another carrier, and need 60 ms more.' },
  'slow-name-server': { name: 'One name server is slow', says: 'The second of the company’s two name servers takes almost a second to answer.' },
  'mail-stuck': { name: 'Ticket mail is stuck', says: 'The mail server takes messages and delivers none.' },
  'hotline-down': { name: 'Hotline is silent', says: 'The phone server of the customs hotline answers nothing.' },
  'camera-frozen': { name: 'Berth camera frozen', says: 'The stream of the berth camera answers, but no new segment is added.' },
  'sensors-mute': { name: 'Tide sensors are mute', says: 'The broker takes messages and passes none on.' },
  'rosters-unhealthy': { name: 'Rosters container unhealthy', says: 'The container runs, but its own health check fails.' },
  'disk-filling': { name: 'A disk is almost full', says: 'The data disk of the server mole is 97% full.' },
  'script-silent': { name: 'A script is silent', says: 'The server quay runs, but the script that pushes its numbers has stopped.' },
  'host-dead': { name: 'A server is switched off', says: 'The server buoy pushes no numbers and answers no ping.' },
  'job-silent': { name: 'Berth plan does not run', says: 'The job that plans the berths every minute no longer calls.' },
  'job-fails': { name: 'Berth plan fails', says: 'The job that plans the berths ends with exit code 3.' },
  'boards-shut': { name: 'Boards switched off', says: 'Nothing listens at the departure boards; connections are refused.' },
  'beacon-silent': { name: 'Tide beacon is silent', says: 'The beacon at the pier answers no question.' },
  'files-locked': { name: 'Manifest account locked', says: 'The file server refuses the account that fetches the manifests.' },
  'clock-wrong': { name: 'Harbour clock is wrong', says: 'The harbour’s time server is 820 ms ahead.' },
  'queue-long': { name: 'Tickets pile up', says: 'A hundred and eighty tickets wait in the queue.' },
  'orders-stop': { name: 'No orders', says: 'The database answers, but nobody has ordered in the last hour.' },
  'fares-starting': { name: 'Fares engine not serving', says: 'The fares engine takes calls and says that it does not serve yet.' },
  'weak-certificate': { name: 'Booking certificate about to end', says: 'The booking servers present a certificate that ends in two days.' },
  'domain-ending': { name: 'Registration about to end', says: 'The registry says that the company’s domain ends in six days.' },
  'galway-line': { name: 'Galway loses its line', says: 'The location itself is cut off and reaches nothing.' },
  'mail-server-away': { name: 'Mail server away', says: 'The server that carries Hemeron’s own mail turns everyone away.' },
  'hook-broken': { name: 'Operations log broken', says: 'The receiver of the signed webhook answers 500.' },
  'nobody-answers': { name: 'Nobody answers the phone', says: 'Phones ring, and nobody picks up.' },
  'boards-silent': { name: 'Boards accept and say nothing', says: 'The departure boards take connections and never answer.' }
} as const

export type Drill = keyof typeof DRILLS
export type Faults = ReadonlySet<Drill>

/** Faults of the past: days before the start of the demo's today, and a time of day with a length, all in the company's zone. */
const PAST: { drill: Drill; day: number; from: string; minutes: number }[] = [
  { drill: 'edge-4', day: 1, from: '21:40', minutes: 34 },
  { drill: 'edge-4', day: 6, from: '21:35', minutes: 41 },
  { drill: 'edge-4', day: 19, from: '15:05', minutes: 22 },
  { drill: 'half-page', day: 9, from: '11:20', minutes: 38 },
  { drill: 'half-page', day: 24, from: '19:02', minutes: 12 },
  { drill: 'pacifico-loss', day: 2, from: '12:40', minutes: 75 },
  { drill: 'pacifico-loss', day: 16, from: '20:10', minutes: 50 },
  { drill: 'freight-refused', day: 12, from: '04:12', minutes: 71 },
  { drill: 'freight-refused', day: 29, from: '13:30', minutes: 18 },
  { drill: 'expired-certificate', day: 21, from: '01:00', minutes: 415 },
  { drill: 'galway-line', day: 5, from: '16:45', minutes: 31 },
  { drill: 'boards-silent', day: 32, from: '08:20', minutes: 9 }
]

interface Span { drill: Drill; from: Instant; to: Instant }

/** The faults of the recorded past as spans of time, for a demo whose today begins at `today`. */
export function pastFaults(today: Instant, days: number): Span[] {
  const at = (day: number, clock: string) => today - day * DAY + (Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3))) * MINUTE
  const spans: Span[] = PAST.filter((each) => each.day <= days).map(({ drill, day, from, minutes }) => ({ drill, from: at(day, from), to: at(day, from) + minutes * MINUTE }))
  for (let day = 0; day <= days; day += 1) {
    const random = seeded(4711, day)
    const start = today - day * DAY
    const weekday = new Date(start + 12 * HOUR).getUTCDay()
    if (weekday !== 0 && weekday !== 6) spans.push({ drill: 'slow-booking', from: start + (9 * 60 + 13 + Math.floor(random() * 5)) * MINUTE, to: start + (9 * 60 + 36 + Math.floor(random() * 12)) * MINUTE })
    const flaps = Math.floor(random() * 3)
    for (let flap = 0; flap < flaps; flap += 1) {
      const from = start + Math.floor(random() * 22 * 60) * MINUTE
      spans.push({ drill: 'staging-flaps', from, to: from + (15 + Math.floor(random() * 70)) * MINUTE })
    }
  }
  return spans.filter((span) => span.from < Infinity).sort((a, b) => a.from - b.from)
}

/** How much busier the company is at a moment than at night: 1 at four in the morning, up to 1.5 in the afternoon. */
export function busyness(at: Instant): number {
  const quarter = Math.floor(at / (15 * MINUTE))
  if (quarter !== lastQuarter) {
    lastQuarter = quarter
    lastBusyness = busynessAt(quarter * 15 * MINUTE)
  }
  return lastBusyness
}

let lastQuarter = -1
let lastBusyness = 1

function busynessAt(at: Instant): number {
  return 1.25 - 0.25 * Math.cos((2 * Math.PI * (minuteOfDay(at, ZONE) - 240)) / 1440)
}
