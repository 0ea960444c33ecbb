import { startTestDatabase, type TestDatabase } from './database'
import { DAY, HOUR } from '../src/core/units'
import { checkByKey, haltChecks, listChecks, requireCheck, resumeDue } from '../src/store/checks'
import { change, row, rows, type Pool } from '../src/store/database'
import { defineAll, previewDefinitions, type Wanted } from '../src/store/define'
import { addCheck, removeCheck, replaceCheck, replaceService, requireService, settleForTry } from '../src/store/define-one'
import { changeSet, listChangeSets, listRevisions, restoreVersion, undoChange } from '../src/store/history'
import { addLocation, plainLocation } from '../src/store/locations'
import { addPerson } from '../src/store/people'
import { acceptObservations, addProbe, askForTry, assignments, holdLocations, probeByToken, takeOrders } from '../src/store/probes'
import { seal, unseal } from '../src/store/seal'
import { listSecrets, setSecret } from '../src/store/secrets'
import { WORKSPACE } from '../src/store/world'

const NOW = Math.floor(Date.now() / DAY) * DAY + 12 * HOUR
let database: TestDatabase
let pool: Pool
let owner = 0
let location = 0

const check = (key: string, more: object = {}) => ({ check: key, name: key, http: { url: 'https://x.example/' }, ...more })
const asCheck = (document: Record<string, unknown>): Wanted => ({ kind: 'check', key: String(document.check), document })
/** What one probe alone at a location has to do. */
const assignedTo = (place: number) => assignments(pool, 1, [{ location: place, alive: [1] }], NOW)
const refused = (work: Promise<unknown>) => work.then(() => { throw new Error('it was taken') }, (error: { code: string; message: string; problems: { path: string; subject?: string }[] }) => error)

beforeAll(async () => {
  database = await startTestDatabase(4807)
  pool = database.pool
  location = await addLocation(pool, plainLocation({ key: 'bergen', place: 'Bergen', country: 'NO', network: 'Nordvik Fibre', networkType: 'access' }), 1)
  owner = await addPerson(pool, { key: 'ines', name: 'Ines Falk', mail: 'ines@orrinsound.example', job: '', role: 'owner' }, undefined, NOW)
})
afterAll(() => database.stop())

describe('many definitions at once', () => {
  it('come into being together, services before the checks that name them', async () => {
    await defineAll(pool, [asCheck(check('boards-feed', { service: 'boards', needs: ['boards-host'] })), { kind: 'service', key: 'boards', document: { service: 'boards', name: 'Boards', every: '30s' } }, asCheck(check('boards-host'))], 'Boards', owner, NOW)
    const feed = await requireCheck(pool, 'boards-feed')
    expect(feed).toMatchObject({ check: { every: 30_000, needs: ['boards-host'] }, version: 1 })
    expect(feed.serviceId).toBe((await requireService(pool, 'boards')).id)
  })

  it('are refused whole, with every problem and whose it is', async () => {
    const before = (await listChecks(pool)).length
    const error = await refused(defineAll(pool, [asCheck(check('fine')), asCheck(check('slow-one', { every: '1s' })), asCheck(check('lost', { service: 'nowhere', needs: ['nothing'], from: ['atlantis'] }))], 'Mixed', owner, NOW))
    expect(error.code).toBe('bad-document')
    expect(error.problems.map((each) => [each.subject, each.path])).toEqual([['check slow-one', 'every'], ['check lost', 'service'], ['check lost', 'from[0]'], ['check lost', 'needs[0]']])
    expect(await listChecks(pool)).toHaveLength(before)
  })

  it('may not need one another in a circle', async () => {
    const error = await refused(defineAll(pool, [asCheck(check('a', { needs: ['b'] })), asCheck(check('b', { needs: ['c'] })), asCheck(check('c', { needs: ['a'] }))], 'Circle', owner, NOW))
    expect(error.message).toContain('a → b → c → a')
  })

  it('are previewed with what would differ, and nothing is written', async () => {
    const stored = await requireCheck(pool, 'boards-host')
    const { drafts, problems } = await previewDefinitions(pool, [asCheck({ ...stored.document, every: '5m' }), asCheck((await requireCheck(pool, 'boards-feed')).document), asCheck(check('new-one'))])
    expect([problems, drafts.map(({ key, before, after }) => [key, before?.every, after?.every])]).toEqual([[], [['boards-host', undefined, '5m'], ['new-one', undefined, undefined]]])
    expect((await requireCheck(pool, 'boards-host')).version).toBe(1)
    expect(await checkByKey(pool, 'new-one')).toBeUndefined()
  })

  it('refuse a key twice', async () => {
    expect((await refused(addCheck(pool, check('boards-feed'), owner, NOW))).code).toBe('duplicate-key')
    expect((await refused(defineAll(pool, [asCheck(check('twin')), { kind: 'check', key: 'other-twin', document: check('twin') }], 'Twins', owner, NOW))).code).toBe('duplicate-key')
  })
})

