import { lookInto, memoryOf } from './look-into'
import { madeWorld } from './made-worlds'
import { splitAt } from './tries'

describe('looking into tries', () => {
  const world = madeWorld(5, 'server fails')
  const task = () => {
    const { inside, outside: reference } = splitAt(world.tries, world.stretch)
    return { inside, reference, metric: 'total', percentile: 0.5, parties: [] }
  }
  it('names the cause, the status of its failures, and every server that has an address to itself', () => {
    const server = world.tries.columns.find((each) => each.dimension === 'server')!
    // the first two servers share an address
    const address = { dimension: 'address', codes: server.codes.map((code) => Math.max(0, code - 1)), names: server.names.slice(1).map((_, place) => `192.0.2.${place + 1}`) }
    const status = { dimension: 'status', codes: Int32Array.from(world.tries.verdict, (verdict, index) => (verdict === 3 ? 1 : index % 50 === 0 ? 2 : 0)), names: ['200', '503', '304'] }
    const { inside, outside: reference } = splitAt({ ...world.tries, columns: [...world.tries.columns, address, status] }, world.stretch)
    const found = lookInto({ ...task(), inside, reference })
    expect(found.verdict.named.map(({ dimension, value }) => ({ dimension, value }))).toContainEqual(world.truth)
    expect(found.status).toBe('503')
    expect([...found.servers].sort()).toEqual(server.names.slice(2).map((name, place) => [`192.0.2.${place + 2}`, name]))
  })
  it('is handed over with all its memory, each piece once', async () => {
    const given = task()
    const bytes = memoryOf(given.inside, given.reference)
    expect(new Set(bytes).size).toBe(bytes.length)
    const moved = structuredClone(given, { transfer: bytes })
    expect(given.inside.at.byteLength).toBe(0)
    expect(lookInto(moved).verdict).toEqual(lookInto(task()).verdict)
  })
})
