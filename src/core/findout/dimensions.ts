/** Everything by which tries can be split and filtered, in the order in which it is offered. */
export const DIMENSIONS = {
  check: 'check', service: 'service', stage: 'stage', client: 'client', tag: 'tag', kind: 'kind', host: 'host', location: 'location', country: 'country', continent: 'continent', network: 'network', 'network type': 'network type',
  server: 'server', address: 'address', party: 'party', 'HTTP version': 'HTTP version', 'TLS version': 'TLS version', resolver: 'resolver', status: 'status', reason: 'reason', step: 'step', weekday: 'weekday', hour: 'hour'
} as const
export type Dimension = keyof typeof DIMENSIONS
export const DIMENSION_NAMES = Object.keys(DIMENSIONS) as Dimension[]

/** What follows “by”, and stands over a list: “networks”. */
export const manyOf = (dimension: Dimension): string => ({ country: 'countries', address: 'addresses', party: 'parties', status: 'statuses', check: 'checks', 'HTTP version': 'HTTP versions', 'TLS version': 'TLS versions', 'network type': 'network types' } as Partial<Record<Dimension, string>>)[dimension] ?? `${dimension}s`

/** What an outcome is, not what it comes from: such a thing never explains it. */
export const OUTCOMES: readonly Dimension[] = ['status', 'reason']

/** Of things that stand for the same tries, the one nearest to a cause is named: the earlier here. */
const NEARNESS: readonly Dimension[] = ['server', 'resolver', 'network', 'address', 'location', 'party', 'step', 'check', 'host', 'service', 'HTTP version', 'TLS version', 'country', 'network type', 'continent', 'kind', 'stage', 'client', 'tag', 'hour', 'weekday', 'status', 'reason']
export const nearness = (dimension: string): number => NEARNESS.indexOf(dimension as Dimension)

/** Where on the way from a visitor to an answer a thing lies. */
export type Region = 'server' | 'place' | 'request' | 'time'
export function regionOf(dimension: string): Region {
  if (['server', 'address', 'party'].includes(dimension)) return 'server'
  if (['resolver', 'network', 'location', 'country', 'continent', 'network type'].includes(dimension)) return 'place'
  return ['hour', 'weekday'].includes(dimension) ? 'time' : 'request'
}

/** The continents of countries (ISO 3166-1 alpha-2), by the United Nations geoscheme (M49). */
const CONTINENTS: Record<string, string> = {
  Africa: 'DZ AO BJ BW BF BI CV CM CF TD KM CG CD CI DJ EG GQ ER SZ ET GA GM GH GN GW KE LS LR LY MG MW ML MR MU MA MZ NA NE NG RW ST SN SC SL SO ZA SS SD TZ TG TN UG EH ZM ZW RE YT',
  Asia: 'AF AM AZ BH BD BT BN KH CN CY GE HK IN ID IR IQ IL JP JO KZ KW KG LA LB MO MY MV MN MM NP KP OM PK PS PH QA SA SG KR LK SY TW TJ TH TL TR TM AE UZ VN YE',
  Europe: 'AL AD AT BY BE BA BG HR CZ DK EE FO FI FR DE GI GR GG HU IS IE IM IT JE LV LI LT LU MT MD MC ME NL MK NO PL PT RO RU SM RS SK SI ES SJ SE CH UA GB VA AX XK',
  'North America': 'AG BS BB BZ CA CR CU DM DO SV GD GT HT HN JM MX NI PA KN LC VC TT US PR GL BM',
  Oceania: 'AU FJ KI MH FM NR NZ PW PG WS SB TO TV VU NC PF GU', 'South America': 'AR BO BR CL CO EC FK GF GY PY PE SR UY VE'
}
const byCountry = new Map(Object.entries(CONTINENTS).flatMap(([continent, countries]) => countries.split(' ').map((country) => [country, continent] as const)))
export const continentOf = (country: string): string => byCountry.get(country.toUpperCase()) ?? 'elsewhere'
