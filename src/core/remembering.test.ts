import { remembering } from './remembering'

describe('remembering', () => {
  it('makes each thing once, also one that is nothing, and begins anew when it is full', () => {
    const made: string[] = []
    const make = remembering(2, (key: string) => {
      made.push(key)
      return key === 'none' ? undefined : key.length
    })
    expect([make('a'), make('a'), make('none'), make('none')]).toEqual([1, 1, undefined, undefined])
    expect(made).toEqual(['a', 'none'])
    make('third')
    make('a')
    expect(made).toEqual(['a', 'none', 'third', 'a'])
  })

  it('remembers nothing of what could not be made', () => {
    let fails = true
    const make = remembering(2, () => {
      if (fails) throw new Error('not yet')
      return 'made'
    })
    expect(() => make('a')).toThrow('not yet')
    fails = false
    expect(make('a')).toBe('made')
  })
})
