import { HOUR, MINUTE } from '../src/core/units'
import { followBurns } from '../src/engine/burn-step'
import { defineAll } from '../src/store/define'
import { listIncidents, requireIncident } from '../src/store/incidents'
import { defineRouting } from '../src/store/routing'
import { check, checks, database, definitions, incidentOf, inEngineWorld, kinds, now, open, pass, seen, told } from './engine'

inEngineWorld(4811)

describe('what is no outage', () => {
  const route = (key: string, place: number, document: object) => ({ kind: 'route' as const, key, document: { route: key, place, ...document } })
  const rest = [route('vital', 8, { when: { importance: 'vital' }, then: [{ tell: 'everyone' }] }), route('rest', 9, { then: [{ tell: 'person/ines' }] })]
  const warned = { verdict: 'warn' as const, reason: 'condition', sentence: 'the certificate ends in 13 days' }

  it('is told where a route asks for warnings, and becomes an outage when it gets worse', async () => {
    await check('ending', { down: { tries: 2, apart: '1s', locations: 1 } })
    await seen({ ending: 'pass' })
    for (let turn = 0; turn < 2; turn += 1) await seen({ ending: 'pass' }, warned)
    expect(await listIncidents(database.pool, { check: checks.get('ending')!, limit: 1 })).toEqual([])
    await defineRouting(database.pool, [route('warnings', 1, { when: { state: 'warning', check: 'ending' }, then: [{ tell: 'person/mael' }] }), ...rest], null, now)
    await seen({ ending: 'pass' })
    for (let turn = 0; turn < 2; turn += 1) await seen({ ending: 'pass' }, warned)
    const { id } = await incidentOf('ending')
    expect((await told(id)).map(({ channel, news, subject }) => [channel, news, subject])).toEqual([['mail-mael', 'warning', 'ending is in warning']])
    // a suspicion is not the end of a warning
    await seen({ ending: 'fail' })
    await seen({ ending: 'pass' }, warned)
    expect(await requireIncident(database.pool, id)).toMatchObject({ trouble: 'warning', closedAt: null })
    await seen({ ending: 'fail' })
    await seen({ ending: 'fail' })
    expect(await requireIncident(database.pool, id)).toMatchObject({ trouble: 'down', closedAt: null })
    expect((await told(id)).map(({ channel, news }) => [channel, news])).toEqual([['mail-mael', 'warning'], ['mail-ines', 'down']])
    await seen({ ending: 'pass' })
    await seen({ ending: 'pass' })
    expect((await requireIncident(database.pool, id)).closedAt).not.toBeNull()
  })

  it('says that it is over', async () => {
    for (let turn = 0; turn < 2; turn += 1) await seen({ ending: 'pass' }, warned)
    const { id } = await incidentOf('ending')
    await seen({ ending: 'pass' })
    expect((await told(id)).map(({ news, subject }) => [news, subject])).toEqual([['warning', 'ending is in warning'], ['over', 'ending is back within its softer limits']])
    await defineRouting(database.pool, [{ kind: 'route', key: 'warnings', document: null }], null, now)
  })

  it('of one host is one warning, whichever checks see it', async () => {
    await defineRouting(database.pool, [route('warnings', 1, { when: { state: 'warning' }, then: [{ tell: 'person/mael' }] })], null, now)
    for (const key of ['tide-one', 'tide-two']) await check(key, { kind: { http: { url: `https://tides.example/${key}` } } })
    await seen({ 'tide-one': 'pass', 'tide-two': 'pass' })
    await seen({ 'tide-one': 'pass', 'tide-two': 'pass' }, warned)
    const warnings = (await open()).filter((each) => each.trouble === 'warning')
    expect(warnings.map((each) => each.parts)).toEqual([1])
    expect((await told(warnings[0]!.id)).map((each) => each.channel)).toEqual(['mail-mael'])
    await seen({ 'tide-one': 'pass', 'tide-two': 'pass' })
    expect((await open()).filter((each) => each.trouble === 'warning')).toEqual([])
    await defineRouting(database.pool, [{ kind: 'route', key: 'warnings', document: null }], null, now)
  })

  it('is a service that uses up its error budget too fast, until the pace is fine again', async () => {
    await defineAll(database.pool, [{ kind: 'service', key: 'sales', document: { service: 'sales', name: 'Sales', objective: { available: '99%', over: '30d' } } }], 'A service', null, now)
    for (const key of ['sales-one', 'sales-two']) await check(key, { service: 'sales' })
    await seen({ 'sales-one': 'pass', 'sales-two': 'pass' })
    await defineRouting(database.pool, [route('budget', 1, { when: { state: 'burn' }, then: [{ tell: 'person/mael' }] })], null, now)
    await pass(HOUR)
    await seen({ 'sales-two': 'fail' })
    await pass(25 * MINUTE)
    const before = (await open()).length
    await followBurns(database.pool, definitions!, now)
    await followBurns(database.pool, definitions!, now)
    expect((await open()).length).toBe(before + 1)
    const burn = (await open()).find((each) => each.trouble === 'burn')!
    expect(burn).toMatchObject({ checkName: 'Sales, production', checkKey: 'sales-two', sentence: expect.stringMatching(/^\d\d times faster than 99% allows, over the last 1 h/) })
    expect((await told(burn.id)).map(({ channel, news, subject }) => [channel, news, subject])).toEqual([['mail-mael', 'burn', 'Sales, production is burning its error budget']])
    // the check's own incident ends by itself and leaves the burn alone
    await seen({ 'sales-two': 'pass' })
    expect((await requireIncident(database.pool, burn.id)).closedAt).toBeNull()
    await pass(31 * MINUTE)
    await followBurns(database.pool, definitions!, now)
    expect((await told(burn.id)).map((each) => each.subject).at(-1)).toBe('Sales, production keeps within its error budget again')
    await defineRouting(database.pool, [{ kind: 'route', key: 'budget', document: null }], null, now)
  })
})

