import { realLink } from '../../src/probe/links/real-link'
import { lookAround, seenAround } from '../../src/kinds/http/surroundings'
import type { Link } from '../../src/kinds/link'
import { startNameServers } from '../servers/name-server'
import type { Drill } from '../world/faults'
import { PLACES } from '../world/places'
import { Servers, tryKind } from './try-kind'

const drills = new Set<Drill>()
let ports: Record<string, number>
beforeAll(async () => { ports = await startNameServers((drill) => drills.has(drill)) })

/** A link of its own for every test: what was seen over a link is shared by all that use it. */
function worldLink(): Link {
  const real = realLink({ allowsInternal: false, ranges: [] })
  return { ...real, resolver: () => PLACES[0]!.resolver, datagrams: (address, asked, signal) => real.datagrams('127.0.0.1', ports[`${address}:${asked}/udp`] ?? asked, signal) }
}

const around = { address: undefined, host: 'booking.orrinsound.example' }
const looked = async (link: Link, now: number, isBad = false) => {
  lookAround(link, around, now, isBad)
  for (let tries = 0; tries < 80 && seenAround(link, around, now - 1).length === 0; tries += 1) await new Promise((resolve) => setTimeout(resolve, 50))
  return seenAround(link, around, now - 1)
}

describe('the resolution of a name beside a web check', () => {
  it('goes step by step from the root, with the server at each', async () => {
    const [look] = await looked(worldLink(), 1000)
    expect(look!.table.title).toBe(`${around.host}, step by step from the root`)
    const zones = look!.table.rows.map(([zone]) => zone)
    expect(zones[0]).toBe('.')
    expect(new Set(zones).size).toBeGreaterThanOrEqual(3)
    expect(look!.readings.resolution).toBeGreaterThan(0)
    expect(look!.isNews).toBe(false)
  })
  it('is news when a server on the way has become slow', async () => {
    const link = worldLink()
    await looked(link, 1000)
    drills.add('slow-name-server')
    let news = 0
    // the slow server is one of two and is met at random
    for (let round = 1; round <= 12 && news === 0; round += 1) {
      const [look] = await looked(link, 1000 + round * 31 * 60_000)
      if (look!.isNews) news += 1
      const slow = look!.table.rows.filter((row) => Number(row[3]) > 800)
      expect(slow.length).toBeGreaterThan(0)
    }
    drills.clear()
    expect(news).toBe(1)
  }, 60_000)
  it('of an address there is none', () => {
    const link = worldLink()
    lookAround(link, { address: undefined, host: '198.51.100.14' }, 1000, true)
    expect(seenAround(link, { address: undefined, host: '198.51.100.14' }, 0)).toEqual([])
  })
})

describe('a condition on the line beside a web check', () => {
  const servers = new Servers()
  afterAll(() => servers.close())
  const memory = new Map<string, unknown>()
  const asked = async (pass: object[], times: (number | null)[]) => {
    const port = await servers.web((_request, _body, response) => response.end('well'))
    return tryKind({ http: { url: `http://127.0.0.1:${port}/` }, pass: [{ status: 200 }, ...pass] }, { memory, link: { ping: () => Promise.resolve(times) } })
  }
  it('holds, warns and fails by the packets that went with the very try', async () => {
    expect(await asked([{ loss: { max: '50%', warn: '20%' } }], [4, 5, 6, 7])).toMatchObject({ verdict: 'pass', readings: { loss: 0, rtt: 5.5 } })
    expect(await asked([{ loss: { max: '50%', warn: '20%' } }], [4, null, 6, 7])).toMatchObject({ verdict: 'warn', sentence: expect.stringContaining('loss of packets beside it is 25%') as string })
    expect(await asked([{ loss: { max: '50%', warn: '20%' } }], [null, null, null, 7])).toMatchObject({ verdict: 'fail', reason: 'condition', status: 200 })
    expect(await asked([{ rtt: { max: '100ms' } }], [300, 310, 320, 330])).toMatchObject({ verdict: 'fail', sentence: expect.stringContaining('round trip of packets beside it is 315 ms') as string })
  })
  it('is judged by the way and by the resolution too, which are looked at first', async () => {
    const path = (routers: string[]) => ({ path: () => Promise.resolve(routers.map((address, index) => ({ away: index + 1, addresses: [address], times: [index + 1] }))), ping: () => Promise.resolve([1]) })
    const port = await servers.web((_request, _body, response) => response.end('well'))
    const ask = (pass: object[], routers: string[]) => tryKind({ http: { url: `http://127.0.0.1:${port}/` }, pass: [{ status: 200 }, ...pass] }, { link: path(routers) })
    expect(await ask([{ hops: { max: 3 } }], ['192.0.2.1', '192.0.2.2', '127.0.0.1'])).toMatchObject({ verdict: 'pass' })
    expect(await ask([{ hops: { max: 3 } }], ['192.0.2.1', '192.0.2.2', '192.0.2.3', '127.0.0.1'])).toMatchObject({ verdict: 'fail', sentence: expect.stringContaining('number of steps on the way to its address is 4') as string })
    expect(await ask([{ resolution: { max: '1s' } }], [])).toMatchObject({ verdict: 'fail', sentence: expect.stringContaining('resolution of its name from the root is not known') as string })
  })
  it('sends none and demands none without it', async () => {
    const port = await servers.web((_request, _body, response) => response.end('well'))
    expect(await tryKind({ http: { url: `http://127.0.0.1:${port}/` }, pass: [{ status: 200 }] }, { link: { ping: () => Promise.reject(new Error('no tool')) } })).toMatchObject({ verdict: 'pass' })
  })
})
