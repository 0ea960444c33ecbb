import type { CheckDocument } from '../../src/core/definitions/check'
import { SERVER_HOSTS } from './hosts'
import type { ServiceDocument } from '../../src/core/definitions/service'

const objective = (available: string) => ({ available, over: '30d' })
const common = [{ status: '200-299' }, { certificate: { min: '3d', warn: '14d' } }]

/** The clients that services are looked after for. */
export const CLIENTS = [{ key: 'skarvoy', name: 'Skarvoy Council' }]

/** The services with what their checks share. Values of secrets stand in SECRETS. */
export const SERVICES: ServiceDocument[] = [
  { service: 'ticket-sales', name: 'Ticket sales', stage: 'production', secrets: ['CACHE_PASSWORD', 'ORDERS_PASSWORD'], objective: objective('99.9%'), every: '5m', variables: { BASE: 'https://book.orrinsound.example', FARES: 'https://fares.orrinsound.example' }, pass: common },
  { service: 'checkout', name: 'Checkout', stage: 'production', secrets: ['MAILBOX_PASSWORD'], objective: objective('99.9%'), every: '5m', importance: 'vital', variables: { BASE: 'https://pay.orrinsound.example' }, pass: common },
  { service: 'departure-boards', name: 'Departure boards', stage: 'production', client: 'skarvoy', objective: objective('99.95%'), every: '5m', variables: { BASE: 'https://boards.orrinsound.example' }, pass: common },
  { service: 'harbour-data', name: 'Harbour data', stage: 'production', secrets: ['SENSORS_PASSWORD'], client: 'skarvoy', objective: objective('99.5%'), every: '5m', variables: { TIDES: 'https://tides.orrinsound.example', BERTHS: 'https://berths.orrinsound.example' }, pass: common },
  { service: 'freight', name: 'Freight', stage: 'production', objective: objective('99.5%'), every: '5m', variables: { BASE: 'https://orrin-freight.example' }, secrets: ['CUSTOMS_TOKEN', 'FILES_PASSWORD'], pass: common },
  { service: 'crew-portal', name: 'Crew portal', stage: 'production', objective: objective('99.5%'), every: '5m', variables: { BASE: 'https://crew.orrinsound.example' }, secrets: ['ROSTER_PASSWORD'], pass: common },
  { service: 'name-service', name: 'Name service', stage: 'production', objective: objective('99.95%'), every: '5m' },
  { service: 'servers', name: 'Servers', stage: 'production', objective: objective('99.5%'), every: '60s' },
  { service: 'ticket-sales-staging', name: 'Ticket sales', stage: 'staging', every: '5m', importance: 'low', variables: { BASE: 'https://staging.orrinsound.example', FARES: 'https://staging.orrinsound.example' }, pass: common }
]

