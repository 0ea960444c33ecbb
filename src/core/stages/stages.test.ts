import { copyStage, pairChecks } from './copy-stage'

const service = { service: 'sales', name: 'Sales', stage: 'production', client: 'skarvoy', objective: { available: '99.9%' }, variables: { BASE: 'https://book.example', LANG: 'no' }, secrets: ['TOKEN'], every: '30s' }
const checks = [
  { check: 'home', name: 'Home', service: 'sales', http: { url: '${BASE}/' }, from: ['bergen'] },
  { check: 'fares', name: 'Fares', service: 'sales', http: { url: '${BASE}/fares' }, needs: ['home', 'elsewhere'] }
]
const none = () => false

describe('a service copied to another stage', () => {
  const copy = copyStage(service, checks, { stage: 'staging', variables: { BASE: 'https://staging.example' }, from: { countries: ['NO'] } }, none)

  it('keeps what it shares, with other variables and locations, and promises nothing to anyone', () => {
    expect(copy.service).toEqual({ service: 'sales-staging', name: 'Sales', stage: 'staging', variables: { BASE: 'https://staging.example', LANG: 'no' }, secrets: ['TOKEN'], every: '30s', from: { countries: ['NO'] } })
  })

  it('brings copies of its checks that need one another and run where the copy runs', () => {
    expect(copy.checks).toEqual([
      { check: 'home-staging', name: 'Home', service: 'sales-staging', http: { url: '${BASE}/' } },
      { check: 'fares-staging', name: 'Fares', service: 'sales-staging', http: { url: '${BASE}/fares' }, needs: ['home-staging', 'elsewhere'] }
    ])
  })

  it('finds keys that are free, and takes the old stage out of them', () => {
    const taken = copyStage(service, checks, { stage: 'staging', variables: {} }, (kind, key) => ['sales-staging', 'home-staging'].includes(key) && (kind === 'service' || kind === 'check'))
    expect([taken.service.service, taken.checks[0]!.check]).toEqual(['sales-staging-2', 'home-staging-2'])
    const again = copyStage({ ...copy.service }, copy.checks, { stage: 'preview', variables: {} }, none)
    expect([again.service.service, again.checks.map((check) => check.check)]).toEqual(['sales-preview', ['home-preview', 'fares-preview']])
  })
})

describe('two stages side by side', () => {
  const item = (key: string, name: string) => ({ key, name })

  it('pair checks by name, then by key, and keep those without a match', () => {
    const pairs = pairChecks([item('home', 'Home'), item('fares', 'Fares API'), item('map', 'Map')], [item('fares-staging', 'Fares'), item('x', 'Home'), item('extra', 'Extra')])
    expect(pairs.map(({ name, left, right }) => [name, left?.key, right?.key])).toEqual([['Home', 'home', 'x'], ['Fares API', 'fares', 'fares-staging'], ['Map', 'map', undefined], ['Extra', undefined, 'extra']])
  })

  it('give every check to one pair only', () => {
    const pairs = pairChecks([item('a', 'Same'), item('b', 'Same')], [item('c', 'Same')])
    expect(pairs.filter((pair) => pair.right)).toHaveLength(1)
  })
})
