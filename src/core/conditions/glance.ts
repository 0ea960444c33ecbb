import type { Reading } from './subject'
import { speakReading } from './unit'

/** The numbers of a kind that tell most, in a few words: “loss of packets 0%, median round trip 11 ms”. */
export function speakReadings({ readings: known, telling }: { readings: Record<string, Reading>; telling?: readonly string[] }, readings: Record<string, number>): string {
  return (telling ?? Object.keys(known).slice(0, 2)).filter((name) => known[name] && readings[name] !== undefined)
    .map((name) => `${known[name]!.says} ${speakReading(known[name]!.unit, readings[name]!)}`).join(', ')
}