describe('a service', () => {
  it('changes all its checks at once, and is refused when that would break one', async () => {
    await replaceService(pool, 'boards', { service: 'boards', name: 'Boards', every: '2m', variables: { BASE: 'https://boards.example' } }, 1, owner, NOW)
    expect((await requireCheck(pool, 'boards-feed')).check.every).toBe(120_000)
    await replaceCheck(pool, 'boards-feed', check('boards-feed', { service: 'boards', http: { url: '${BASE}/feed' } }), undefined, owner, NOW)
    const error = await refused(replaceService(pool, 'boards', { service: 'boards', name: 'Boards' }, undefined, owner, NOW))
    expect(error.problems).toMatchObject([{ subject: 'check boards-feed', path: 'http.url' }])
    expect((await requireCheck(pool, 'boards-feed')).address).toBe('https://boards.example/feed')
  })

  it('is not overwritten by someone who began with an older version', async () => {
    expect((await refused(replaceService(pool, 'boards', { service: 'boards', name: 'Old' }, 1, owner, NOW))).message).toBe('Ines Falk saved version 2 while you were editing version 1. Nothing was overwritten.')
  })

  it('carries a new key into its checks, and stays as long as it has any', async () => {
    await replaceService(pool, 'boards', { ...(await requireService(pool, 'boards')).document, service: 'pier-boards' }, undefined, owner, NOW)
    expect((await requireCheck(pool, 'boards-feed')).document.service).toBe('pier-boards')
    const error = await refused(defineAll(pool, [{ kind: 'service', key: 'pier-boards', document: null }], 'Gone', owner, NOW))
    expect(error.problems).toMatchObject([{ subject: 'check boards-feed', path: 'service' }])
  })

  it('carries the new key of a check into those that need it', async () => {
    await addCheck(pool, check('reader', { needs: ['boards-host'] }), owner, NOW)
    await replaceCheck(pool, 'boards-host', check('host'), undefined, owner, NOW)
    expect((await requireCheck(pool, 'reader')).document.needs).toEqual(['host'])
    expect((await refused(removeCheck(pool, 'host', owner, NOW))).problems).toMatchObject([{ subject: 'check reader', path: 'needs[0]' }])
  })
})

describe('the workspace', () => {
  it('gives defaults to every check that says nothing itself', async () => {
    await defineAll(pool, [{ kind: 'workspace', key: '', document: { wait: '3s', every: '7m' } }], 'Defaults', owner, NOW)
    expect((await requireCheck(pool, 'host')).check).toMatchObject({ wait: 3000, every: 420_000 })
    expect((await requireCheck(pool, 'boards-feed')).check).toMatchObject({ wait: 3000, every: 120_000 })
    expect((await refused(defineAll(pool, [{ kind: 'workspace', key: '', document: { every: 'often' } }], 'Nonsense', owner, NOW))).code).toBe('bad-document')
  })
})

