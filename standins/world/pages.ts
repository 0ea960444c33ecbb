import type { Drill } from './faults'
import { DAY, HOUR, MINUTE, type Instant } from '../../src/core/units'

/** What a path of a host answers when all is well. `work` is the server's own time in milliseconds. */
export interface Page {
  work: number
  type: string
  status?: number
  body: (at: Instant, has?: (drill: Drill) => boolean) => string
  /** Sections that are missing while the page is only half loaded. */
  half?: string
}

const json = (value: unknown) => JSON.stringify(value, null, 2)
const iso = (at: Instant) => new Date(at).toISOString()
const html = (title: string, inner: string) => `<!doctype html><html lang="en"><head><title>${title}</title></head><body><main><h1>${title}</h1>\n${inner}\n</main></body></html>`
const paragraphs = (count: number) => Array.from({ length: count }, (_, index) => `<p>Orrin Sound Ferries, notice ${index + 1}: mind the ramp, keep your ticket ready and follow the crew.</p>`).join('\n')

const sailings = (at: Instant) => json({
  sailings: ['Orrin', 'Skarvoy', 'Tern Head', 'Lunna'].map((to, index) => ({
    id: `OS-${1200 + index}`, from: 'Orrin', to, departs: iso(Math.ceil(at / HOUR) * HOUR + index * 20 * MINUTE), seats: 120 - index * 17, ship: ['Fulmar', 'Guillemot', 'Kittiwake', 'Petrel'][index]
  })), updated: iso(at)
})
const tide = (at: Instant) => Number((2.4 + 1.6 * Math.sin((2 * Math.PI * at) / (12.42 * HOUR))).toFixed(2))

/** Pages by host and path. */
export const PAGES: Record<string, Record<string, Page>> = {
  'book.orrinsound.example': {
    '/': { work: 48, type: 'text/html; charset=utf-8', body: () => html('Orrin Sound Ferries', `<a href="/search">Find a sailing</a>${paragraphs(60)}<footer>Buy tickets</footer>`), half: 'footer' },
    '/api/sailings': { work: 62, type: 'application/json', body: sailings },
    '/timetable': { work: 35, type: 'text/html; charset=utf-8', body: () => html('Timetable', `<table><tr><td>Orrin</td><td>07:10</td></tr></table>${paragraphs(25)}`) },
    '/api/seats': { work: 55, type: 'application/json', body: (at) => json({ ship: 'Fulmar', free: 40 + Math.floor((at / MINUTE) % 60), decks: [{ deck: 1, free: 20 }, { deck: 2, free: 28 }] }) },
    '/images/harbour.jpg': { work: 6, type: 'image/jpeg', body: () => 'x'.repeat(42_000) }
  },
  'fares.orrinsound.example': { '/api/fares': { work: 88, type: 'application/json', body: () => json({ currency: 'NOK', fares: [{ class: 'foot', price: 84 }, { class: 'car', price: 312 }, { class: 'van', price: 498 }] }) } },
  'pay.orrinsound.example': {
    '/checkout': { work: 120, type: 'text/html; charset=utf-8', body: () => html('Pay for your tickets', `<form method="post"><button>Pay now</button></form>${paragraphs(12)}`), half: 'form' },
    '/api/health': { work: 15, type: 'application/json', body: (at) => json({ status: 'ok', queue: 3 + Math.floor((at / MINUTE) % 5), at: iso(at) }) },
    '/receipt/sample': { work: 40, type: 'text/html; charset=utf-8', body: () => html('Your receipt', '<p>Ticket OS-1200, 84 NOK</p>') }
  },
  'boards.orrinsound.example': {
    '/feed.json': { work: 18, type: 'application/json', body: (at) => json({ pier: 'all', departures: 14, updated: iso(at) }) },
    '/pier/north': { work: 22, type: 'text/html; charset=utf-8', body: () => html('North pier', '<ol><li>Skarvoy 14:40</li><li>Lunna 15:10</li></ol>') },
    '/pier/south': { work: 22, type: 'text/html; charset=utf-8', body: () => html('South pier', '<ol><li>Tern Head 14:55</li></ol>') },
    '/admin': { work: 9, type: 'text/plain', status: 401, body: () => 'sign in first' }
  },
  'tides.orrinsound.example': {
    '/api/now': { work: 14, type: 'application/json', body: (at) => json({ station: { id: 'ORR-04', online: true, height_m: tide(at) }, observed_at: iso(at - 8000), next_high: { at: iso(at + 3 * HOUR).slice(11, 16), height_m: 3.87 } }) },
    '/api/forecast': { work: 30, type: 'application/json', body: (at) => json({ days: [0, 1, 2].map((day) => ({ date: iso(at + day * DAY).slice(0, 10), high: 3.9, low: 0.8 })) }) }
  },
  'berths.orrinsound.example': {
    '/api/berths': { work: 20, type: 'application/json', body: () => json({ berths: [1, 2, 3, 4].map((berth) => ({ berth, ship: berth === 2 ? 'Fulmar' : null })) }) },
    '/weather': { work: 25, type: 'application/json', body: (at) => json({ wind_mps: 6 + Math.floor((at / HOUR) % 7), sight_km: 12 }) }
  },
  'orrin-freight.example': {
    '/': { work: 70, type: 'text/html; charset=utf-8', body: () => html('Orrin Freight', `${paragraphs(30)}<address>Book a lorry</address>`) },
    '/api/manifests': { work: 140, type: 'application/json', body: () => json({ manifests: [{ id: 'M-881', state: 'cleared' }, { id: 'M-882', state: 'waiting' }] }) },
    '/hotline': { work: 28, type: 'text/html; charset=utf-8', body: () => html('Customs hotline', '<p>Open from 06:00 to 22:00.</p>') }
  },
  'registry.example': {
    '/rdap/domain/orrinsound.example': {
      work: 30, type: 'application/rdap+json', body: (at, has) => json({
        objectClassName: 'domain', ldhName: 'orrinsound.example', status: ['active', 'client transfer prohibited'], nameservers: [{ ldhName: 'ns1.orrinsound.example' }, { ldhName: 'ns2.orrinsound.example' }],
        events: [{ eventAction: 'registration', eventDate: '2015-04-01T00:00:00Z' }, { eventAction: 'expiration', eventDate: iso(has?.('domain-ending') ? at + 6 * DAY : Math.ceil(at / (365 * DAY)) * 365 * DAY + 60 * DAY) }],
        entities: [{ roles: ['registrar'], vcardArray: ['vcard', [['version', {}, 'text', '4.0'], ['fn', {}, 'text', 'Quay Registrar']]] }]
      })
    }
  },
  'crew.orrinsound.example': {
    '/sign-in': { work: 44, type: 'text/html; charset=utf-8', body: () => html('Crew portal', '<form><input name="crew"><button>Sign in</button></form>') },
    '/api/rosters': { work: 95, type: 'application/json', body: () => json({ week: 48, rosters: [{ ship: 'Fulmar', crew: 9 }, { ship: 'Petrel', crew: 7 }] }) },
    '/handbook': { work: 20, type: 'text/html; charset=utf-8', body: () => html('Handbook', paragraphs(80)) }
  },
  'staging.orrinsound.example': {
    '/': { work: 90, type: 'text/html; charset=utf-8', body: () => html('Orrin Sound Ferries (staging)', paragraphs(20)) },
    '/api/sailings': { work: 110, type: 'application/json', body: sailings },
    '/api/fares': { work: 130, type: 'application/json', body: () => json({ fares: [{ class: 'foot', price: 84 }] }) }
  }
}
