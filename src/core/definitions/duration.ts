import { speakCount } from './count'
import { DAY, HOUR, MINUTE, SECOND, type Milliseconds } from '../units'

const UNITS: Record<string, Milliseconds> = { ms: 1, s: SECOND, m: MINUTE, h: HOUR, d: DAY }
const SPOKEN: Record<string, string> = {
  millisecond: 'ms', milliseconds: 'ms', msec: 'ms', ms: 'ms',
  s: 's', sec: 's', second: 's', seconds: 's',
  m: 'm', min: 'm', mins: 'm', minute: 'm', minutes: 'm',
  h: 'h', hour: 'h', hours: 'h', d: 'd', day: 'd', days: 'd'
}

/**
 * Reads the written form of a duration: a number and one of ms, s, m, h, d (`250ms`, `1.5s`, `14d`).
 * @returns milliseconds, rounded to whole ones; undefined when the text is no duration
 */
export function parseDuration(text: string): Milliseconds | undefined {
  const match = /^(\d+(?:\.\d+)?)(ms|s|m|h|d)$/.exec(text)
  if (!match) return undefined
  return Math.round(Number(match[1]) * UNITS[match[2]!]!)
}

/** Writes a duration so that parseDuration reads it back: the largest unit that divides it (60 s stay `60s`). */
export function formatDuration(value: Milliseconds): string {
  if (value === 0) return '0s'
  if (value % DAY === 0) return `${value / DAY}d`
  if (value % HOUR === 0) return `${value / HOUR}h`
  if (value % MINUTE === 0 && value > 2 * MINUTE) return `${value / MINUTE}m`
  if (value % SECOND === 0) return `${value / SECOND}s`
  return `${value}ms`
}

/** Reads a duration as a person types it (`60 s`, `1 min`, `3 days`) and returns its written form, or undefined. */
export function readSpokenDuration(text: string): string | undefined {
  const match = /^(\d+(?:[.,]\d+)?)\s*([a-z]+)$/i.exec(text.trim())
  const unit = match ? SPOKEN[match[2]!.toLowerCase()] : undefined
  if (!match || !unit) return undefined
  const value = parseDuration(`${match[1]!.replace(',', '.')}${unit}`)
  return value === undefined ? undefined : formatDuration(value)
}

/** Says a duration inside a sentence: `60 s`, `5 min`, `2 h`, `14 days`, `1 day`. Exact: no rounding. */
export function speakDuration(value: Milliseconds): string {
  const written = /^([\d.]+)([a-z]+)$/.exec(formatDuration(value))!
  const [, amount, unit] = written
  if (unit === 'm') return `${amount} min`
  if (unit === 'd') return amount === '1' ? '1 day' : `${amount} days`
  return `${amount} ${unit}`
}

/** Says how long something lasted, in at most two units: `42 s`, `8 min 08 s`, `3 h 20 min`, `2 days 4 h`. */
export function speakLength(value: Milliseconds): string {
  const seconds = Math.max(0, Math.round(value / SECOND))
  if (seconds < 60) return `${seconds} s`
  const two = (number: number) => String(number).padStart(2, '0')
  if (seconds < 3600) {
    const rest = seconds % 60
    return rest === 0 ? `${Math.floor(seconds / 60)} min` : `${Math.floor(seconds / 60)} min ${two(rest)} s`
  }
  const minutes = Math.round(seconds / 60)
  if (minutes < 1440) return minutes % 60 === 0 ? `${minutes / 60} h` : `${Math.floor(minutes / 60)} h ${two(minutes % 60)} min`
  const hours = Math.round(minutes / 60)
  const days = Math.floor(hours / 24)
  return `${days} ${days === 1 ? 'day' : 'days'}${hours % 24 === 0 ? '' : ` ${hours % 24} h`}`
}

/** Says a response time in its cell: `92 ms`, `884 ms`, `1 340 ms`, `12.4 s`. */
export function speakMilliseconds(value: Milliseconds): string {
  if (value >= 10 * SECOND) return `${(value / SECOND).toFixed(1)} s`
  if (value < 10) return `${value < 0.95 ? value.toFixed(1) : Math.round(value)} ms`
  return `${speakCount(value)} ms`
}
