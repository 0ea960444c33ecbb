import { startTestDatabase, type TestDatabase } from './database'
import { INSIDE } from '../src/core/places/places'
import { DAY, HOUR, MINUTE, SECOND } from '../src/core/units'
import { haltChecks, requireCheck } from '../src/store/checks'
import { change, rows, type Pool } from '../src/store/database'
import { defineAll, type Wanted } from '../src/store/define'
import { addCheck, removeCheck, settleForTry } from '../src/store/define-one'
import { answerInside, dropOldInbox, latestCalls, latestPush, putCall, putNumbers } from '../src/store/inbox'
import { checkOfInlet, inletOf, renewInlet } from '../src/store/inlet'
import { addLocation, listLocations, plainLocation } from '../src/store/locations'
import { addPerson } from '../src/store/people'
import { addProbe, assignments, holdInside, holdLocations, holdsInside, probeByToken } from '../src/store/probes'
import { listSecrets } from '../src/store/secrets'

const NOW = Math.floor(Date.now() / DAY) * DAY + 12 * HOUR
let database: TestDatabase
let pool: Pool
let owner = 0
let bergen = 0
const ids = new Map<string, number>()

beforeAll(async () => {
  database = await startTestDatabase(4810)
  pool = database.pool
  bergen = await addLocation(pool, plainLocation({ key: 'bergen', place: 'Bergen', country: 'NO', network: 'Nordvik Fibre', networkType: 'access' }), 1)
  owner = await addPerson(pool, { key: 'ines', name: 'Ines Falk', mail: 'ines@orrinsound.example', job: '', role: 'owner' }, undefined, NOW)
  for (const document of [
    { check: 'import', name: 'Import', call: { comes: '1h' } }, { check: 'host', name: 'Host', numbers: {}, pass: [{ metric: 'cpu.busy', value: { max: '90%' } }] }, { check: 'page', name: 'Page', http: { url: 'https://x.example/' } },
    { check: 'both', name: 'Both', derived: { of: ['import', 'page'] } }
  ]) ids.set(document.check, (await addCheck(pool, document, owner, NOW)).id)
})
afterAll(() => database.stop())

const asked = () => rows<{ check: number; occasion: number }>(pool, 'SELECT check_id AS `check`, occasion FROM run_request ORDER BY id')
const refused = (work: Promise<unknown>) => work.then(() => { throw new Error('it was taken') }, (error: { code: string; problems: { path: string }[] }) => error)

describe('the place from which Hemeron judges by itself', () => {
  it('has the checks that ask nobody, and no other has them', async () => {
    const token = await addProbe(pool, 'Beside the server', [bergen], NOW)
    await holdInside(pool, token)
    await holdInside(pool, token)
    const probe = await probeByToken(pool, token)
    const inside = (await listLocations(pool)).find((location) => location.key === INSIDE)!
    expect(await holdsInside(pool, probe)).toBe(true)
    expect(await holdsInside(pool, await probeByToken(pool, await addProbe(pool, 'Far away', [bergen], NOW)))).toBe(false)
    expect(probe.locations.sort()).toEqual([bergen, inside.id].sort())
    const { checks } = await assignments(pool, probe.id, await holdLocations(pool, probe, '1', NOW), NOW)
    expect(checks.map((check) => [check.document.check, check.locations.map((location) => location.id)])).toEqual([['import', [inside.id]], ['host', [inside.id]], ['page', [bergen]], ['both', [inside.id]]])
  })

  it('cannot be chosen by checks that ask somebody', async () => {
    expect((await refused(addCheck(pool, { check: 'other', name: 'Other', http: { url: 'https://x.example/' }, from: [INSIDE] }, owner, NOW))).problems[0]).toMatchObject({ path: 'from[0]' })
    expect((await settleForTry(pool, { check: 'c', name: 'C', call: { comes: '1h' } }, null)).locations.map((location) => location.key)).toEqual([INSIDE])
  })
})

describe('the address of a check', () => {
  it('leads to its check alone, and a renewed one takes the place of the old', async () => {
    const [first, other] = [await inletOf(pool, ids.get('import')!), await inletOf(pool, ids.get('host')!)]
    expect(first).not.toBe(other)
    expect(await checkOfInlet(pool, first)).toBe(ids.get('import'))
    const second = await renewInlet(pool, ids.get('import')!)
    expect([await checkOfInlet(pool, first), await checkOfInlet(pool, second), await checkOfInlet(pool, other)]).toEqual([undefined, ids.get('import'), ids.get('host')])
  })

  it.each(['', '1', '1-', `1-${'A'.repeat(24)}`, `zzzzzz-${'A'.repeat(24)}`, `1-${'A'.repeat(25)}`, "1'--aaaaaaaaaaaaaaaaaaaaaaaa"])('is not %j', async (inlet) => {
    expect(await checkOfInlet(pool, inlet)).toBeUndefined()
  })

  it('leads nowhere when its check is gone', async () => {
    const { id } = await addCheck(pool, { check: 'short', name: 'Short', call: { comes: '1h' } }, owner, NOW)
    const inlet = await inletOf(pool, id)
    await removeCheck(pool, 'short', owner, NOW)
    expect(await checkOfInlet(pool, inlet)).toBeUndefined()
  })
})

