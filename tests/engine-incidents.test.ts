import { MINUTE } from '../src/core/units'
import { addPicture, requirePicture } from '../src/store/pictures'
import { listIncidents, listParts, openPractice, requireIncident } from '../src/store/incidents'
import { act, check, checks, database, incidentOf, inEngineWorld, ines, kinds, now, open, pass, seen, told } from './engine'

inEngineWorld(4807)

describe('one cause', () => {
  it('is one incident and one message a person and step, however many checks fail', async () => {
    const keys = Array.from({ length: 300 }, (_, index) => `storm-${index}`)
    for (const key of keys) await check(key)
    await seen(Object.fromEntries(keys.map((key) => [key, 'pass'])))
    await seen(Object.fromEntries(keys.map((key) => [key, 'fail'])), { address: '192.0.2.10' })
    const [incident, ...others] = await open()
    expect(others).toEqual([])
    expect(incident).toMatchObject({ parts: 299, partsOpen: 299 })
    expect(new Set((await listParts(database.pool, incident!.id)).map((each) => each.partWhy))).toEqual(new Set(['both use the address 192.0.2.10']))
    const first = await told(incident!.id)
    expect(first.map((each) => each.channel)).toEqual(['mail-ines'])
    // what had joined before the message went out stands in it
    expect(first[0]!.subject).toMatch(/^storm-\d+ and 299 more are down$/)
    await pass(11 * MINUTE)
    expect((await told(incident!.id)).map(({ channel, subject }) => [channel, subject.replace(/\d+ and/, 'n and')])).toEqual([['mail-ines', expect.anything()], ['mail-mael', 'Still down: storm-n and 299 more']])
    await seen(Object.fromEntries(keys.slice(0, -1).map((key) => [key, 'pass'])))
    expect((await requireIncident(database.pool, incident!.id)).closedAt).toBeNull()
    await seen({ 'storm-299': 'pass' })
    expect(await open()).toEqual([])
    expect((await told(incident!.id)).filter((each) => each.news === 'over').map((each) => each.channel).sort()).toEqual(['mail-ines', 'mail-mael'])
  }, 60_000)

  it('does not swallow a failure that shares nothing, and tells those whom another route would have told', async () => {
    await check('edge', { http: { url: 'https://one.example/' } })
    await check('shop', { http: { url: 'https://one.example/shop' }, importance: 'vital' })
    await check('mail', { http: { url: 'https://two.example/' } })
    await seen({ edge: 'pass', shop: 'pass', mail: 'pass' })
    await seen({ edge: 'fail' })
    await seen({ shop: 'fail', mail: 'fail' })
    const edge = await incidentOf('edge')
    expect((await open()).map((each) => [each.checkKey, each.partsOpen])).toEqual([['edge', 1], ['mail', 0]])
    expect((await incidentOf('shop'))).toMatchObject({ partOf: edge.id, partWhy: 'both use the host one.example' })
    // ines heard of it two seconds ago; mael only by the route for what is vital
    expect((await told(edge.id)).map(({ channel, cause, subject }) => [channel, cause, subject])).toEqual([['mail-ines', 'Route 2, step 1', 'edge and 1 more are down'], ['mail-mael', 'Route 1', 'edge and 1 more are down']])
  })

  it('can be judged otherwise by hand: taken out it is told of by itself, joined it is not told of apart', async () => {
    const [edge, shop, mail] = [await incidentOf('edge'), await incidentOf('shop'), await incidentOf('mail')]
    await expect(act(edge.id, 'take-out')).rejects.toMatchObject({ code: 'wrong-state' })
    await act(shop.id, 'take-out')
    await pass(1000)
    expect((await told(shop.id)).map((each) => each.channel).sort()).toEqual(['mail-ines', 'mail-mael'])
    await expect(act(mail.id, 'join', { into: mail.id })).rejects.toMatchObject({ code: 'bad-document' })
    const whole = await act(mail.id, 'join', { into: edge.id })
    expect(whole).toMatchObject({ id: edge.id, partsOpen: 1 })
    // what was done to a part is done to the incident
    expect((await act(mail.id, 'take')).id).toBe(edge.id)
    const before = (await told()).length
    await pass(11 * MINUTE)
    expect((await told()).slice(before)).toEqual([])
    expect(await kinds(edge.id)).toContain('left-out')
    await seen({ edge: 'pass', shop: 'pass' })
    expect((await open()).map((each) => [each.checkKey, each.ownEndedAt !== null])).toEqual([['edge', true]])
    await seen({ mail: 'pass' })
    expect(await open()).toEqual([])
  })

  it('holds back what a needed check explains, until that works and it fails again', async () => {
    await check('names')
    await check('web', { needs: ['names'] })
    await seen({ names: 'pass', web: 'pass' })
    await seen({ names: 'fail', web: 'fail' })
    await seen({ names: 'fail', web: 'fail' })
    const lead = await incidentOf('names')
    expect(await incidentOf('web')).toMatchObject({ partOf: lead.id, partWhy: 'it needs names', explainedBy: checks.get('names') })
    expect((await told(lead.id)).map((each) => each.channel)).toEqual(['mail-ines'])
    await seen({ names: 'pass' })
    expect(await open()).toHaveLength(1)
    await seen({ web: 'fail' })
    const web = await incidentOf('web')
    expect(web).toMatchObject({ partOf: null, explainedBy: null })
    expect((await told(web.id)).map((each) => [each.channel, each.subject])).toEqual([['mail-ines', 'web is down']])
    await seen({ web: 'pass' })
    await pass(1000)
    expect(await open()).toEqual([])
  })
})

