import { acceptedRoute, type RouteDocument } from '../routing/route'
import { changeRoute, countByRoute, readMatch, routeSentence, speakMatch, type RoutingNames } from './route-sentence'
import { plainText } from './sentence'

const names: RoutingNames = {
  tell: new Map([['rota/ticketing', 'Ticketing on call'], ['rota/duty', 'Duty lead'], ['team/platform', 'everyone in Platform'], ['person/ines', 'Ines Falk']]),
  services: new Map([['harbour-data', 'Harbour data'], ['checkout', 'Checkout']]), clients: new Map([['skarvoy', 'Skarvoy Council']]), checks: new Map([['tides', 'Tide levels']]),
  locations: new Map([['bergen', 'Bergen']]), stages: ['production', 'staging'], tags: ['host']
}
const route: RouteDocument = {
  route: 'vital', place: 1, when: { importance: 'vital', state: 'down' }, urgent: true,
  then: [{ tell: 'rota/ticketing', by: ['push', 'mail'] }, { after: '10m', unless: 'taken', tell: 'rota/duty', by: ['push'] }, { after: '20m', tell: 'team/platform', again: '30m' }]
}

describe('the sentence of a route', () => {
  it('says what will happen', () => {
    expect(plainText(routeSentence(route, names))).toBe('When anything vital goes down, tell Ticketing on call by push and mail at once; if nobody takes it in 10 min, tell Duty lead by push; '
      + 'if it lasts 20 min longer, tell everyone in Platform by every means, again every 30 min. Urgent.')
  })
  it('says what is unusual, and counts what each route takes', () => {
    const log: RouteDocument = { route: 'log', place: 2, then: [{ tell: 'channel/log', after: '15m' }], goOn: true, recovery: 'nobody' }
    expect(plainText(routeSentence(log, names))).toBe('When anything goes down or slow, then tell channel/log after 15 min. Nobody hears that it is over. Routes below are asked too.')
    const routes = [acceptedRoute({ ...route, when: { importance: 'vital', hours: 'mon-fri 08:00-18:00' } }), acceptedRoute({ ...log, goOn: false })]
    expect([...countByRoute(routes, [1, 2, 3], (all, number) => [all[number > 2 && all[0]!.when.hours === undefined ? 0 : 1]!])]).toEqual([['vital', 1], ['log', 2]])
  })
  it('reads every part back to the same route', () => {
    const rest: RouteDocument = { route: 'rest', place: 9, then: [{ tell: ['person/ines', 'everyone'], after: '15m' }], goOn: true, recovery: 'nobody', when: { service: ['harbour-data', 'checkout'], places: 3, hours: 'mon-fri 08:00-18:00' } }
    const warnings: RouteDocument = { route: 'warnings', place: 3, when: { state: ['warning', 'burn'], metric: 'disk.used', lasting: '15m' }, notTwiceIn: '6h', then: [{ tell: 'person/ines', during: 'working-hours' }] }
    expect(plainText(routeSentence(warnings, names))).toBe('When anything, whose number disk.used, once it has lasted 15 min goes into warning or into fast burn, tell Ines Falk by every means at once, in their working hours only. Never twice in 6 h.')
    for (const document of [route, rest, warnings]) {
      for (const piece of routeSentence(document, names)) {
        if (piece.part === undefined) continue
        const changed = changeRoute(document, names, piece.part, piece.text)
        expect('document' in changed && plainText(routeSentence(changed.document, names))).toBe(plainText(routeSentence(document, names)))
      }
    }
  })
  it('says every demand and reads it back', () => {
    const whens: Record<string, unknown>[] = [{}, { metric: ['disk.used', 'memory.used'], lasting: '15m' }, { importance: ['high', 'vital'], tag: 'host' }, { stage: 'staging', client: 'skarvoy', kind: ['http', 'ping'] }, { check: 'tides', location: 'bergen', network: 'Nordvik Fibre', places: 2, hours: ['sat,sun 22:00-04:00', 'mon-fri 08:00-16:00'] }]
    for (const when of whens) expect(readMatch(speakMatch(when, names), names)).toEqual({ when })
  })
  it('changes a part, by names or keys, in any case', () => {
    expect(changeRoute(route, names, 'when', 'vital, in harbour data')).toMatchObject({ document: { when: { importance: 'vital', service: 'harbour-data', state: 'down' } } })
    expect(changeRoute(route, names, 'then[1].tell', 'ines falk and rota/duty')).toMatchObject({ document: { then: [{}, { tell: ['person/ines', 'rota/duty'] }, {}] } })
    expect(changeRoute(route, names, 'then[1].after', '5 minutes')).toMatchObject({ document: { then: [{}, { after: '5m' }, {}] } })
    expect(changeRoute(route, names, 'when', 'anything')).toMatchObject({ document: { when: { state: 'down' } } })
  })
  it('says what was expected', () => {
    const expected = (part: string, text: string) => { const read = changeRoute(route, names, part, text); return 'expected' in read ? read.expected : undefined }
    expect(expected('when', 'in Nowhere')).toBe('in something that exists, not “Nowhere”')
    expect(expected('when', 'whatever')).toMatch(/^anything, vital/)
    expect(expected('when.state', 'broken')).toBe('down, slow, into warning, into fast burn, or several of these with or')
    expect(expected('then[0].tell', 'nobody')).toMatch(/^one or more of Ticketing on call/)
    expect(expected('then[0].by', 'pigeon')).toMatch(/^every means, or/)
    expect(expected('then[0].after', 'soon')).toMatch(/^at once/)
    expect(expected('then[0].again', 'often')).toMatch(/^once, or/)
  })
})
