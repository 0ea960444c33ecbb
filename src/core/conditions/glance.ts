import type { Reading } from './subject'
import { speakReading } from './unit'

/** The numbers of a kind that tell most, in a few words: “loss of packets 0%, median round trip 11 ms”. */
export function speakReadings({ readings: known, telling, measuresLine }: { readings: Record<string, Reading>; telling?: readonly string[]; measuresLine?: true }, readings: Record<string, number>): string {
  if (measuresLine) return ''
  // a kind that tells of nothing in particular has numbers under names of their own
  const own = telling?.length === 0 ? Object.entries(readings).filter(([name]) => !known[name]).slice(0, 2) : []
  if (own.length > 0) return own.map(([name, value]) => `${name} ${speakReading('number', value)}`).join(', ')
  return (telling ?? Object.keys(known).slice(0, 2)).filter((name) => known[name] && readings[name] !== undefined)
    .map((name) => `${known[name]!.says} ${speakReading(known[name]!.unit, readings[name]!)}`).join(', ')
}
