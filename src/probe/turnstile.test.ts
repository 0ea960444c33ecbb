import { Turnstile } from './turnstile'

/** Work that ends when it is told to. */
function open() {
  const ends: ((value: string | Error) => void)[] = []
  const begun: number[] = []
  const work = (name: number) => () => {
    begun.push(name)
    return new Promise<string>((resolve, reject) => { ends[name] = (value) => (value instanceof Error ? reject(value) : resolve(value)) })
  }
  return { ends, begun, work }
}
const settled = () => new Promise((resolve) => setImmediate(resolve))

describe('a turnstile', () => {
  it('lets so many in, and the others in their order as places become free', async () => {
    const [{ ends, begun, work }, turnstile] = [open(), new Turnstile(2)]
    const results = [0, 1, 2, 3].map((name) => turnstile.through(work(name)))
    await settled()
    expect(begun).toEqual([0, 1])
    ends[1]!('one')
    await settled()
    expect(begun).toEqual([0, 1, 2])
    // nobody slips in before those who wait
    results.push(turnstile.through(work(4)))
    ends[0]!('zero')
    await settled()
    expect(begun).toEqual([0, 1, 2, 3])
    for (const name of [2, 3]) ends[name]!('done')
    await settled()
    ends[4]!('four')
    expect(await Promise.all(results)).toEqual(['zero', 'one', 'done', 'done', 'four'])
  })
  it('frees the place of work that fails', async () => {
    const [{ ends, begun, work }, turnstile] = [open(), new Turnstile(1)]
    const first = turnstile.through(work(0))
    const second = turnstile.through(work(1))
    await settled()
    ends[0]!(new Error('broken'))
    await expect(first).rejects.toThrow('broken')
    await settled()
    expect(begun).toEqual([0, 1])
    ends[1]!('well')
    expect(await second).toBe('well')
  })
})
