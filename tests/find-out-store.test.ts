import type { Observation } from '../src/core/observation'
import { emptySketch, mergeEncoded, percentile, SKETCH_ERROR } from '../src/core/sketches/sketch'
import { seededRandom } from '../src/core/seeded-random'
import { DAY, HOUR, MINUTE } from '../src/core/units'
import { addBoard, changeBoard, listBoards, removeBoard, requireBoard } from '../src/store/boards'
import { rows, transaction } from '../src/store/database'
import { addMark, listMarks, removeMark, requireMark } from '../src/store/marks'
import { keepPartitions, migrate } from '../src/store/migrate'
import { listObservations, numberTexts, storeObservations, textsOfAll } from '../src/store/observations'
import { addPicture, requirePicture } from '../src/store/pictures'
import { listParties, putParty, removeParty } from '../src/store/parties'
import { markDue, readWindows, rollUp } from '../src/store/rollups'
import { answer } from '../src/core/findout/answer'
import { byNumber } from '../src/core/findout/columns'
import { sheetOf, type LoadedTries } from '../src/core/findout/sheet'
import { eachOfDay } from '../src/core/sketches/day-sheet'
import { emptyDense, mergeBytes, percentileOfDense, type DenseSketch } from '../src/core/sketches/dense-sketch'
import { makeDueDaySheets, readDaySheets } from '../src/store/day-sheets'
import { countInSheets, loadFromSheets, makeDueSheets, type WantedOfSheets } from '../src/store/sheets'
import { loadSteps } from '../src/store/steps'
import { countTries, loadTries } from '../src/store/tries-in-columns'
import { startTestDatabase, type TestDatabase } from './database'

let database: TestDatabase
const day = Math.floor(Date.now() / DAY) * DAY
const begin = day - DAY + 10 * HOUR
const random = seededRandom(31)
/** Three hours of two checks at three locations, a try a minute, in no order. */
const observations: Observation[] = [1, 2].flatMap((check) => [1, 2, 3].flatMap((location) => Array.from({ length: 180 }, (_, minute): Observation => {
  const fails = minute % 20 === 7
  const total = 50 * location * (0.7 + 0.6 * random()) * (random() < 0.02 ? 20 : 1)
  return { check, location, at: begin + minute * MINUTE + location * 7000 + check * 500, occasion: 'scheduled', verdict: fails ? 'fail' : 'pass', phases: fails ? {} : { connect: total / 3, wait: total / 2 }, total, version: 1, ...(fails ? { reason: 'status', status: 503 } : { status: 200 }), address: `198.51.100.1${check}`, server: `edge-${1 + (minute % 3)}`, protocol: 'HTTP/2', ...(minute % 5 === 0 ? { readings: { loss: 0.25, rtt: 11, ...(minute % 15 === 0 ? { resolution: 40 + location, hops: 5 + location } : {}) } } : {}) }
})))
const all = { checks: [1, 2], locations: [1, 2, 3], from: begin, to: begin + 3 * HOUR }

beforeAll(async () => {
  database = await startTestDatabase(4809)
  const { pool } = database
  await migrate(database.url, 'src/store/migrations')
  await keepPartitions(pool, day + HOUR, { observation: 5 * DAY, evidence: 5 * DAY }, day - 2 * DAY)
  const shuffled = observations.map((each) => ({ each, key: random() })).sort((a, b) => a.key - b.key).map(({ each }) => each)
  const numbers = await numberTexts(pool, textsOfAll(observations))
  await transaction(pool, async (on) => void (await storeObservations(on, shuffled, numbers)))
  const due = [...new Set(observations.map((each) => Math.floor(each.at / (5 * MINUTE)) * 5 * MINUTE))].flatMap((at) => [1, 2].map((check) => ({ check, at })))
  await markDue(pool, due)
  await transaction(pool, (on) => rollUp(on, due))
}, 90_000)
afterAll(() => database.stop())

