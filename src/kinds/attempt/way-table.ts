import type { Steps } from '../../core/network/path-changes'
import { roundTrips } from '../../core/network/round-trips'
import type { EvidenceTable } from '../../core/observation'
import type { Hop } from '../link'

/** The steps of a way as a table, with the router that stood at a changed step before. */
export function wayTable(title: string, hops: Hop[], changed: number[], before: Steps | undefined): EvidenceTable {
  return {
    title,
    columns: [{ name: 'step', as: 'number' }, { name: 'router', as: 'code' }, { name: 'lost', as: 'share' }, { name: 'round trip', as: 'time' }, { name: 'before', as: 'code' }],
    rows: hops.map(({ away, addresses, times }) => {
      const { loss, median } = roundTrips(times)
      return [away, addresses.join(', ') || 'does not answer', loss, median ?? null, changed.includes(away) ? before![away]!.join(', ') : null]
    })
  }
}
