import type { CheckDocument } from '../../src/core/definitions/check'
import type { ServiceDocument } from '../../src/core/definitions/service'

const objective = (available: string) => ({ available, over: '30d' })
const common = [{ status: '200-299' }, { certificate: { min: '3d', warn: '14d' } }]

/** The clients that services are looked after for. */
export const CLIENTS = [{ key: 'skarvoy', name: 'Skarvoy Council' }]

/** The services with what their checks share. Values of secrets stand in SECRETS. */
export const SERVICES: ServiceDocument[] = [
  { service: 'ticket-sales', name: 'Ticket sales', stage: 'production', objective: objective('99.9%'), every: '5m', variables: { BASE: 'https://book.orrinsound.example', FARES: 'https://fares.orrinsound.example' }, pass: common },
  { service: 'checkout', name: 'Checkout', stage: 'production', objective: objective('99.9%'), every: '5m', importance: 'vital', variables: { BASE: 'https://pay.orrinsound.example' }, pass: common },
  { service: 'departure-boards', name: 'Departure boards', stage: 'production', client: 'skarvoy', objective: objective('99.95%'), every: '5m', variables: { BASE: 'https://boards.orrinsound.example' }, pass: common },
  { service: 'harbour-data', name: 'Harbour data', stage: 'production', client: 'skarvoy', objective: objective('99.5%'), every: '5m', variables: { TIDES: 'https://tides.orrinsound.example', BERTHS: 'https://berths.orrinsound.example' }, pass: common },
  { service: 'freight', name: 'Freight', stage: 'production', objective: objective('99.5%'), every: '5m', variables: { BASE: 'https://orrin-freight.example' }, secrets: ['CUSTOMS_TOKEN'], pass: common },
  { service: 'crew-portal', name: 'Crew portal', stage: 'production', objective: objective('99.5%'), every: '5m', variables: { BASE: 'https://crew.orrinsound.example' }, secrets: ['ROSTER_PASSWORD'], pass: common },
  { service: 'ticket-sales-staging', name: 'Ticket sales', stage: 'staging', every: '5m', importance: 'low', variables: { BASE: 'https://staging.orrinsound.example', FARES: 'https://staging.orrinsound.example' }, pass: common }
]

/** Values that are set apart, made up like everything here. */
export const SECRETS: { service: string; name: string; value: string }[] = [
  { service: 'freight', name: 'CUSTOMS_TOKEN', value: 'demo-customs-token' }, { service: 'crew-portal', name: 'ROSTER_PASSWORD', value: 'demo-rosters' }
]

export const PEOPLE = [
  { key: 'ines-falk', name: 'Ines Falk', job: 'Ticketing', role: 'owner' },
  { key: 'mael-kerjean', name: 'Mael Kerjean', job: 'Ticketing', role: 'editor' },
  { key: 'tomas-obrecht', name: 'Tomas Obrecht', job: 'Duty lead', role: 'editor' },
  { key: 'leila-haddad', name: 'Leila Haddad', job: 'Duty lead', role: 'editor' },
  { key: 'priya-nandakumar', name: 'Priya Nandakumar', job: 'Network', role: 'editor' },
  { key: 'jonas-wiik', name: 'Jonas Wiik', job: 'Platform', role: 'editor' }
] as const

/** What the platform team has announced; local times of the company's zone. */
export const PLANNED = [
  { planned: 'tide-sensors', title: 'Tide sensors are cleaned', public: 'Tide levels may be missing for up to an hour.', from: '2026-09-02T10:00', lasts: '1h', repeats: 'FREQ=WEEKLY;BYDAY=WE', for: { tags: ['sensors'] } },
  { planned: 'freight-move', title: 'Freight moves to new hosting', public: 'Manifests cannot be filed between 23:00 and 03:00.', lasts: '4h', for: { services: ['freight'] } },
  { planned: 'staging-releases', title: 'Ticket sales is released to staging', does: 'window', from: '2026-09-01T14:00', lasts: '45m', repeats: 'FREQ=WEEKLY;BYDAY=TU,TH', for: { services: ['ticket-sales-staging'] } }
]

/** Colours of tags. */
export const TAG_COLOURS: Record<string, string> = { booking: '#1b6ca8', payment: '#b5479d', piers: '#4c8c2b', sensors: '#008c95', customs: '#a8641c' }

const check = (key: string, name: string, service: string, url: string, { http, ...rest }: { http?: object } & Record<string, unknown> = {}): CheckDocument =>
  ({ check: key, name, service, http: { url, ...http }, ...rest })