describe('single tries', () => {
  it('come as they were stored, in the order of their time', async () => {
    const { tries, texts, server, reason, status, thinned } = await loadTries(database.pool, all)
    expect([tries.count, thinned]).toEqual([observations.length, 1])
    expect(Array.from(tries.at)).toEqual(observations.map((each) => each.at).sort((a, b) => a - b))
    const known = new Map(observations.map((each) => [`${each.check}/${each.location}/${each.at}`, each]))
    for (let index = 0; index < tries.count; index += 1) {
      const own = known.get(`${tries.check[index]}/${tries.location[index]}/${tries.at[index]}`)!
      expect([tries.verdict[index], texts.get(server[index]!), texts.get(reason[index]!), status[index]]).toEqual([own.verdict === 'fail' ? 3 : 0, own.server, own.reason, own.status])
      expect(tries.times.total![index]).toBeCloseTo(own.total, 2)
      expect(Number.isNaN(tries.times.connect![index]!)).toBe(own.phases.connect === undefined)
      for (const beside of ['loss', 'rtt', 'resolution', 'hops']) expect(Number.isNaN(tries.times[beside]![index]!) ? undefined : tries.times[beside]![index]).toBe(own.readings?.[beside])
    }
  })
  it('lose passing ones only when there are too many', async () => {
    const { tries } = await loadTries(database.pool, { ...all, thinned: 3 })
    expect(Array.from(tries.verdict).filter((verdict) => verdict === 3).length).toBe(observations.filter((each) => each.verdict === 'fail').length)
    const passing = Array.from(tries.verdict).filter((verdict) => verdict === 0).length
    expect(passing / observations.filter((each) => each.verdict === 'pass').length).toBeCloseTo(1 / 3, 1)
    expect(new Set(Array.from(tries.location))).toEqual(new Set([1, 2, 3]))
  })
  it('are none of nothing', async () => {
    expect((await loadTries(database.pool, { ...all, checks: [] })).tries.count).toBe(0)
    expect((await loadTries(database.pool, { ...all, from: begin + DAY, to: begin + 2 * DAY })).tries.count).toBe(0)
    expect(await countTries(database.pool, { ...all, from: begin })).toBe(observations.length)
  })
})

