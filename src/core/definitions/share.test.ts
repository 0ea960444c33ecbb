import { speakShare } from './share'

describe('a share', () => {
  it.each([[0, '0%'], [0.0004, '<0.1%'], [0.0005, '0.1%'], [0.042, '4.2%'], [0.0994, '9.9%'], [0.0996, '10%'], [0.5, '50%'], [1, '100%'], [undefined, '—']])('of %s is said as %s', (share, said) => expect(speakShare(share)).toBe(said))
})