describe('what is told', () => {
  it('is kept in its order, and has the check judged at once', async () => {
    await change(pool, 'DELETE FROM run_request')
    const id = ids.get('import')!
    await putCall(pool, id, { at: NOW, event: 'begin' })
    await putCall(pool, id, { at: NOW + SECOND, event: 'end', exit: 2, output: 'häfen\n' })
    expect(await latestCalls(pool, id)).toEqual([{ at: NOW, event: 'begin' }, { at: NOW + SECOND, event: 'end', exit: 2, output: 'häfen\n' }])
    expect(await asked()).toEqual([{ check: id, occasion: 4 }, { check: id, occasion: 4 }])
  })

  it('gives of older pushes only the numbers that are asked for', async () => {
    const id = ids.get('host')!
    for (const [minute, busy] of [[0, 0.1], [1, 0.2], [2, 0.3]] as const) await putNumbers(pool, id, [['cpu.busy', busy], ['load.one', 4]], NOW + minute * MINUTE)
    const { pushes } = await answerInside(pool, id, { pushes: { since: NOW + MINUTE, names: ['cpu.busy'] } }, NOW + 3 * MINUTE)
    expect(pushes).toEqual([{ at: NOW + MINUTE, samples: [['cpu.busy', 0.2]] }, { at: NOW + 2 * MINUTE, samples: [['cpu.busy', 0.3], ['load.one', 4]] }])
    // the last is given however old it is, so that one can say how old
    expect((await answerInside(pool, id, { pushes: { since: NOW + HOUR, names: [] } }, NOW + HOUR)).pushes).toEqual([await latestPush(pool, id)])
  })

  it('is nothing for a check that is not saved', async () => {
    expect(await answerInside(pool, null, { calls: true, pushes: { since: 0, names: [] } }, NOW)).toMatchObject({ calls: [], pushes: [] })
    expect(await answerInside(pool, null, {}, NOW)).not.toHaveProperty('made')
  })

  it('is dropped when its time is over: pushes after a day, calls after a year and more', async () => {
    await dropOldInbox(pool, NOW + 2 * DAY)
    expect(await latestPush(pool, ids.get('host')!)).toBeUndefined()
    expect(await latestCalls(pool, ids.get('import')!)).toHaveLength(2)
    await dropOldInbox(pool, NOW + 500 * DAY)
    expect(await latestCalls(pool, ids.get('import')!)).toEqual([])
  })
})

describe('a time in which Hemeron was away', () => {
  it('is remembered when it was more than a minute', async () => {
    const later = NOW + 10 * HOUR
    const away = async (at: number) => (await answerInside(pool, null, {}, at)).away
    await away(later)
    const before = await away(later + 50 * SECOND)
    expect(await away(later + 100 * SECOND)).toEqual(before)
    expect(await away(later + HOUR)).toEqual({ from: later + 100 * SECOND, to: later + HOUR })
    expect(await away(later + HOUR + SECOND)).toEqual({ from: later + 100 * SECOND, to: later + HOUR })
  })
})

describe('members', () => {
  it('are given in the order in which they are asked for, paused ones as paused, missing ones not at all', async () => {
    await haltChecks(pool, 'pause', ['page'], {}, owner, NOW)
    const { members } = await answerInside(pool, null, { members: ['page', 'no-such', 'import'] }, NOW)
    expect(members.map((member) => [member.key, member.state])).toEqual([['page', 'paused'], ['import', 'nodata']])
  })

  it('cannot be removed while they are judged, nor judge one another in a circle, and keep their place when renamed', async () => {
    expect((await refused(removeCheck(pool, 'import', owner, NOW))).code).toBe('bad-document')
    const circle: Wanted[] = [{ kind: 'check', key: 'a', document: { check: 'a', name: 'A', derived: { of: ['b'] } } }, { kind: 'check', key: 'b', document: { check: 'b', name: 'B', derived: { of: ['a'] } } }]
    expect((await refused(defineAll(pool, circle, 'Circle', owner, NOW))).problems.map((problem) => problem.path)).toContain('derived.of')
    await defineAll(pool, [{ kind: 'check', key: 'import', document: { check: 'night-import', name: 'Import', call: { comes: '1h' } } }], 'Renamed', owner, NOW)
    expect((await requireCheck(pool, 'both')).document.derived).toEqual({ of: ['night-import', 'page'] })
  })
})

describe('secrets that come with a check', () => {
  it('are set together with it, or not at all', async () => {
    const document = { check: 'visit', name: 'A visit', secrets: ['PASSWORD'], sequence: { steps: [{ url: 'https://x.example/', body: 'p=${PASSWORD}' }] } }
    expect((await refused(defineAll(pool, [{ kind: 'check', key: 'visit', document }], 'Without', owner, NOW))).code).toBe('bad-document')
    expect((await refused(defineAll(pool, [{ kind: 'check', key: 'visit', document, secrets: { PASSWORD: 'abc' } }], 'Too short', owner, NOW))).code).toBe('bad-document')
    expect(await rows(pool, "SELECT id FROM check_definition WHERE check_key = 'visit'")).toEqual([])
    await defineAll(pool, [{ kind: 'check', key: 'visit', document, secrets: { PASSWORD: 'seaweed-77' } }], 'With', owner, NOW)
    const { id, settled } = await requireCheck(pool, 'visit')
    expect((await listSecrets(pool)).filter((each) => each.place === 'check')).toMatchObject([{ subject: id, name: 'PASSWORD' }])
    expect(JSON.stringify(settled)).not.toContain('seaweed-77')
  })
})