describe('sheets', () => {
  const columns = ['total', 'connect', 'loss', 'hops', 'server', 'reason', 'status', 'resolver'] as const
  const comparable = ({ tries, server, reason, status, resolver, texts }: LoadedTries) => Array.from({ length: tries.count }, (_, index) => ({
    key: `${tries.check[index]}/${tries.location[index]}/${tries.at[index]}`, verdict: tries.verdict[index], total: tries.times.total![index], connect: tries.times.connect![index], loss: tries.times.loss![index], hops: tries.times.hops![index],
    server: texts.get(server[index]!), reason: texts.get(reason[index]!), status: status[index], resolver: texts.get(resolver[index]!)
  })).sort((a, b) => a.key.localeCompare(b.key))
  const fromSheets = (more: Partial<WantedOfSheets> = {}) => loadFromSheets(database.pool, { ...all, columns, most: 1e6, ...more })
  const made = async () => Number((await rows<{ count: number }>(database.pool, 'SELECT COUNT(*) AS count FROM sheet'))[0]!.count)
  const makeAll = async () => { while (await makeDueSheets(database.pool, day)) { /* the next ones */ } }

  it('give the same tries before they are made, half made, and made', async () => {
    const expected = comparable(await loadTries(database.pool, all))
    expect(await made()).toBe(0)
    expect(comparable(await fromSheets())).toEqual(expected)
    expect(await makeDueSheets(database.pool, day, 5)).toBe(5)
    expect(comparable(await fromSheets())).toEqual(expected)
    await makeAll()
    expect(await made()).toBeGreaterThanOrEqual(18)
    expect(comparable(await fromSheets())).toEqual(expected)
    expect(await countInSheets(database.pool, { from: begin - DAY, to: day + DAY })).toBe(observations.length)
  })
  it('give part of them, by check, place and time', async () => {
    const part = { checks: [2], locations: [1, 3], from: begin + 17 * MINUTE, to: begin + 81 * MINUTE }
    const expected = comparable(await loadTries(database.pool, part))
    expect(expected.length).toBe(2 * 64)
    expect(comparable(await fromSheets(part))).toEqual(expected)
  })
  it('are read only where they were chosen, made or not', async () => {
    const sheets = [begin + 20 * MINUTE, begin + 70 * MINUTE, begin + 170 * MINUTE]
    const expected = comparable(await loadTries(database.pool, { ...all, leaveOut: (at) => !sheets.includes(sheetOf(at)) }))
    expect(expected.length).toBe(3 * 10 * 6)
    expect(comparable(await fromSheets({ sheets }))).toEqual(expected)
    await database.pool.query('INSERT INTO sheet_due (at) VALUES (?)', [sheets[1]])
    expect(comparable(await fromSheets({ sheets }))).toEqual(expected)
    await makeAll()
    expect(comparable(await fromSheets({ sheets }))).toEqual(expected)
  })
  it('keep the tries of a check at a place in their order', async () => {
    const { tries } = await fromSheets()
    const last = new Map<string, number>()
    for (let index = 0; index < tries.count; index += 1) {
      const key = `${tries.check[index]}/${tries.location[index]}`
      expect(tries.at[index]!).toBeGreaterThan(last.get(key) ?? 0)
      last.set(key, tries.at[index]!)
    }
  })
  it('are thinned of passing tries when there are too many', async () => {
    const { tries, thinned } = await fromSheets({ most: 300 })
    expect(thinned).toBe(4)
    expect(Array.from(tries.verdict).filter((verdict) => verdict === 3).length).toBe(observations.filter((each) => each.verdict === 'fail').length)
    expect(tries.count).toBeLessThan(observations.length / 2.5)
  })
  it('hold what came late, at once and after they were made anew', async () => {
    const late: Observation = { check: 1, location: 1, at: begin + 30 * MINUTE + 1, occasion: 'scheduled', verdict: 'pass', phases: { connect: 5 }, total: 12, version: 1, resolver: '192.0.2.61', tlsVersion: 'TLSv1.3' }
    const numbers = await numberTexts(database.pool, textsOfAll([late]))
    await transaction(database.pool, async (on) => void (await storeObservations(on, [late], numbers)))
    const due = [{ check: 1, at: Math.floor(late.at / (5 * MINUTE)) * 5 * MINUTE }]
    await transaction(database.pool, (on) => rollUp(on, due))
    const expected = comparable(await loadTries(database.pool, all))
    expect(expected.find((each) => each.key === `1/1/${late.at}`)).toMatchObject({ total: 12, resolver: '192.0.2.61' })
    expect(comparable(await fromSheets())).toEqual(expected)
    expect(await makeDueSheets(database.pool, day)).toBe(1)
    expect(comparable(await fromSheets())).toEqual(expected)
    await database.pool.query('DELETE FROM observation WHERE at = ?', [late.at])
    await transaction(database.pool, (on) => rollUp(on, due))
    await makeAll()
    expect((await fromSheets()).tries.count).toBe(observations.length)
  })
  it('of days say what the rollups say', async () => {
    expect(await makeDueDaySheets(database.pool, day)).toBe(1)
    expect(await makeDueDaySheets(database.pool, day)).toBe(0)
    const [sheet] = await readDaySheets(database.pool, 'total', { from: day - DAY, to: day })
    const found = new Map<number, { dense: DenseSketch; tries: number; fails: number }>()
    eachOfDay(sheet!.content, (_, location, tries, fails, from, to) => {
      const own = found.get(location) ?? { dense: emptyDense(), tries: 0, fails: 0 }
      found.set(location, { dense: own.dense, tries: own.tries + tries, fails: own.fails + fails })
      mergeBytes(own.dense, sheet!.content, from, to)
    })
    for (const location of [1, 2, 3]) {
      const own = observations.filter((each) => each.location === location)
      expect([found.get(location)!.tries, found.get(location)!.fails]).toEqual([own.length, own.filter((each) => each.verdict === 'fail').length])
      const times = own.filter((each) => each.verdict === 'pass').map((each) => each.total).sort((a, b) => a - b)
      expect(Math.abs(percentileOfDense(found.get(location)!.dense, 0.95)! / 1000 / times[Math.ceil(0.95 * times.length) - 1]! - 1)).toBeLessThanOrEqual(SKETCH_ERROR + 1e-4)
    }
    // a day that goes on is made anew every ten minutes at most
    await transaction(database.pool, (on) => rollUp(on, [{ check: 1, at: begin }]))
    expect([await makeDueDaySheets(database.pool, day + 5 * MINUTE), await makeDueDaySheets(database.pool, day + 11 * MINUTE)]).toEqual([0, 1])
  })
})