describe('history', () => {
  it('takes back a whole change, and brings back with its history what was taken out of use', async () => {
    const before = await requireCheck(pool, 'reader')
    const change = await defineAll(pool, [{ kind: 'check', key: 'reader', document: null }, asCheck({ ...(await requireCheck(pool, 'host')).document, tags: ['piers'] })], 'Two things', owner, NOW)
    expect(await checkByKey(pool, 'reader')).toBeUndefined()
    expect((await changeSet(pool, change!)).map((each) => each.document === null)).toContain(true)
    await undoChange(pool, change!, owner, NOW + 1000)
    expect(await requireCheck(pool, 'reader')).toMatchObject({ id: before.id, document: before.document })
    expect((await requireCheck(pool, 'host')).check.tags).toEqual([])
    expect((await listChangeSets(pool, 1))[0]).toMatchObject({ title: 'Undone: Two things', person: 'Ines Falk', undone: false })
    expect((await refused(undoChange(pool, change!, owner, NOW))).code).toBe('wrong-state')
  })

  it('does not take back what was changed again since', async () => {
    const first = await defineAll(pool, [asCheck(check('host', { every: '1h' }))], 'Hourly', owner, NOW)
    await defineAll(pool, [asCheck(check('host', { every: '2h' }))], 'Two-hourly', owner, NOW)
    expect((await refused(undoChange(pool, first!, owner, NOW))).message).toContain('Changed again since: check host')
  })

  it('undoes an addition by taking it out of use', async () => {
    const added = await defineAll(pool, [asCheck(check('brief'))], 'Added brief', owner, NOW)
    await undoChange(pool, added!, owner, NOW)
    expect(await checkByKey(pool, 'brief')).toBeUndefined()
  })

  it('says who changed what from what to what, and restores any version', async () => {
    const { id } = await requireCheck(pool, 'host')
    const revisions = await listRevisions(pool, 'check', id)
    expect(revisions[0]).toMatchObject({ person: 'Ines Falk', title: 'Two-hourly', before: { every: '1h' }, document: { every: '2h' } })
    await restoreVersion(pool, 'check', id, revisions.find((each) => each.title === 'Hourly')!.version, owner, NOW)
    expect((await requireCheck(pool, 'host')).document.every).toBe('1h')
    expect((await refused(restoreVersion(pool, 'check', id, 999, owner, NOW))).code).toBe('not-found')
  })

  it('makes no version of a change that changes nothing', async () => {
    const { document, version } = await requireCheck(pool, 'host')
    expect(await defineAll(pool, [asCheck(document)], 'Nothing', owner, NOW)).toBeUndefined()
    expect((await requireCheck(pool, 'host')).version).toBe(version)
  })
})

