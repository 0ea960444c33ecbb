import type { Placed } from '../places/places'
import { scatter } from './next-run'

/**
 * The order in which a check's locations are asked: mixed, another way for each check, but one of every country before
 * a second of any. Turns go round in this order, and so do the tries that follow a first failure.
 */
export function spread<Location extends Placed & { id: number }>(locations: Location[], check: number): Location[] {
  const mixed = [...locations].sort((a, b) => scatter(check * 7919 + a.id) - scatter(check * 7919 + b.id))
  const rank = new Map<number, number>()
  const seen = new Map<string, number>()
  for (const location of mixed) {
    const turn = seen.get(location.country) ?? 0
    seen.set(location.country, turn + 1)
    rank.set(location.id, turn)
  }
  return mixed.sort((a, b) => rank.get(a.id)! - rank.get(b.id)!)
}
