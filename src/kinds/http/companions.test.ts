import { MINUTE } from '../../core/units'
import type { Link } from '../link'
import { Companions } from './companions'

describe('packets beside a web check', () => {
  const asked: string[] = []
  const link = (times: (number | null)[] | Error) => ({ ping: (address: string) => { asked.push(address); return times instanceof Error ? Promise.reject(times) : Promise.resolve(times) } }) as unknown as Link
  const memory = new Map<string, unknown>()
  const beside = async (now: number, isBad: boolean, times: (number | null)[] | Error = [10, 20, null, 30]) => {
    asked.length = 0
    const companions = new Companions(memory, now)
    companions.begin(link(times), '198.51.100.14')
    companions.begin(link(times), '198.51.100.14')
    return [await companions.end(isBad), asked.length]
  }
  it('go now and then while all is well, and with every try after a bad one', async () => {
    expect(await beside(0, false)).toEqual([{ loss: 0.25, rtt: 20 }, 1])
    expect(await beside(MINUTE, false)).toEqual([{}, 0])
    expect(await beside(5 * MINUTE, true)).toEqual([{ loss: 0.25, rtt: 20 }, 1])
    expect(await beside(6 * MINUTE, true, [null, null, null, null])).toEqual([{ loss: 1 }, 1])
    expect(await beside(7 * MINUTE, false)).toEqual([{ loss: 0.25, rtt: 20 }, 1])
    expect(await beside(8 * MINUTE, false)).toEqual([{}, 0])
  })
  it('are no reason to fail where a line carries none', async () => expect(await beside(20 * MINUTE, false, new Error('through a proxy'))).toEqual([{}, 1]))
})