describe('a route', () => {
  const own = (document: object) => defineRouting(database.pool, [{ kind: 'route', key: 'own', document: { route: 'own', place: 1, ...document } }], null, now)
  it('that never tells twice in a time stays quiet about the same check, and says so', async () => {
    await check('flapping')
    await own({ when: { check: 'flapping' }, notTwiceIn: '6h', then: [{ tell: 'person/mael' }] })
    const ids = []
    for (let turn = 0; turn < 3; turn += 1) {
      await seen({ flapping: 'pass' })
      await seen({ flapping: 'fail' })
      ids.push((await incidentOf('flapping')).id)
      await seen({ flapping: 'pass' })
      await pass(turn === 1 ? 7 * HOUR : 10 * MINUTE)
    }
    expect(await Promise.all(ids.map(async (id) => (await told(id)).map((each) => each.news)))).toEqual([['down', 'over'], [], ['down', 'over']])
    expect(await kinds(ids[1]!)).toContain('quiet')
  })

  it('of a number tells when that number is the one beyond its limit', async () => {
    const pass = [{ metric: 'cpu.busy', value: { max: 90 } }, { metric: 'disk.used', value: { max: 90 } }]
    await check('host', { kind: { numbers: { scrape: 'http://host.example/metrics' } }, pass })
    await own({ when: { metric: 'disk.used' }, then: [{ tell: 'person/mael' }] })
    const beyond = (index: number) => ({ evidence: { conditions: [0, 1].map((each) => ({ index: each, outcome: each === index ? 'failed' as const : 'held' as const, found: '95' })) } })
    await seen({ host: 'pass' })
    await seen({ host: 'fail' }, beyond(0))
    expect((await told((await incidentOf('host')).id)).map((each) => each.channel)).toEqual(['mail-ines'])
    await seen({ host: 'pass' })
    await seen({ host: 'fail' }, beyond(1))
    expect((await told((await incidentOf('host')).id)).map((each) => each.channel)).toEqual(['mail-mael'])
    await seen({ host: 'pass' })
    await defineRouting(database.pool, [{ kind: 'route', key: 'own', document: null }], null, now)
  })
})
