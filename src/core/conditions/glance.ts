import type { Reading } from './subject'
import { speakReading } from './unit'

/** The first numbers of a kind in a few words: “loss of packets 0%, median round trip 11 ms”. */
export function speakReadings(known: Record<string, Reading>, readings: Record<string, number>, most = 2): string {
  return Object.entries(known).filter(([name]) => readings[name] !== undefined).slice(0, most)
    .map(([name, { says, unit }]) => `${says} ${speakReading(unit, readings[name]!)}`).join(', ')
}
