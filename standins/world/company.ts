import type { CheckDocument } from '../../src/core/definitions/check'

export const SERVICES = [
  { service: 'ticket-sales', name: 'Ticket sales', stage: 'production', objective: { available: '99.9%', over: '30d' } },
  { service: 'checkout', name: 'Checkout', stage: 'production', objective: { available: '99.9%', over: '30d' } },
  { service: 'departure-boards', name: 'Departure boards', stage: 'production', objective: { available: '99.95%', over: '30d' } },
  { service: 'harbour-data', name: 'Harbour data', stage: 'production', objective: { available: '99.5%', over: '30d' } },
  { service: 'freight', name: 'Freight', stage: 'production', objective: { available: '99.5%', over: '30d' } },
  { service: 'crew-portal', name: 'Crew portal', stage: 'production', objective: { available: '99.5%', over: '30d' } },
  { service: 'ticket-sales-staging', name: 'Ticket sales', stage: 'staging' }
]

export const PEOPLE = [
  { key: 'ines-falk', name: 'Ines Falk', job: 'Ticketing', role: 'owner' },
  { key: 'mael-kerjean', name: 'Mael Kerjean', job: 'Ticketing', role: 'editor' },
  { key: 'tomas-obrecht', name: 'Tomas Obrecht', job: 'Duty lead', role: 'editor' },
  { key: 'leila-haddad', name: 'Leila Haddad', job: 'Duty lead', role: 'editor' },
  { key: 'priya-nandakumar', name: 'Priya Nandakumar', job: 'Network', role: 'editor' },
  { key: 'jonas-wiik', name: 'Jonas Wiik', job: 'Platform', role: 'editor' }
] as const

const https = (min = '3d', warn = '14d') => ({ certificate: { min, warn } })
const ok = { status: '200-299' }

function check(key: string, name: string, service: string, url: string, rest: Record<string, unknown> = {}): CheckDocument {
  const { http, pass, ...others } = rest as { http?: object; pass?: unknown[] }
  return { check: key, name, service, importance: 'normal', http: { url, ...http }, every: '5m', from: 'all', wait: '10s', pass: pass ?? [ok, https()], ...others }
}