describe('secrets', () => {
  it('are sealed for one place, and open with the key and that place only', () => {
    const sealed = seal('correct-horse', 'service/1/TOKEN')
    expect(sealed.toString('latin1')).not.toContain('correct')
    expect(unseal(sealed, 'service/1/TOKEN')).toBe('correct-horse')
    expect(() => unseal(sealed, 'service/2/TOKEN')).toThrow()
    expect(() => unseal(Buffer.concat([sealed.subarray(0, -1), Buffer.from([sealed.at(-1)! ^ 1])]), 'service/1/TOKEN')).toThrow()
    expect(seal('correct-horse', 'x').equals(seal('correct-horse', 'x'))).toBe(false)
  })

  it('are missing until they are set, then reach the probe and nobody else', async () => {
    const withToken = check('guarded', { service: 'pier-boards', http: { url: 'https://x.example/', auth: { bearer: '${TOKEN}' } } })
    await replaceService(pool, 'pier-boards', { ...(await requireService(pool, 'pier-boards')).document, secrets: ['TOKEN'] }, undefined, owner, NOW)
    expect((await refused(addCheck(pool, withToken, owner, NOW))).message).toContain('nobody has set yet')
    await setSecret(pool, 'service', await requireService(pool, 'pier-boards'), 'TOKEN', 'correct-horse', owner, NOW)
    const stored = await addCheck(pool, withToken, owner, NOW)
    expect(JSON.stringify(stored)).not.toContain('correct-horse')
    const [given] = (await assignedTo(location)).checks.filter((each) => each.id === stored.id)
    expect(given).toMatchObject({ document: { http: { auth: { bearer: 'correct-horse' } } }, secrets: ['correct-horse'], used: [{ name: 'TOKEN', from: 'service' }] })
    expect(JSON.stringify(await rows(pool, 'SELECT * FROM audit'))).not.toContain('correct-horse')
    expect(JSON.stringify(await rows(pool, 'SELECT document FROM revision'))).not.toContain('correct-horse')
    expect(await listSecrets(pool)).toMatchObject([{ place: 'service', name: 'TOKEN' }])
  })

  it('of a try are put in place only when a probe takes it', async () => {
    const { document, locations } = await settleForTry(pool, check('tried', { service: 'pier-boards', http: { url: 'https://x.example/${TOKEN}' } }), null, { BASE: 'https://preview.example' })
    await askForTry(pool, document, locations.map((each) => each.id), NOW, { variables: { TOKEN: 'for-this-run' } })
    expect(JSON.stringify(await row(pool, 'SELECT document FROM try_request'))).not.toContain('correct-horse')
    const probe = await probeByToken(pool, await addProbe(pool, 'one', [location], NOW))
    const { tries } = await takeOrders(pool, probe.id, await holdLocations(pool, probe, '1', NOW), NOW)
    expect(tries).toMatchObject([{ document: { http: { url: 'https://x.example/for-this-run' } }, used: [{ name: 'TOKEN', from: 'run', value: 'for-this-run' }], secrets: [] }])
  })

  it('that are too short to be cut out are refused', async () => {
    expect((await refused(setSecret(pool, 'workspace', { id: WORKSPACE, key: '' }, 'PIN', '123', owner, NOW))).code).toBe('bad-document')
  })

  it('that go missing later make the run a clear failure', async () => {
    await change(pool, 'DELETE FROM secret')
    const stored = await requireCheck(pool, 'guarded')
    expect(stored.broken).toMatchObject([{ path: 'http.auth.bearer' }])
    const [given] = (await assignedTo(location)).checks.filter((each) => each.id === stored.id)
    expect(given!.missing).toContain('a value for the secret TOKEN')
  })
})

describe('pauses and mutes', () => {
  it('say who, why and until when, and end by themselves', async () => {
    await haltChecks(pool, 'pause', ['host', 'reader'], { until: NOW + HOUR, reason: 'the pier is closed' }, owner, NOW)
    await haltChecks(pool, 'mute', ['host'], {}, owner, NOW)
    expect(await requireCheck(pool, 'host')).toMatchObject({ paused: { by: 'Ines Falk', until: NOW + HOUR, reason: 'the pier is closed' }, muted: { until: null, reason: null } })
    expect(await resumeDue(pool, NOW + HOUR - 1)).toBe(0)
    expect(await resumeDue(pool, NOW + HOUR)).toBe(2)
    expect(await requireCheck(pool, 'host')).toMatchObject({ paused: null, muted: { by: 'Ines Falk' } })
  })

  it('are for all named checks or for none, and never end in the past', async () => {
    expect((await refused(haltChecks(pool, 'mute', ['reader', 'nobody'], {}, owner, NOW))).code).toBe('not-found')
    expect((await requireCheck(pool, 'reader')).muted).toBeNull()
    expect((await refused(haltChecks(pool, 'pause', ['reader'], { until: NOW - 1 }, owner, NOW))).code).toBe('bad-document')
  })
})

it('keeps taking observations while definitions change', async () => {
  const { id } = await requireCheck(pool, 'host')
  await Promise.all([
    acceptObservations(pool, [{ check: id, location, at: NOW, occasion: 'scheduled', verdict: 'pass', phases: {}, total: 5, version: 1 }], NOW),
    ...Array.from({ length: 8 }, (_, index) => defineAll(pool, [asCheck(check('host', { every: `${index + 10}m` }))], 'Busy', owner, NOW))
  ])
  expect((await row<{ count: number }>(pool, 'SELECT COUNT(*) AS count FROM arrival'))!.count).toBe(1)
})
