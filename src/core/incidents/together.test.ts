import { MINUTE } from '../units'
import { beganTogether, facetsOf, hostOfTarget, soughtBy, togetherWith, withMore, type FailingCheck, type Leading } from './together'

const all = [{ key: 'bergen', network: 'Nordvik Fibre' }, { key: 'galway', network: 'Atlantic Net' }, { key: 'lisbon', network: 'Atlantic Net' }]
const check = (key: string, more: Partial<FailingCheck> = {}): FailingCheck => ({ key, name: key, needs: [], target: `https://${key}.example/`, addresses: [], failing: all.map((each) => ({ ...each, place: each.key })), passing: [], ...more })
/** Fails at one location, and passes at others: all, or those named. */
const only = (key: string, ...passing: string[]) => ({ failing: all.filter((each) => each.key === key).map((each) => ({ ...each, place: each.key[0]!.toUpperCase() + each.key.slice(1) })), passing: all.filter((each) => (passing.length === 0 ? each.key !== key : passing.includes(each.key))) })
const leading = (incident: number, of: FailingCheck, since = 0): Leading => ({ incident, onset: { since, lastPass: since - MINUTE }, facets: facetsOf(of) })
const found = (of: FailingCheck, open: Leading[], since = 0) => togetherWith({ since, lastPass: since - MINUTE }, soughtBy(facetsOf(of)), open)

describe('checks that fail together', () => {
  it.each([
    ['an address', check('b', { addresses: ['192.0.2.1', '192.0.2.9'] }), check('a', { addresses: ['192.0.2.9'] }), 'both use the address 192.0.2.9'],
    ['a host', check('b', { target: 'https://book.example/x' }), check('a', { target: 'book.example:443' }), 'both use the host book.example'],
    ['a service', check('b', { service: { key: 's', name: 'Tickets' } }), check('a', { service: { key: 's', name: 'Tickets' } }), 'both belong to the service Tickets'],
    ['locations, when others pass', check('b', only('bergen')), check('a', only('bergen')), 'both fail only at Bergen'],
    ['a network', check('b', only('galway', 'bergen')), check('a', only('lisbon', 'bergen')), 'both fail only in the network Atlantic Net'],
    ['what both need', check('b', { needs: [{ key: 'dns', name: 'Name service' }] }), check('a', { needs: [{ key: 'dns', name: 'Name service' }] }), 'both need Name service'],
    ['one needing the other', check('b', { needs: [{ key: 'a', name: 'A' }] }), check('a'), 'it needs A'],
    ['one being needed by the other', check('b'), check('a', { needs: [{ key: 'b', name: 'B' }] }), 'it is needed there']
  ])('share %s', (_, one, other, why) => expect(found(one, [leading(7, other)])).toEqual({ incident: 7, why }))

  it('do not belong together for failing at all their locations, nor for nothing', () => {
    expect(found(check('b'), [leading(7, check('a'))])).toBeUndefined()
    expect(found(check('b', { target: '' }), [leading(7, check('a', { target: '' }))])).toBeUndefined()
  })

  it('do not belong together for the first places that were asked', () => {
    expect(found(check('b', { ...only('bergen'), passing: [] }), [leading(7, check('a', only('bergen')))])).toBeUndefined()
    expect(found(check('b', only('galway', 'lisbon')), [leading(7, check('a', only('lisbon', 'galway')))])).toBeUndefined()
  })

  it('must have begun within a few minutes, as far as anyone can know', () => {
    expect(beganTogether({ since: 10 * MINUTE, lastPass: 9 * MINUTE }, { since: 0, lastPass: -MINUTE })).toBe(false)
    // a check that runs every quarter of an hour may have failed all the while
    expect(beganTogether({ since: 14 * MINUTE, lastPass: -MINUTE }, { since: 0, lastPass: -MINUTE })).toBe(true)
    expect(beganTogether({ since: 2 * MINUTE }, { since: 0 })).toBe(true)
    expect(beganTogether({ since: 4 * MINUTE }, { since: 0 })).toBe(false)
  })

  it('join what they share the most telling thing with, and of equals the one that began last', () => {
    const service = { key: 's', name: 'Tickets' }
    const own = check('c', { service, addresses: ['192.0.2.9'] })
    expect(found(own, [leading(1, check('a', { service })), leading(2, check('b', { addresses: ['192.0.2.9'] }))])?.incident).toBe(2)
    expect(found(own, [leading(1, check('a', { service }), -MINUTE), leading(2, check('b', { service }))])?.incident).toBe(2)
  })

  it.each([['https://[2001:db8::1]:8443/x', '2001:db8::1'], ['smtp.example:25', 'smtp.example'], ['192.0.2.7', '192.0.2.7'], ['ops@mail.example', 'mail.example'], ['a plain sentence', undefined], ['', undefined]])('take %s as the host %s', (target, host) => expect(hostOfTarget(target)).toBe(host))

  it('are said by one name and a number', () => expect([withMore('A', 0), withMore('A', 2)]).toEqual(['A', 'A and 2 more']))
})
