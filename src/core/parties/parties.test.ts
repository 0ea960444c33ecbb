import { ownsAddress, ownsHost, partyOf, partyOfNetwork, type Party } from './parties'
import { partyProblems } from './read-party'

const party = (key: string, more: Partial<Party>): Party => ({ key, name: key, kind: 'origin', hosts: [], ranges: [], networks: [], ...more })
describe('parties', () => {
  it('own hosts by name, and everything below a star', () => {
    const own = { hosts: ['*.orrinsound.example', 'orrin-freight.example'] }
    expect(['book.orrinsound.example', 'BOOK.OrrinSound.example', 'orrinsound.example', 'orrin-freight.example', 'www.orrin-freight.example', 'badorrinsound.example'].map((host) => ownsHost(own, host))).toEqual([true, true, false, true, false, false])
  })
  it('own addresses by range, of both families, also of mapped ones', () => {
    const own = { ranges: ['198.51.100.0/24', '2001:db8::/32'] }
    expect(['198.51.100.14', '198.51.101.1', '2001:db8:1::5', '2001:db9::1', '::ffff:198.51.100.9', 'nonsense'].map((address) => ownsAddress(own, address))).toEqual([true, false, true, false, true, false])
  })
  it('are found by address first, since that says who carries it', () => {
    const all = [party('origin', { hosts: ['*.orrinsound.example'] }), party('hosting', { kind: 'hosting', ranges: ['198.51.100.0/24'] }), party('cable', { kind: 'access network', networks: ['Pacífico Cable'] })]
    expect(partyOf(all, { host: 'book.orrinsound.example', address: '198.51.100.14' })?.key).toBe('hosting')
    expect(partyOf(all, { host: 'book.orrinsound.example', address: '192.0.2.1' })?.key).toBe('origin')
    expect(partyOf(all, { address: '192.0.2.1' })).toBeUndefined()
    expect(partyOfNetwork(all, 'Pacífico Cable')?.key).toBe('cable')
  })
  it.each([
    [{ party: 'x', name: 'X', kind: 'origin', hosts: ['nonsense'] }, 'hosts[0]'], [{ party: 'x', name: 'X', kind: 'origin', ranges: ['192.0.2.0/33'] }, 'ranges[0]'], [{ party: 'x', name: 'X', kind: 'planet' }, 'kind'], [{ party: 'X y', name: 'X', kind: 'origin' }, 'party'], [{ party: 'x', kind: 'origin' }, 'name'], [{ party: 'x', name: 'X', kind: 'origin', colour: 'red' }, '']
  ])('%j is refused at %p', (document, path) => expect(partyProblems(document)[0]?.path).toBe(path))
  it('are taken as they are written', () => expect(partyProblems({ party: 'sound-hosting', name: 'Sound Hosting', kind: 'hosting', contact: 'support@sound-hosting.example', ranges: ['198.51.100.0/24', '2001:db8::/32'], hosts: ['*.sound-hosting.example'], networks: ['Sound'] })).toEqual([]))
})