/** Values that are set apart, made up like everything here. */
export const SECRETS: { service: string; name: string; value: string }[] = [
  { service: 'checkout', name: 'MAILBOX_PASSWORD', value: 'demo-mailbox' }, { service: 'ticket-sales', name: 'CACHE_PASSWORD', value: 'demo-cache' }, { service: 'ticket-sales', name: 'ORDERS_PASSWORD', value: 'demo-orders' }, { service: 'harbour-data', name: 'SENSORS_PASSWORD', value: 'demo-sensors' }, { service: 'freight', name: 'FILES_PASSWORD', value: 'demo-manifests' }, { service: 'freight', name: 'CUSTOMS_TOKEN', value: 'demo-customs-token' }, { service: 'crew-portal', name: 'ROSTER_PASSWORD', value: 'demo-rosters' }
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

const other = (key: string, name: string, service: string, rest: Record<string, unknown>): CheckDocument => ({ check: key, name, service, ...rest })

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
  check('staging-fares', 'Fares API', 'ticket-sales-staging', '${FARES}/api/fares'),
  other('fares-engine', 'Fares engine', 'ticket-sales', { importance: 'high', grpc: { host: 'fares.orrinsound.example', port: 50051, service: 'fares' } }),
  other('buy-a-ticket', 'Buying a ticket', 'ticket-sales', {
    importance: 'vital', tags: ['booking'], from: ['bergen', 'aarhus', 'lisbon', 'montreal', 'orrin-harbour'], wait: '15s',
    sequence: {
      steps: [
        { name: 'home page', url: '${BASE}/', pass: [{ text: 'Buy tickets' }] },
        { name: 'sailings', url: '${BASE}/api/sailings', take: [{ as: 'sailing', json: '$.sailings[0].id' }], pass: [{ status: 200 }, { json: '$.sailings', count: { min: 1 } }] },
        { name: 'seats', url: '${BASE}/api/seats?sailing={=url(sailing)}', pass: [{ json: '$.free', value: { min: 1 } }] },
        { name: 'fares', url: '${FARES}/api/fares', pass: [{ json: '$.fares', count: { min: 3 } }] }
      ]
    },
    pass: [{ slowest: { max: '5s', warn: '3s' } }]
  }),
  other('booking-certificate', 'Booking certificate', 'ticket-sales', { every: '1h', certificate: { host: 'book.orrinsound.example' }, pass: [{ chain: { min: '3d', warn: '14d' } }, { protocol: { matches: '^TLSv1\\.[23]$' } }] }),
  other('ticket-mail', 'Ticket mail', 'checkout', {
    every: '15m', importance: 'high', tags: ['payment'], wait: '30s',
    mail: { to: 'watch@orrinsound.example', from: 'tickets@orrinsound.example', through: 'mail.orrinsound.example', mailbox: 'mail.orrinsound.example', mailboxUser: 'watch', mailboxPassword: '${MAILBOX_PASSWORD}' }, pass: [{ phase: 'wait', max: '20s', warn: '8s' }]
  }),
  other('mail-server', 'Mail server', 'checkout', { every: '15m', smtp: { host: 'mail.orrinsound.example', port: 587, to: 'tickets@orrinsound.example' } }),
  other('boards-live', 'Boards, live', 'departure-boards', { importance: 'high', tags: ['piers'], websocket: { url: 'wss://boards.orrinsound.example:8443/live', send: '{"pier":"north"}', expect: '"departures"' }, pass: [{ json: '$.departures[*]', count: { min: 1 } }] }),
  other('boards-port', 'Boards port', 'departure-boards', { every: '15m', importance: 'low', tags: ['piers'], tcp: { host: 'boards.orrinsound.example', port: 443 } }),
  other('tide-beacon', 'Tide beacon', 'harbour-data', { every: '15m', tags: ['sensors'], udp: { host: 'beacon.orrinsound.example', port: 7777, send: 'level?', expect: '^level=' } }),
  other('harbour-line', 'Line to the harbour', 'harbour-data', { ping: { host: 'tides.orrinsound.example', count: 5, apart: '100ms' }, pass: [{ loss: { max: '60%', warn: '19%' } }] }),
  other('harbour-path', 'Path to the harbour', 'harbour-data', { every: '15m', path: { host: 'tides.orrinsound.example' }, pass: [{ loss: { max: '80%', warn: '40%' } }, { changes: { warn: { max: 0 } } }] }),
  other('tide-sensors', 'Tide sensors', 'harbour-data', { every: '15m', tags: ['sensors'], mqtt: { host: 'sensors.orrinsound.example', user: 'watch', password: '${SENSORS_PASSWORD}', topic: 'tides/check', message: 'level?' } }),
  other('berth-camera', 'Berth camera', 'harbour-data', { every: '15m', wait: '15s', from: ['bergen', 'lisbon', 'montreal'], stream: { url: 'https://cameras.orrinsound.example/live.m3u8' }, pass: [{ pace: { min: 1, warn: 1.5 } }, { qualities: { min: 2 } }] }),
  other('harbour-clock', 'Harbour clock', 'harbour-data', { every: '15m', importance: 'low', ntp: { host: 'clock.orrinsound.example' }, pass: [{ distance: { max: '500ms', warn: '250ms' } }, { stratum: { max: 15, warn: 4 } }] }),
  other('manifest-files', 'Manifest files', 'freight', { every: '15m', tags: ['customs'], from: ['bergen', 'aarhus', 'orrin-harbour'], ftp: { host: 'files.orrin-freight.example', user: 'watch', password: '${FILES_PASSWORD}', file: 'manifest-881.csv' }, pass: [{ text: 'cleared' }, { files: { count: { min: 1 } } }] }),
  other('hotline', 'Customs hotline', 'freight', { every: '15m', sip: { host: 'hotline.orrin-freight.example' }, pass: [{ methods: { has: 'INVITE' } }] }),
  other('ticket-queue', 'Ticket queue', 'ticket-sales', { every: '15m', from: ['bergen', 'orrin-harbour'], redis: { host: 'cache.orrinsound.example', password: '${CACHE_PASSWORD}', command: 'LLEN tickets' }, pass: [{ number: { max: 100, warn: 50 } }] }),
  other('orders-database', 'Orders of the last hour', 'ticket-sales', { every: '15m', from: ['bergen', 'orrin-harbour'], mysql: { host: 'db.orrinsound.example', user: 'watch', password: '${ORDERS_PASSWORD}', query: 'SELECT count(*) FROM orders WHERE at > now() - interval 1 hour' }, pass: [{ number: { min: 1 } }] }),
  other('rosters-container', 'Rosters container', 'crew-portal', { every: '15m', from: ['orrin-harbour'], container: { container: 'rosters', engine: 'http://engine.orrinsound.example:2375' }, pass: [{ restarts: { max: 5, warn: 2 } }], down: { tries: 2, apart: '10s', locations: 1 } }),
  other('booking-delegation', 'Booking site, from the root', 'name-service', { importance: 'high', dns: { name: 'book.orrinsound.example', walk: true }, pass: [{ values: { count: { min: 5 } } }, { disagreeing: { max: 0 } }, { silent: { warn: { max: 0 } } }], slow: { above: '1500ms', for: '10m', locations: 2 } }),
  other('mail-exchanger', 'Mail exchanger', 'name-service', { every: '15m', dns: { name: 'orrinsound.example', type: 'MX' }, pass: [{ values: { is: '10 mail.orrinsound.example' } }] }),
  other('domain-end', 'End of orrinsound.example', 'name-service', { every: '6h', from: ['bergen'], domain: { name: 'orrinsound.example', server: 'https://registry.example/rdap/' }, down: { tries: 2, apart: '60s', locations: 1 }, pass: [{ left: { min: '14d', warn: '45d' } }, { servers: { is: ['ns1.orrinsound.example', 'ns2.orrinsound.example'] } }] }),
  ...[1, 2].map((number) => other(`name-server-${number}`, `Name server ${number}`, 'name-service', { every: '15m', from: ['bergen', 'lisbon', 'montreal'], dns: { name: 'orrinsound.example', type: 'SOA', resolver: `ns${number}.orrinsound.example` }, slow: { above: '900ms', for: '1m', locations: 2 } })),
  other('name-servers', 'Name servers together', 'name-service', { importance: 'vital', every: '60s', derived: { of: ['name-server-1', 'name-server-2'], least: 'any', warn: 'all' } }),
  other('nightly-import', 'Nightly import', 'crew-portal', { importance: 'high', call: { comes: '30 3 * * *', zone: 'Europe/Oslo', grace: '30m', longest: '1h' }, pass: [{ took: { max: '1h', warn: '40m' } }, { text: 'rosters imported' }] }),
  other('berth-plan', 'Berth plan', 'harbour-data', { every: '60s', call: { comes: '60s', grace: '30s', longest: '45s' }, pass: [{ text: 'berths' }] }),
  ...SERVER_HOSTS.map(({ name }) => other(`host-${name}`, name.charAt(0).toUpperCase() + name.slice(1), 'servers', {
    tags: ['host'], numbers: { host: `${name}.orrinsound.example`, silent: '75s' },
    pass: [{ metric: 'cpu.busy', value: { max: '95%', warn: '85%' }, for: '10m', margin: '5%' }, { metric: 'memory.used', value: { max: '97%', warn: '90%' }, for: '5m', margin: '2%' }, { metric: 'disk.used', value: { max: '95%', warn: '85%' }, margin: '2%' }]
  })),
  other('ticket-broker', 'Ticket broker', 'ticket-sales', {
    every: '60s', from: ['orrin-harbour'], numbers: { scrape: 'http://queue.orrinsound.example:9090/metrics' }, down: { tries: 2, apart: '10s', locations: 1 },
    pass: [{ metric: 'broker_queue', value: { max: 500, warn: 100 }, for: '5m', margin: '10%' }, { metric: 'broker_messages_total{queue="tickets"}', rate: true, value: { min: 0.1 }, for: '10m' }]
  })
]
