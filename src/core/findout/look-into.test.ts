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
    const { verdict, servers, status } = lookInto(task())
    expect(verdict.named[0]).toMatchObject(world.truth!)
    const own = task().inside
    const column = (dimension: string) => own.columns.find((each) => each.dimension === dimension)
    const failing = Array.from(own.verdict, (each, index) => (each === 3 ? column('status')?.names[column('status')!.codes[index]!] : undefined)).filter((each) => each !== undefined)
    expect(status).toBe(failing.length === 0 ? undefined : failing[0])
    for (const [address, server] of servers) {
      const [addresses, names] = [column('address')!, column('server')!]
      for (let index = 0; index < own.count; index += 1) if (addresses.names[addresses.codes[index]!] === address) expect(names.names[names.codes[index]!]).toBe(server)
    }
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