describe('steps', () => {
  const names = ['sign in', 'seats', 'pay']
  /** Every fifth try fails at its second step, and never comes to the third. */
  const tries = Array.from({ length: 40 }, (_, index): Observation => {
    const fails = index % 5 === 0
    const steps = names.slice(0, fails ? 2 : 3).map((name, place) => ({ name, took: 100 * (place + 1) + index, status: fails && place === 1 ? 502 : 200, ...(fails && place === 1 ? { failed: true as const } : {}) }))
    return { check: 3, location: 1 + (index % 2), at: begin + index * MINUTE, occasion: 'scheduled', verdict: fails ? 'fail' : index % 7 === 0 ? 'slow' : 'pass', phases: {}, total: steps.reduce((sum, each) => sum + each.took, 0), version: 1, ...(fails ? { reason: 'status' } : {}), server: 'edge-1', steps }
  })
  const wanted = { checks: [3], locations: [1, 2], from: begin, to: begin + HOUR }
  beforeAll(async () => {
    const numbers = await numberTexts(database.pool, textsOfAll(tries))
    await transaction(database.pool, async (on) => void (await storeObservations(on, tries, numbers)))
    // once more: a repeat changes nothing
    await transaction(database.pool, async (on) => void (await storeObservations(on, tries, numbers)))
  })
  afterAll(() => database.pool.query('DELETE FROM observation WHERE check_id = 3'))

  it('are read as if each were a try: only the one that failed fails', async () => {
    const { tries: read, step, texts, reason, status, server } = await loadSteps(database.pool, wanted)
    expect(read.count).toBe(tries.reduce((sum, each) => sum + each.steps!.length, 0))
    const own = Array.from({ length: read.count }, (_, index) => ({ name: texts.get(step![index]!), took: read.times.total![index], verdict: read.verdict[index], reason: texts.get(reason[index]!), status: status[index] }))
    expect(own.filter((each) => each.verdict === 3)).toEqual(tries.filter((each) => each.verdict === 'fail').map((each) => ({ name: 'seats', took: each.steps![1]!.took, verdict: 3, reason: 'status', status: 502 })))
    expect(own.filter((each) => each.name === 'pay').map((each) => each.took)).toEqual(tries.filter((each) => each.verdict !== 'fail').map((each) => each.steps![2]!.took))
    expect(new Set(Array.from(server, (each) => texts.get(each)))).toEqual(new Set(['edge-1']))
    const groups = answer(read, byNumber(step!, 'step', (number) => texts.get(number)), 'total', 'share failing', wanted, 10 * MINUTE)
    expect(groups.map((each) => [each.name, each.value])).toEqual([['seats', 0.2], ['pay', 0], ['sign in', 0]])
  })
  it('come back with their observation', async () => {
    const found = await listObservations(database.pool, { check: 3, from: begin, to: begin + HOUR, limit: 100 })
    expect(found.map((each) => each.steps).reverse()).toEqual(tries.map((each) => each.steps))
    expect((await listObservations(database.pool, { check: 1, from: begin, to: begin + HOUR, limit: 5 })).some((each) => 'steps' in each)).toBe(false)
  })
  it('are thinned by whole tries, and none of nothing', async () => {
    const { tries: read } = await loadSteps(database.pool, { ...wanted, thinned: 4 })
    expect(Array.from(read.verdict).filter((each) => each === 3)).toHaveLength(8)
    expect(read.count).toBeLessThan(90)
    expect((await loadSteps(database.pool, { ...wanted, checks: [] })).tries.count).toBe(0)
    expect((await loadSteps(database.pool, { ...wanted, checks: [1] })).tries.count).toBe(0)
  })
})

describe('sketches', () => {
  const exact = (share: number, fits: (each: Observation) => boolean) => {
    const times = observations.filter((each) => each.verdict !== 'fail' && fits(each)).map((each) => each.total).sort((a, b) => a - b)
    return times[Math.ceil(share * times.length) - 1]!
  }
  const merged = async (locations: number[], span: '5m' | '1h' | '1d', checks = [1, 2]) => {
    const sketch = emptySketch()
    let tries = 0
    for (const window of await readWindows(database.pool, checks, locations, span, 'total', { from: day - DAY, to: day })) {
      tries += window.all
      if (window.sketch) mergeEncoded(sketch, window.sketch)
    }
    return { sketch, tries }
  }
  it.each(['5m', '1h', '1d'] as const)('of %s merge to every percentile within their stated error', async (span) => {
    for (const [locations, checks] of [[[1], [1]], [[2, 3], [1, 2]], [[1, 2, 3], [2]]] as [number[], number[]][]) {
      const { sketch, tries } = await merged(locations, span, checks)
      const fits = (each: Observation) => locations.includes(each.location) && checks.includes(each.check)
      expect(tries).toBe(observations.filter(fits).length)
      for (const share of [0.01, 0.25, 0.5, 0.9, 0.95, 0.99, 1]) {
        const found = percentile(sketch, share)! / 1000
        expect(Math.abs(found / exact(share, fits) - 1)).toBeLessThanOrEqual(SKETCH_ERROR + 1e-4)
      }
    }
  })
  it('of all locations together are those of each, merged', async () => {
    const [together, each] = [await merged([0], '1h'), await merged([1, 2, 3], '1h')]
    expect(together.tries).toBe(each.tries)
    expect([...together.sketch.counts].sort((a, b) => a[0] - b[0])).toEqual([...each.sketch.counts].sort((a, b) => a[0] - b[0]))
  })
  it('are the same when they are made again from the observations, even after they were lost', async () => {
    const all = () => rows<object>(database.pool, 'SELECT check_id, location_id, span, at, passes, fails, HEX(total_sketch) AS sketch FROM rollup ORDER BY check_id, span, location_id, at')
    const before = await all()
    const due = [...new Set(observations.map((each) => Math.floor(each.at / (5 * MINUTE)) * 5 * MINUTE))].flatMap((at) => [1, 2].map((check) => ({ check, at })))
    await transaction(database.pool, (on) => rollUp(on, due))
    expect(await all()).toEqual(before)
    await database.pool.query('DELETE FROM rollup')
    await transaction(database.pool, (on) => rollUp(on, due))
    expect(await all()).toEqual(before)
  })
})

