import type { RoutingDocument } from '../../src/core/routing/routing-world'
import type { Preferences } from '../../src/core/people/preferences'
import { ZONE } from './faults'

const rota = (key: string, name: string, people: string[], from: string): RoutingDocument => ({ kind: 'rota', key, document: { rota: key, name, zone: ZONE, layers: [{ people, from, every: 'week' }] } })
const team = (key: string, name: string, people: string[]): RoutingDocument => ({ kind: 'team', key, document: { team: key, name, people } })
const route = (key: string, place: number, rest: Record<string, unknown>): RoutingDocument => ({ kind: 'route', key, document: { route: key, place, ...rest } })

/** Who is called, not only written to. */
export const ON_THE_PHONE: string[] = ['ines-falk', 'tomas-obrecht', 'leila-haddad']

/** How people want to be told; the others have said nothing. */
export const WISHES: Record<string, Preferences | undefined> = {
  'ines-falk': { quiet: ['daily 22:30-06:30'], working: ['mon-fri 08:00-16:00'], by: { urgent: ['push', 'sms'], slow: ['mail'], over: ['push'] } },
  'mael-kerjean': { quiet: ['daily 23:00-07:00'], by: { slow: ['mail'] } },
  'tomas-obrecht': { quiet: ['sat,sun 00:00-09:00'], working: ['mon-fri 09:00-17:00'], takeByLink: false },
  'jonas-wiik': { working: ['mon-fri 08:00-16:00'] },
  'priya-nandakumar': { zone: 'Europe/Dublin', quiet: ['daily 22:00-06:00'] }
}

/** Who hears of what at the ferry company. */
export const ROUTING: RoutingDocument[] = [
  team('ticketing', 'Ticketing', ['ines-falk', 'mael-kerjean']),
  team('platform', 'Platform', ['jonas-wiik', 'priya-nandakumar']),
  rota('ticketing', 'Ticketing on call', ['mael-kerjean', 'ines-falk'], '2026-01-05T09:00'),
  rota('network', 'Network on call', ['priya-nandakumar', 'jonas-wiik'], '2026-01-05T09:00'),
  rota('duty-lead', 'Duty lead', ['tomas-obrecht', 'leila-haddad'], '2026-01-05T18:00'),
  route('log', 1, { goOn: true, then: [{ tell: 'channel/operations-log' }] }),
  route('vital-down', 2, { when: { importance: 'vital', state: 'down' }, urgent: true, then: [
    { tell: 'rota/ticketing', by: ['push', 'sms'] }, { after: '10m', unless: 'taken', tell: 'rota/duty-lead', by: ['voice'] }, { after: '20m', unless: 'taken', tell: 'team/ticketing', by: ['mail'], again: '30m' }] }),
  route('harbour', 3, { when: { service: 'harbour-data', state: ['down', 'slow'] }, then: [{ tell: 'rota/network', by: ['push'] }, { after: '15m', tell: 'rota/duty-lead', by: ['mail'] }] }),
  route('hosts', 4, { when: { tag: 'host', hours: 'mon-fri 08:00-18:00' }, then: [{ tell: 'channel/platform-chat' }] }),
  route('staging', 5, { when: { stage: 'staging' }, recovery: 'nobody', then: [{ after: '15m', tell: 'person/mael-kerjean', by: ['mail'] }] }),
  route('warnings', 6, { when: { state: ['warning', 'burn'] }, notTwiceIn: '6h', then: [{ tell: 'channel/platform-chat' }, { after: '1h', tell: 'person/jonas-wiik', by: ['mail'], during: 'working-hours' }] }),
  route('rest', 7, { then: [{ tell: ['rota/ticketing', 'rota/duty-lead'], by: ['push', 'mail'] }] })
]