describe('someone who holds an incident', () => {
  it('holds it off, has the next step now, and calls others in', async () => {
    await check('desk')
    await seen({ desk: 'pass' })
    await seen({ desk: 'fail' })
    const { id } = await incidentOf('desk')
    await expect(act(id, 'hold-off', { until: now - 1 })).rejects.toMatchObject({ code: 'bad-document' })
    await act(id, 'hold-off', { until: now + 30 * MINUTE })
    await pass(20 * MINUTE)
    expect((await told(id)).map((each) => each.channel)).toEqual(['mail-ines'])
    await act(id, 'take')
    await act(id, 'escalate')
    await pass(1000)
    expect((await told(id)).map(({ channel, cause }) => [channel, cause])).toEqual([['mail-ines', 'Route 2, step 1'], ['mail-mael', 'Route 2, step 2']])
    await expect(act(id, 'escalate')).rejects.toMatchObject({ code: 'wrong-state' })
    await expect(act(id, 'call-in', { tell: ['person/nobody'] })).rejects.toMatchObject({ code: 'bad-document' })
    await act(id, 'call-in', { tell: ['person/mael'], text: 'the desk is yours' })
    await pass(1000)
    const last = (await told(id)).at(-1)!
    expect([last.channel, last.cause]).toEqual(['mail-mael', 'Called in by ines: the desk is yours'])
    await seen({ desk: 'pass' })
  })
})

describe('a practice outage', () => {
  it('goes the whole way, is marked everywhere, and ends by itself', async () => {
    await check('drill')
    await seen({ drill: 'pass' })
    const id = await openPractice(database.pool, { check: checks.get('drill')!, trouble: 'down', by: ines.id, byName: ines.name, until: now + 15 * MINUTE, sentence: 'made up', locations: 2 }, now)
    await pass(1000)
    await pass(10 * MINUTE)
    expect((await told(id)).map(({ channel, subject }) => [channel, subject])).toEqual([['mail-ines', 'Practice: drill is down'], ['mail-mael', 'Practice: Still down: drill']])
    expect((await told(id))[0]!.text).toContain('nothing is really down')
    // a real failure meanwhile is an incident of its own
    await seen({ drill: 'fail' })
    expect((await open()).map((each) => each.practiceUntil === null).sort()).toEqual([false, true])
    expect(await listIncidents(database.pool, { real: true, open: true, limit: 10 })).toHaveLength(1)
    await seen({ drill: 'pass' })
    await pass(10 * MINUTE)
    expect(await open()).toEqual([])
    expect((await told(id)).filter((each) => each.news === 'over').map((each) => each.subject)).toEqual(['Practice: Up again: drill', 'Practice: Up again: drill'])
  })
})

describe('a picture in a note', () => {
  it('belongs to its incident, as what its bytes are, and a hundred are enough', async () => {
    const { pool } = database
    const png = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3])
    await check('pictured')
    await seen({ pictured: 'pass' })
    await seen({ pictured: 'fail' })
    const { id } = await incidentOf('pictured')
    const key = await addPicture(pool, id, png, ines.id, now)
    expect(await requirePicture(pool, key)).toEqual({ type: 'image/png', content: Buffer.from(png) })
    await expect(addPicture(pool, id, Uint8Array.from([0x3c, 0x73, 0x76, 0x67]), ines.id, now)).rejects.toMatchObject({ code: 'bad-document' })
    for (let more = 1; more < 100; more += 1) await addPicture(pool, id, png, ines.id, now)
    await expect(addPicture(pool, id, png, ines.id, now)).rejects.toMatchObject({ code: 'bad-document' })
    await seen({ pictured: 'pass' })
  })
})