describe('pictures', () => {
  const png = Uint8Array.from([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 1, 2, 3])
  it('belong to an incident that there is', async () => {
    const { pool } = database
    await expect(addPicture(pool, 4711, png, 1, begin)).rejects.toMatchObject({ code: 'not-found' })
    await expect(addPicture(pool, 4711, new Uint8Array(3), 1, begin)).rejects.toMatchObject({ code: 'bad-document' })
    await expect(requirePicture(pool, 'f'.repeat(32))).rejects.toMatchObject({ code: 'not-found' })
  })
})

describe('marks, parties and boards', () => {
  it('are kept, listed and taken away', async () => {
    const { pool } = database
    const id = await addMark(pool, { at: begin, kind: 'release', title: 'Release 1', detail: '' }, null, begin)
    expect((await listMarks(pool, { from: begin - 1, to: begin + 1 })).map((each) => [each.title, each.service, each.check])).toEqual([['Release 1', null, null]])
    expect(await listMarks(pool, { from: begin + 1, to: begin + DAY })).toEqual([])
    await expect(addMark(pool, { at: begin, kind: 'note', title: 'x', detail: '', service: 'none' }, null, begin)).rejects.toMatchObject({ code: 'bad-document' })
    await removeMark(pool, id, null, begin)
    await expect(requireMark(pool, id)).rejects.toMatchObject({ code: 'not-found' })

    await putParty(pool, { party: 'cable', name: 'A cable', kind: 'transit', networks: ['Cable'] }, null, begin)
    await putParty(pool, { party: 'cable', name: 'The cable', kind: 'transit', networks: ['Cable'], contact: 'noc@cable.example' }, null, begin)
    expect(await listParties(pool)).toEqual([{ key: 'cable', name: 'The cable', kind: 'transit', networks: ['Cable'], hosts: [], ranges: [], contact: 'noc@cable.example' }])
    await expect(putParty(pool, { party: 'cable', name: 'x', kind: 'moon' }, null, begin)).rejects.toMatchObject({ code: 'bad-document' })
    await removeParty(pool, 'cable', null, begin)
    await expect(removeParty(pool, 'cable', null, begin)).rejects.toMatchObject({ code: 'not-found' })

    const board = await addBoard(pool, { name: ' Wall ', checks: ['a'], locations: [] }, null, begin)
    expect(await requireBoard(pool, board)).toEqual({ id: board, name: 'Wall', checks: ['a'], locations: [] })
    await expect(addBoard(pool, { name: ' ', checks: [], locations: [] }, null, begin)).rejects.toMatchObject({ code: 'bad-document' })
    await changeBoard(pool, { id: board, name: 'Wall', checks: ['b', 'c'], locations: ['x'] }, null, begin)
    expect(await requireBoard(pool, board)).toEqual({ id: board, name: 'Wall', checks: ['b', 'c'], locations: ['x'] })
    await expect(changeBoard(pool, { id: board, name: '', checks: [], locations: [] }, null, begin)).rejects.toMatchObject({ code: 'bad-document' })
    await removeBoard(pool, board, null, begin)
    await expect(changeBoard(pool, { id: board, name: 'Wall', checks: [], locations: [] }, null, begin)).rejects.toMatchObject({ code: 'not-found' })
    expect(await listBoards(pool)).toEqual([])
  })
})