/** The checks the platform team has set up. */
export const CHECKS: CheckDocument[] = [
  check('sailings-api', 'Sailings API', 'ticket-sales', 'https://book.orrinsound.example/api/sailings', {
    importance: 'vital', tags: ['booking'], every: '60s', http: { headers: { accept: 'application/json' } },
    pass: [ok, { json: '$.sailings', count: { min: 1 } }, https()], down: { tries: 2, of: 5, apart: '10s', locations: 2 }, up: { tries: 6 }, slow: { above: '1300ms', for: '5m', locations: 2 }
  }),
  check('booking-home', 'Booking home page', 'ticket-sales', 'https://book.orrinsound.example/', { importance: 'vital', tags: ['booking'], pass: [ok, { text: 'Buy tickets' }, https()], slow: { above: '1300ms', for: '10m', locations: 3 } }),
  check('fares-api', 'Fares API', 'ticket-sales', 'https://fares.orrinsound.example/api/fares', { importance: 'high', tags: ['booking'], every: '60s', pass: [ok, { json: '$.fares', count: { min: 3 } }, https()] }),
  check('timetable', 'Timetable', 'ticket-sales', 'https://book.orrinsound.example/timetable', { pass: [ok, { text: '<table>' }] }),
  check('seat-map', 'Seat map', 'ticket-sales', 'https://book.orrinsound.example/api/seats', { importance: 'high', tags: ['booking'], pass: [ok, { json: '$.free', value: { min: 0 } }], slow: { above: '1300ms', for: '10m', locations: 3 } }),
  check('harbour-picture', 'Harbour picture', 'ticket-sales', 'https://book.orrinsound.example/images/harbour.jpg', { importance: 'low', pass: [ok, { size: { min: '20kB' } }] }),
  check('payment-page', 'Payment page', 'checkout', 'https://pay.orrinsound.example/checkout', { importance: 'vital', tags: ['payment'], every: '60s', pass: [ok, { text: 'Pay now' }, https()] }),
  check('payment-api', 'Payment API', 'checkout', 'https://pay.orrinsound.example/api/health', { importance: 'vital', tags: ['payment'], pass: [ok, { json: '$.status', is: 'ok' }, { json: '$.queue', value: { max: 50, warn: 20 } }] }),
  check('ticket-receipt', 'Ticket receipt', 'checkout', 'https://pay.orrinsound.example/receipt/sample', { pass: [ok, { text: 'OS-1200' }] }),
  check('boards-feed', 'Boards feed', 'departure-boards', 'https://boards.orrinsound.example/feed.json', { importance: 'high', every: '60s', tags: ['piers'], pass: [ok, { json: '$.departures', value: { min: 1 } }] }),
  check('boards-north', 'North pier board', 'departure-boards', 'https://boards.orrinsound.example/pier/north', { tags: ['piers'] }),
  check('boards-south', 'South pier board', 'departure-boards', 'https://boards.orrinsound.example/pier/south', { tags: ['piers'] }),
  check('boards-admin', 'Boards admin stays shut', 'departure-boards', 'https://boards.orrinsound.example/admin', { pass: [{ status: 401 }] }),
  check('tide-station', 'Tide station, live', 'harbour-data', 'https://tides.orrinsound.example/api/now', { importance: 'high', tags: ['sensors'], pass: [ok, { json: '$.station.online', is: true }, https()] }),
  check('tide-forecast', 'Tide forecast', 'harbour-data', 'https://tides.orrinsound.example/api/forecast', { tags: ['sensors'], pass: [ok, { json: '$.days', count: { min: 3 } }] }),
  check('berth-status', 'Berth status', 'harbour-data', 'https://berths.orrinsound.example/api/berths', { tags: ['sensors'], pass: [ok, { json: '$.berths', count: { min: 4 } }, https()] }),
  check('harbour-weather', 'Harbour weather', 'harbour-data', 'https://berths.orrinsound.example/weather', { pass: [ok, { json: '$.wind_mps', value: { max: 40 } }] }),
  check('freight-home', 'Freight home page', 'freight', 'https://orrin-freight.example/', { pass: [ok, { text: 'Book a lorry' }, https()] }),
  check('manifests-api', 'Customs manifests', 'freight', 'https://orrin-freight.example/api/manifests', { importance: 'high', tags: ['customs'], http: { auth: { bearer: 'demo-customs-token' } }, pass: [ok, { json: '$.manifests[*]', count: { min: 1 } }] }),
  check('customs-hotline', 'Customs hotline page', 'freight', 'https://orrin-freight.example/hotline', { importance: 'low', tags: ['customs'] }),
  check('crew-sign-in', 'Crew sign-in', 'crew-portal', 'https://crew.orrinsound.example/sign-in', { pass: [ok, { text: 'Sign in' }, https()] }),
  check('rosters-api', 'Rosters API', 'crew-portal', 'https://crew.orrinsound.example/api/rosters', { importance: 'high', http: { auth: { basic: { user: 'watch', password: 'demo-rosters' } } }, pass: [ok, { json: '$.rosters', count: { min: 1 } }] }),
  check('crew-handbook', 'Crew handbook', 'crew-portal', 'https://crew.orrinsound.example/handbook', { importance: 'low' }),
  check('staging-home', 'Booking home page', 'ticket-sales-staging', 'https://staging.orrinsound.example/', { importance: 'low' }),
  check('staging-sailings', 'Sailings API', 'ticket-sales-staging', 'https://staging.orrinsound.example/api/sailings', { importance: 'low', pass: [ok, { json: '$.sailings', count: { min: 1 } }] }),
  check('staging-fares', 'Fares API', 'ticket-sales-staging', 'https://staging.orrinsound.example/api/fares', { importance: 'low' })
]
