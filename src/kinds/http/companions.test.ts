import { MINUTE } from '../../core/units'
import type { Hop, Link } from '../link'
import { LinkError } from '../link'
import { Companions } from './companions'

const ADDRESS = '198.51.100.14'
const around = { address: ADDRESS, host: ADDRESS }

describe('packets beside a web check', () => {
  const asked: string[] = []
  const link = (times: (number | null)[] | Error) => ({ ping: (address: string) => { asked.push(address); return times instanceof Error ? Promise.reject(times) : Promise.resolve(times) }, path: () => Promise.reject(new LinkError('not-supported', 'none')) }) as unknown as Link
  const memory = new Map<string, unknown>()
  const beside = async (now: number, isBad: boolean, times: (number | null)[] | Error = [10, 20, null, 30], names: string[] = []) => {
    asked.length = 0
    const companions = new Companions(link(times), memory, now, new Set(names))
    companions.begin(ADDRESS)
    companions.begin(ADDRESS)
    const readings = await companions.readings()
    companions.end(around, isBad)
    return [readings, asked.length]
  }
  it('go now and then while all is well, and with every try after a bad one', async () => {
    expect(await beside(0, false)).toEqual([{ loss: 0.25, rtt: 20 }, 1])
    expect(await beside(MINUTE, false)).toEqual([{}, 0])
    expect(await beside(5 * MINUTE, true)).toEqual([{ loss: 0.25, rtt: 20 }, 1])
    expect(await beside(6 * MINUTE, true, [null, null, null, null])).toEqual([{ loss: 1 }, 1])
    expect(await beside(7 * MINUTE, false)).toEqual([{ loss: 0.25, rtt: 20 }, 1])
    expect(await beside(8 * MINUTE, false)).toEqual([{}, 0])
  })
  it('go with every try where a condition asks for them', async () => expect(await beside(9 * MINUTE, false, [10], ['rtt'])).toEqual([{ loss: 0, rtt: 10 }, 1]))
  it('do not go where a condition asks for something else', async () => expect(await beside(10 * MINUTE, false, [10], ['hops'])).toEqual([{}, 0]))
  it('are no reason to fail where a line carries none', async () => expect(await beside(20 * MINUTE, false, new Error('through a proxy'))).toEqual([{}, 1]))
})

describe('the way beside a web check', () => {
  const way = (...routers: string[]): Hop[] => [...routers, ADDRESS].map((address, index) => ({ away: index + 1, addresses: [address], times: [5 * (index + 1), null] }))
  let hops: Hop[] | Error
  let looks = 0
  const link = { ping: () => Promise.resolve([1]), path: () => { looks += 1; return hops instanceof Error ? Promise.reject(hops) : Promise.resolve(hops) } } as unknown as Link
  const [first, second] = [new Map<string, unknown>(), new Map<string, unknown>()]
  /** One try of a check: what it brings, once its own look is done. */
  const goOn = async (now: number, isBad: boolean, memory = first) => {
    const found = new Companions(link, memory, now).end(around, isBad)
    await new Promise((resolve) => setTimeout(resolve, 5))
    return found
  }
  it('is looked at now and then, and told of with the try that follows', async () => {
    hops = way('192.0.2.1', '192.0.2.2')
    expect(await goOn(0, false)).toEqual({ readings: {}, tables: [] })
    expect(await goOn(MINUTE, false)).toEqual({ readings: { hops: 3, changes: 0 }, tables: [] })
    expect(await goOn(2 * MINUTE, false)).toEqual({ readings: {}, tables: [] })
    expect(looks).toBe(1)
  })
  it('is looked at at once when a try is bad, and shown while tries are bad', async () => {
    await goOn(3 * MINUTE, true)
    expect(looks).toBe(2)
    const { tables: [table] } = await goOn(3 * MINUTE + 8000, true)
    expect(table!.title).toBe(`The way to ${ADDRESS}, 8 s before`)
    expect(table!.rows).toEqual([[1, '192.0.2.1', 0.5, 5, null], [2, '192.0.2.2', 0.5, 10, null], [3, ADDRESS, 0.5, 15, null]])
    expect(looks).toBe(2)
  })
  it('is shown when it has changed, with what it was before', async () => {
    hops = way('192.0.2.1', '192.0.2.77')
    await goOn(40 * MINUTE, false)
    const { readings, tables } = await goOn(41 * MINUTE, false)
    expect(readings).toEqual({ hops: 3, changes: 1 })
    expect(tables[0]!.rows[1]).toEqual([2, '192.0.2.77', 0.5, 10, '192.0.2.2'])
  })
  it('is looked at once for all checks of a location, and told to each of them', async () => {
    const before = looks
    await goOn(80 * MINUTE, false, first)
    expect((await goOn(80 * MINUTE, false, second)).readings).toEqual({ hops: 3, changes: 0 })
    expect(looks).toBe(before + 1)
    expect((await goOn(81 * MINUTE, false, second)).readings).toEqual({})
    expect((await goOn(81 * MINUTE, false, first)).readings).toEqual({ hops: 3, changes: 0 })
  })
  it('is waited for where a condition asks for it, and is never old', async () => {
    const memory = new Map<string, unknown>()
    const asked = (now: number) => new Companions(link, memory, now, new Set(['changes'])).around(around)
    const before = looks
    hops = way('192.0.2.1', '192.0.2.77', '192.0.2.5')
    expect(await asked(100 * MINUTE)).toEqual({ hops: 4, changes: 1 })
    expect(await asked(104 * MINUTE)).toEqual({ hops: 4, changes: 1 })
    expect(looks).toBe(before + 1)
    expect(await asked(105 * MINUTE)).toEqual({ hops: 4, changes: 0 })
    // what could not be looked at for a while is not known any more
    hops = new LinkError('not-supported', 'through a proxy')
    expect(await asked(111 * MINUTE)).toEqual({ hops: 4, changes: 0 })
    expect(await asked(117 * MINUTE)).toEqual({})
    expect(await new Companions(link, memory, 118 * MINUTE).around(around)).toEqual({})
  })
  it('is not there where a line carries no such packets', async () => {
    hops = new LinkError('not-supported', 'through a proxy')
    await goOn(130 * MINUTE, true)
    expect(await goOn(131 * MINUTE, true)).toEqual({ readings: {}, tables: [] })
  })
})