/** The checks the platform team has set up. What they do not say comes from their service. */
export const CHECKS: CheckDocument[] = [
  check('sailings-api', 'Sailings API', 'ticket-sales', '${BASE}/api/sailings', {
    importance: 'vital', tags: ['booking'], every: '60s', http: { headers: { accept: 'application/json' } },
    pass: [{ json: '$.sailings', count: { min: 1 } }], down: { tries: 2, of: 5, apart: '10s', locations: 2 }, up: { tries: 6 }, slow: { above: '1300ms', for: '5m', locations: 2 }
  }),
  check('booking-home', 'Booking home page', 'ticket-sales', '${BASE}/', { importance: 'vital', tags: ['booking'], pass: [{ text: 'Buy tickets' }], slow: { above: '1300ms', for: '10m', locations: 3 } }),
  check('fares-api', 'Fares API', 'ticket-sales', '${FARES}/api/fares', { importance: 'high', tags: ['booking'], every: '60s', pass: [{ json: '$.fares', count: { min: 3 } }] }),
  check('timetable', 'Timetable', 'ticket-sales', '${BASE}/timetable', { pass: [{ text: '<table>' }] }),
  check('seat-map', 'Seat map', 'ticket-sales', '${BASE}/api/seats', { importance: 'high', tags: ['booking'], pass: [{ json: '$.free', value: { min: 0 } }], slow: { above: '1300ms', for: '10m', locations: 3 } }),
  check('harbour-picture', 'Harbour picture', 'ticket-sales', '${BASE}/images/harbour.jpg', { importance: 'low', pass: [{ size: { min: '20kB' } }], without: ['certificate'] }),
  check('payment-page', 'Payment page', 'checkout', '${BASE}/checkout', { tags: ['payment'], every: '60s', pass: [{ text: 'Pay now' }] }),
  check('payment-api', 'Payment API', 'checkout', '${BASE}/api/health', { tags: ['payment'], pass: [{ json: '$.status', is: 'ok' }, { json: '$.queue', value: { max: 50, warn: 20 } }] }),
  check('ticket-receipt', 'Ticket receipt', 'checkout', '${BASE}/receipt/sample', { importance: 'normal', pass: [{ text: 'OS-1200' }] }),
  check('boards-feed', 'Boards feed', 'departure-boards', '${BASE}/feed.json', { importance: 'high', every: '60s', tags: ['piers'], pass: [{ json: '$.departures', value: { min: 1 } }] }),
  check('boards-north', 'North pier board', 'departure-boards', '${BASE}/pier/north', { tags: ['piers'], needs: ['boards-feed'] }),
  check('boards-south', 'South pier board', 'departure-boards', '${BASE}/pier/south', { tags: ['piers'], needs: ['boards-feed'] }),
  check('boards-admin', 'Boards admin stays shut', 'departure-boards', '${BASE}/admin', { pass: [{ status: 401 }] }),
  check('tide-station', 'Tide station, live', 'harbour-data', '${TIDES}/api/now', { importance: 'high', tags: ['sensors'], pass: [{ json: '$.station.online', is: true }] }),
  check('tide-forecast', 'Tide forecast', 'harbour-data', '${TIDES}/api/forecast', { tags: ['sensors'], pass: [{ json: '$.days', count: { min: 3 } }] }),
  check('berth-status', 'Berth status', 'harbour-data', '${BERTHS}/api/berths', { tags: ['sensors'], pass: [{ json: '$.berths', count: { min: 4 } }] }),
  check('harbour-weather', 'Harbour weather', 'harbour-data', '${BERTHS}/weather', { pass: [{ json: '$.wind_mps', value: { max: 40 } }], slow: { above: 'usual', spreads: 6, for: '15m' } }),
  check('freight-home', 'Freight home page', 'freight', '${BASE}/', { pass: [{ text: 'Book a lorry' }] }),
  check('manifests-api', 'Customs manifests', 'freight', '${BASE}/api/manifests', { importance: 'high', tags: ['customs'], http: { auth: { bearer: '${CUSTOMS_TOKEN}' } }, pass: [{ json: '$.manifests[*]', count: { min: 1 } }] }),
  check('customs-hotline', 'Customs hotline page', 'freight', '${BASE}/hotline', { importance: 'low', tags: ['customs'] }),
  check('crew-sign-in', 'Crew sign-in', 'crew-portal', '${BASE}/sign-in', { pass: [{ text: 'Sign in' }] }),
  check('rosters-api', 'Rosters API', 'crew-portal', '${BASE}/api/rosters', { importance: 'high', http: { auth: { basic: { user: 'watch', password: '${ROSTER_PASSWORD}' } } }, pass: [{ json: '$.rosters', count: { min: 1 } }] }),
  check('crew-handbook', 'Crew handbook', 'crew-portal', '${BASE}/handbook', { importance: 'low', turns: 'in-turn' }),
  check('staging-home', 'Booking home page', 'ticket-sales-staging', '${BASE}/'),
  check('staging-sailings', 'Sailings API', 'ticket-sales-staging', '${BASE}/api/sailings', { window: { every: '10s' }, pass: [{ json: '$.sailings', count: { min: 1 } }] }),
  check('staging-fares', 'Fares API', 'ticket-sales-staging', '${FARES}/api/fares')
]
