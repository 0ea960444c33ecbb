import { readSpokenDuration, speakDuration, speakLength, speakMilliseconds } from '../definitions/duration'
import { formatShare, parseShare } from '../definitions/share'
import { formatSize, parseSize, speakSize } from '../definitions/size'
import { MINUTE } from '../units'
import type { Unit } from './subject'

/** Says a measured number in its unit: `2.5%`, `18 ms`, `40 days`, `3 MB`, `12`. */
export function speakReading(unit: Unit, value: number): string {
  switch (unit) {
    case 'share': return `${Number((value * 100).toPrecision(3))}%`
    case 'time': return value < 0 ? `minus ${speakReading(unit, -value)}` : value >= MINUTE ? speakLength(value) : speakMilliseconds(value)
    case 'size': return speakSize(Math.round(value))
    case 'number': return String(Number(value.toPrecision(6)))
  }
}

/** Says a limit exactly, so that readLimit reads it back. */
export function speakLimitOf(unit: Unit, value: number): string {
  switch (unit) {
    case 'share': return formatShare(value)
    case 'time': return speakDuration(value)
    case 'size': return formatSize(value)
    case 'number': return String(value)
  }
}

/** Reads a limit as a person types it and gives its written form; or what was expected. */
export function readLimit(unit: Unit, text: string): { written: string | number } | { expected: string } {
  switch (unit) {
    case 'share': {
      const share = text.replace(/\s*%$/, '%')
      return parseShare(share) === undefined ? { expected: 'a share such as 5%' } : { written: share }
    }
    case 'time': {
      const written = readSpokenDuration(text)
      return written === undefined ? { expected: 'a duration such as 20 ms or 14 days' } : { written }
    }
    case 'size': return parseSize(text) === undefined ? { expected: 'a size such as 20kB' } : { written: text }
    case 'number': return text !== '' && Number.isFinite(Number(text)) ? { written: Number(text) } : { expected: 'a number' }
  }
}

