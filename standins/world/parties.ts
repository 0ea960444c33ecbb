import type { PartyDocument } from '../../src/core/parties/read-party'
import { DAY, HOUR, MINUTE } from '../../src/core/units'
import type { MarkDraft } from '../../src/core/marks/mark'

/** Who stands between a ferry passenger and an answer. */
export const PARTIES: PartyDocument[] = [
  { party: 'orrin-platform', name: 'Orrin platform team', kind: 'origin', contact: 'platform@orrinsound.example', hosts: ['*.orrinsound.example'] },
  { party: 'sound-hosting', name: 'Sound Hosting', kind: 'hosting', contact: 'support@sound-hosting.example', ranges: ['198.51.100.0/24', '203.0.113.0/24'] },
  { party: 'orrin-names', name: 'Orrin name service', kind: 'name service', contact: 'hostmaster@orrinsound.example', ranges: ['192.0.2.61/32', '192.0.2.62/32'] },
  { party: 'freight-desk', name: 'Freight desk', kind: 'third party', contact: 'it@orrin-freight.example', hosts: ['orrin-freight.example', '*.orrin-freight.example'] },
  { party: 'pacifico-cable', name: 'Pacífico Cable', kind: 'access network', contact: 'noc@pacifico-cable.example', networks: ['Pacífico Cable'] },
  { party: 'andes-transit', name: 'Andes Transit', kind: 'transit', contact: 'noc@andes-transit.example', networks: ['Andes Transit'] },
  { party: 'tagus-mobile', name: 'Tagus Mobile', kind: 'access network', contact: '+351 21 000 0000', networks: ['Tagus Mobile'] }
]

/** What the pipeline and people marked in the past, for a demo whose today begins at `today`. */
export const marksOf = (today: number): MarkDraft[] => [
  { at: today - DAY + 21 * HOUR + 37 * MINUTE, kind: 'release', title: 'Release 4.18', detail: 'edge servers take the new build one after another', service: 'ticket-sales' },
  { at: today - 6 * DAY + 21 * HOUR + 31 * MINUTE, kind: 'release', title: 'Release 4.17', detail: '', service: 'ticket-sales' },
  { at: today - 13 * DAY + 10 * HOUR, kind: 'release', title: 'Release 4.16', detail: '', service: 'ticket-sales' },
  { at: today - 2 * DAY + 10 * HOUR + 5 * MINUTE, kind: 'change', title: 'Cache of fares twice as large', detail: 'to see whether the morning gets quicker', service: 'ticket-sales' },
  { at: today - 9 * DAY + 11 * HOUR + 15 * MINUTE, kind: 'release', title: 'Payment page 2.3', detail: '', service: 'checkout' }
]
