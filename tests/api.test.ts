import { Validator } from '@seriousme/openapi-schema-validator'
import { access, api, ownServer, until } from './system'

const definition = (key: string, url: string, more: object = {}) => ({ check: key, name: `Check ${key}`, http: { url }, every: '1h', from: ['bergen', 'galway'], wait: '2s', pass: [{ status: 200 }], ...more })

describe('the API', () => {
  it('describes itself in a document that a validator accepts', async () => {
    const document = (await (await fetch(`${access.url}/api/v1/openapi.json`)).json()) as Record<string, unknown>
    const result = await new Validator().validate(document)
    expect(result.errors).toBeUndefined()
    expect(result.valid).toBe(true)
  })

  it('needs a token, and says problems as RFC 9457 does', async () => {
    const answer = await fetch(`${access.url}/api/v1/checks`)
    expect(answer.status).toBe(401)
    expect(answer.headers.get('content-type')).toContain('application/problem+json')
    expect(await answer.json()).toMatchObject({ status: 401, type: expect.stringContaining('not-signed-in') as unknown })
  })

  it('adds a check that runs at once, reads, replaces and removes it', async () => {
    const server = await ownServer()
    const added = await api('POST', '/checks', definition('api-one', server.url))
    expect(added.status).toBe(201)
    expect(added.body).toMatchObject({ version: 1, definition: { check: 'api-one' } })
    const seen = await until('the first observations', async () => {
      const { body } = await api('GET', '/checks/api-one/observations')
      return (body.observations as { location: string; verdict: string; phases: object }[]).length >= 2 && (body.observations as { location: string; verdict: string; phases: object }[])
    })
    expect(new Set(seen.map((each) => each.location))).toEqual(new Set(['bergen', 'galway']))
    expect(seen.every((each) => each.verdict === 'pass')).toBe(true)
    const [{ at, location }] = seen as unknown as [{ at: string; location: string }]
    const one = await api('GET', `/checks/api-one/observations/${location}/${at}`)
    expect(one).toMatchObject({ status: 200, body: { location, at, verdict: 'pass', evidence: { request: { method: 'GET', url: server.url }, conditions: [{ outcome: 'held' }] } } })
    expect((await api('GET', `/checks/api-one/observations/${location}/${Date.parse(at)}`)).body).toEqual(one.body)
    expect((await api('GET', `/checks/api-one/observations/${location}/${encodeURIComponent(at)}`)).body).toEqual(one.body)
    for (const other of [`galway/2020-01-01T00:00:00.000Z`, `${location}/yesterday`, `${location}/%25zz`, `atlantis/${at}`]) expect((await api('GET', `/checks/api-one/observations/${other}`)).status).toBe(404)
    expect((await until('up', async () => { const { body } = await api('GET', '/checks/api-one'); return (body.state as { state: string }).state === 'up' && body })).version).toBe(1)
    expect(await api('PUT', '/checks/api-one', definition('api-one', server.url, { name: 'Renamed' }), { 'if-match': '"1"' })).toMatchObject({ status: 200, body: { version: 2 } })
    const late = await api('PUT', '/checks/api-one', definition('api-one', server.url, { name: 'Too late' }), { 'if-match': '"1"' })
    expect(late.status).toBe(412)
    expect((await api('GET', '/checks/api-one')).body).toMatchObject({ definition: { name: 'Renamed' } })
    expect((await api('POST', '/checks', definition('api-one', server.url))).status).toBe(409)
    expect((await api('POST', '/checks/api-one/run')).status).toBe(202)
    expect((await api('DELETE', '/checks/api-one')).status).toBe(204)
    expect((await api('GET', '/checks/api-one')).status).toBe(404)
    server.close()
  })

  it('tries a definition that is not saved, with one observation a location and a reason in words', async () => {
    const server = await ownServer()
    const good = await api('POST', '/checks/try', definition('never-saved', server.url, { pass: [{ json: '$.open', is: true }] }))
    expect(good.body.observations).toMatchObject([{ location: 'bergen', verdict: 'pass', reason: null }, { location: 'galway', verdict: 'pass' }])
    const bad = async (url: string, more: object = {}) => ((await api('POST', '/checks/try', definition('never-saved', url, { from: ['bergen'], ...more }))).body.observations as { reason: string; sentence: string }[])[0]!
    expect(await bad(`${server.url}`, { pass: [{ json: '$.queue', value: { max: 1 } }] })).toMatchObject({ verdict: 'fail', reason: 'condition' })
    expect(await bad('https://nowhere.orrinsound.example/')).toMatchObject({ reason: 'name-not-found', sentence: expect.stringContaining('NXDOMAIN') as unknown })
    expect(await bad('https://book.orrinsound.example/wrong')).toMatchObject({ reason: 'status', status: 404 })
    expect(await bad('https://192.0.2.99/')).toMatchObject({ reason: 'timed-out-connect' })
    expect(await bad('http://169.254.169.254/')).toMatchObject({ reason: 'address-not-allowed' })
    expect((await api('GET', '/checks/never-saved')).status).toBe(404)
    server.close()
  })

  it.each([
    [{ ...definition('bad', 'nonsense') }, 'http.url'], [{ ...definition('bad', 'https://x.example/'), colour: 'red' }, ''], [{ ...definition('bad', 'https://x.example/'), every: '1ms' }, 'every'],
    [{ ...definition('bad', 'https://x.example/'), from: ['atlantis'] }, 'from[0]'], [{ ...definition('bad', 'https://x.example/'), service: 'nothing' }, 'service'], [[], ''], ['text', ''],
    [{ ...definition('bad', 'https://x.example/'), pass: [{ json: '$[' }] }, 'pass[0].json']
  ])('refuses %j naming the path', async (document, path) => {
    const answer = await api('POST', '/checks', document)
    expect(answer.status).toBe(422)
    expect((answer.body.errors as { path: string; expected: string }[]).map((each) => each.path)).toContain(path)
  })

  it('refuses what is no JSON, and queries that make no sense', async () => {
    const answer = await fetch(`${access.url}/api/v1/checks`, { method: 'POST', body: '{', headers: { authorization: `Bearer ${access.token}` } })
    expect(answer.status).toBe(400)
    expect((await api('GET', '/checks/sailings-api/observations?limit=many')).status).toBe(422)
    expect((await api('GET', '/checks/sailings-api/observations?from=yesterday')).status).toBe(422)
    expect((await api('GET', '/incidents/99999999')).status).toBe(404)
  })

  it('pauses and mutes a check, and shows both', async () => {
    const server = await ownServer()
    await api('POST', '/checks', definition('api-quiet', server.url))
    expect((await api('PUT', '/checks/api-quiet/pause')).status).toBe(204)
    await until('paused', async () => ((await api('GET', '/checks/api-quiet')).body.state as { state: string }).state === 'paused')
    expect((await api('POST', '/checks/api-quiet/run')).status).toBe(409)
    expect((await api('DELETE', '/checks/api-quiet/pause')).status).toBe(204)
    expect((await api('PUT', '/checks/api-quiet/mute')).status).toBe(204)
    expect((await api('GET', '/checks/api-quiet')).body).toMatchObject({ paused: false, muted: true })
    await until('up again', async () => ((await api('GET', '/checks/api-quiet')).body.state as { state: string }).state === 'up')
    await api('DELETE', '/checks/api-quiet')
    server.close()
  })

  it('adds a service once, and acts on an incident', async () => {
    const service = { service: 'api-service', name: 'API service', stage: 'preview', objective: { available: '99.5%', over: '30d' } }
    expect(await api('POST', '/services', service)).toMatchObject({ status: 201, body: { definition: service } })
    expect((await api('POST', '/services', service)).status).toBe(409)
    expect((await api('POST', '/services', { ...service, objective: { available: 'always' } })).status).toBe(422)
    const incidents = (await api('GET', '/incidents?limit=100')).body.incidents as { id: number; open: boolean }[]
    const incident = incidents.find((each) => !each.open)
    expect((await api('POST', `/incidents/${incident!.id}/notes`, { text: 'seen by a script' })).body.events).toContainEqual(expect.objectContaining({ kind: 'note', detail: 'seen by a script' }))
    expect((await api('POST', `/incidents/${incident!.id}/notes`, { text: '' })).status).toBe(422)
    expect((await api('POST', `/incidents/${incident!.id}/take`)).status).toBe(409)
  })

  it('has the demo world: checks, services, locations, and a past that agrees with itself', async () => {
    const checks = (await api('GET', '/checks')).body.checks as object[]
    expect(checks.length).toBeGreaterThanOrEqual(20)
    expect(((await api('GET', '/services')).body.services as object[]).length).toBeGreaterThanOrEqual(7)
    expect((await api('GET', '/locations')).body.locations).toHaveLength(12)
    const incidents = (await api('GET', '/incidents?limit=1000')).body.incidents as { check: string; trouble: string; since: string; endedAt: string }[]
    const freight = incidents.filter((each) => each.check === 'freight-home' && each.trouble === 'down')
    expect(freight).toHaveLength(2)
    const lengths = freight.map((each) => (Date.parse(each.endedAt) - Date.parse(each.since)) / 60_000).sort((a, b) => a - b)
    expect(lengths[0]).toBeGreaterThan(12)
    expect(lengths[0]).toBeLessThan(24)
    expect(lengths[1]).toBeGreaterThan(65)
    expect(lengths[1]).toBeLessThan(77)
  })
})
