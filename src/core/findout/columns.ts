import { hourOfWeek } from '../time/zoned'
import { HOUR } from '../units'
import type { Dimension } from './dimensions'
import type { Column, Tries } from './tries'

/** Makes a column of what each check is; a check without a value has none. */
export const byCheck = (tries: Tries, dimension: Dimension, valueOf: (check: number) => string | undefined): Column => lookedUp(tries.check, dimension, valueOf)
export const byLocation = (tries: Tries, dimension: Dimension, valueOf: (location: number) => string | undefined): Column => lookedUp(tries.location, dimension, valueOf)
/** Makes a column of numbers that stand for texts; 0 stands for none. */
export const byNumber = (numbers: Int32Array, dimension: Dimension, textOf: (number: number) => string | undefined): Column => lookedUp(numbers, dimension, (number) => (number === 0 ? undefined : textOf(number)))

const DENSE = 4_000_000

function lookedUp(keys: Int32Array, dimension: Dimension, valueOf: (key: number) => string | undefined): Column {
  const names: string[] = []
  const places = new Map<string, number>()
  const placeOf = (key: number) => {
    const value = valueOf(key)
    if (value === undefined || value === '') return -1
    let place = places.get(value)
    if (place === undefined) {
      places.set(value, place = names.length)
      names.push(value)
    }
    return place
  }
  const codes = new Int32Array(keys.length)
  let most = 0
  for (let index = 0; index < keys.length; index += 1) if (keys[index]! > most) most = keys[index]!
  // numbers of checks, locations and texts are small: an array finds them faster than a map
  if (most < DENSE) {
    const known = new Int32Array(most + 1).fill(-2)
    for (let index = 0; index < keys.length; index += 1) {
      const key = keys[index]!
      if (known[key] === -2) known[key] = placeOf(key)
      codes[index] = known[key]!
    }
  } else {
    const known = new Map<number, number>()
    for (let index = 0; index < keys.length; index += 1) {
      const key = keys[index]!
      let code = known.get(key)
      if (code === undefined) known.set(key, code = placeOf(key))
      codes[index] = code
    }
  }
  return { dimension, codes, names }
}

const WEEKDAYS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday']

/** The weekday or the hour of each try, on the clock of a zone. */
export function byClock(tries: Tries, dimension: 'weekday' | 'hour', zone: string): Column {
  const hours = new Map<number, number>()
  const codes = new Int32Array(tries.count)
  for (let index = 0; index < tries.count; index += 1) {
    const hour = Math.floor(tries.at[index]! / HOUR)
    let own = hours.get(hour)
    if (own === undefined) hours.set(hour, own = hourOfWeek(hour * HOUR, zone))
    codes[index] = dimension === 'hour' ? own % 24 : Math.floor(own / 24)
  }
  return { dimension, codes, names: dimension === 'hour' ? Array.from({ length: 24 }, (_, hour) => `${String(hour).padStart(2, '0')}:00`) : WEEKDAYS }
}

/** A column for one tag: what has it, and what has not. A check may have several. */
export const byTag = (tries: Tries, tag: string, hasTag: (check: number) => boolean): Column => lookedUp(tries.check, 'tag', (check) => (hasTag(check) ? tag : undefined))
