import { fromLocal, readLocal } from '../time/zoned'
import { DAY, HOUR, MINUTE, type Instant } from '../units'
import { advance, beginCourse, callIn, escalate, nextDue, type Course } from './course'
import { routesFor, type Subject } from './fits'
import { compareRoutes, speakShifts } from './compare-orders'
import { findGaps } from './gaps'
import type { Means } from './means'
import { reach, type Listening } from './reach'
import { rehearse } from './rehearse'
import { acceptedRoute, type Route } from './route'
import { readRouting, type RoutingDocument } from './routing-world'
import { tellDue } from './tell'
import { unreachedHours } from './unreached'

const zone = 'Europe/Oslo'
const at = (local: string): Instant => fromLocal(readLocal(local)!, zone)
const NIGHT = at('2026-11-28T03:00')

const documents: RoutingDocument[] = [
  { kind: 'team', key: 'ticketing', document: { team: 'ticketing', name: 'Ticketing', people: ['ines', 'mael'] } },
  { kind: 'team', key: 'empty', document: { team: 'empty', name: 'Empty', people: [] } },
  { kind: 'rota', key: 'ticketing', document: { rota: 'ticketing', name: 'Ticketing on call', zone, layers: [{ people: ['mael', 'ines'], from: '2026-11-02T08:00', every: 'week' }] } },
  { kind: 'rota', key: 'office', document: { rota: 'office', name: 'Office', zone, layers: [{ people: ['tomas'], from: '2026-11-02T08:00', every: 'week', hours: 'mon-fri 08:00-16:00' }] } },
  { kind: 'route', key: 'vital', document: { route: 'vital', place: 1, when: { importance: 'vital', state: 'down' }, urgent: true, then: [
    { tell: 'rota/ticketing', by: ['push'] }, { after: '10m', unless: 'taken', tell: 'person/tomas', by: ['push'] }, { after: '20m', unless: 'taken', tell: 'team/ticketing', by: ['mail'], again: '30m' }] } },
  { kind: 'route', key: 'log', document: { route: 'log', place: 2, goOn: true, then: [{ tell: 'channel/log' }] } },
  { kind: 'route', key: 'lasting', document: { route: 'lasting', place: 3, when: { service: 'harbour', state: ['down', 'slow'] }, then: [{ after: '15m', tell: 'person/tomas', by: ['mail'] }] } },
  { kind: 'route', key: 'rest', document: { route: 'rest', place: 4, then: [{ tell: 'rota/office' }] } }
]
const people = new Set(['ines', 'mael', 'tomas'])
const channels = new Set(['log'])
const world = (() => {
  const read = readRouting(documents, people, channels)
  if ('problems' in read) throw new Error(JSON.stringify(read.problems))
  return read.world
})()
const listening: Listening = {
  zone, teams: world.teams, rotas: world.rotas,
  people: [{ key: 'ines', id: 1, name: 'Ines', off: [] }, { key: 'mael', id: 2, name: 'Mael', off: [{ from: '2026-11-28', to: '2026-11-29' }] }, { key: 'tomas', id: 3, name: 'Tomas', off: [] }],
  channels: [
    { channel: 11, key: 'm1', name: 'Ines by mail', kind: 'mail', person: 'ines', working: true }, { channel: 12, key: 'p1', name: 'Ines by push', kind: 'push', person: 'ines', working: true },
    { channel: 21, key: 'm2', name: 'Mael by mail', kind: 'mail', person: 'mael', working: true }, { channel: 31, key: 'm3', name: 'Tomas by mail', kind: 'mail', person: 'tomas', working: true },
    { channel: 41, key: 'log', name: 'Log', kind: 'webhook', working: true }
  ]
}
const subject: Subject = { check: 'sailings', kind: 'http', importance: 'vital', tags: [], service: 'tickets', stage: 'production', state: 'down', failing: [{ key: 'bergen', network: 'Nordvik Fibre' }], at: NIGHT }

describe('which routes tell', () => {
  const keys = (change: Partial<Subject>) => routesFor(world.routes, { ...subject, ...change }, zone).map((route) => route.key)
  it('is decided by the first that fits; those that go on tell beside it', () => {
    expect(keys({})).toEqual(['vital'])
    expect(keys({ importance: 'normal', service: 'harbour' })).toEqual(['log', 'lasting'])
    expect(keys({ importance: 'normal' })).toEqual(['log', 'rest'])
    expect(keys({ state: 'slow' })).toEqual(['log', 'rest'])
  })
  it('asks for hours, places and networks', () => {
    const route = (when: object) => [acceptedRoute({ route: 'own', place: 1, when, then: [{ tell: 'everyone' }] })]
    const first = (when: object) => routesFor(route(when), subject, zone)[0]!.key
    expect(first({ hours: 'mon-fri 08:00-16:00' })).toBe('everyone')
    expect(first({ hours: 'sat,sun 00:00-06:00' })).toBe('own')
    expect(first({ places: 2 })).toBe('everyone')
    expect(first({ network: ['Other', 'Nordvik Fibre'] })).toBe('own')
    expect(first({ location: 'bergen', client: 'skarvoy' })).toBe('everyone')
  })
  it('is everyone when there is no route at all', () => {
    expect(routesFor([], subject, zone).map((route) => route.key)).toEqual(['everyone'])
  })
})

describe('what is no outage', () => {
  const own = (when: object, more: object = {}) => acceptedRoute({ route: 'own', place: 1, when, then: [{ tell: 'person/ines', by: ['mail'] }], ...more })
  it('is told only where a route names it, and never to everyone', () => {
    const keys = (state: Subject['state'], routes: Route[]) => routesFor(routes, { ...subject, state }, zone).map((route) => route.key)
    expect(keys('warning', world.routes)).toEqual([])
    expect(keys('burn', [own({ state: ['burn', 'warning'] })])).toEqual(['own'])
    expect(keys('down', [own({ state: 'warning' })])).toEqual(['everyone'])
  })
  it('does not shadow a route of outages', () => {
    const [warnings, all] = [own({ state: 'warning' }), { ...own({}), key: 'all', place: 2 }]
    expect(findGaps([warnings, all], listening, [{ ...subject, name: 'Sailings' }], NIGHT, String).map((each) => each.kind)).not.toContain('never-asked')
    expect(findGaps([all, { ...warnings, place: 3 }], listening, [{ ...subject, name: 'Sailings' }], NIGHT, String).map((each) => each.kind)).not.toContain('never-asked')
    expect(findGaps([all, { ...own({ state: 'slow' }), place: 3 }], listening, [{ ...subject, name: 'Sailings' }], NIGHT, String).map((each) => each.kind)).toContain('never-asked')
  })
})

describe('a route that waits for a length', () => {
  const lasting = acceptedRoute({ route: 'long', place: 1, when: { lasting: '15m' }, then: [{ tell: 'person/tomas', by: ['mail'] }] })
  it('leaves the beginning to the routes below, and tells when it has lasted', () => {
    const steps = rehearse([lasting, ...world.routes.map((each) => ({ ...each, place: each.place + 1 }))], listening, subject, { lasts: HOUR }).steps
    expect(steps.filter((each) => each.route === 'long').map((each) => each.at)).toEqual([NIGHT + 15 * MINUTE])
    expect(steps[0]).toMatchObject({ route: 'vital', at: NIGHT })
  })
  it('tells nothing of what is over before', () => expect(rehearse([lasting], listening, subject, { lasts: 14 * MINUTE }).steps.map((each) => each.route)).toEqual(['everyone']))
})

describe('a number', () => {
  const disk = acceptedRoute({ route: 'disk', place: 1, when: { metric: ['disk.used', 'broker_queue'] }, then: [{ tell: 'person/ines' }] })
  const first = (metrics: string[] | undefined) => routesFor([disk], { ...subject, metrics }, zone)[0]!.key
  it('is asked for by its name, with or without its labels', () => expect([first(['disk.used']), first(['cpu.busy', 'broker_queue{queue="tickets"}']), first(['cpu.busy']), first([]), first(undefined)]).toEqual(['disk', 'disk', 'everyone', 'everyone', 'everyone']))
})

describe('working hours', () => {
  it('are asked for by a step; who said none works always', () => {
    const within = (working: string[] | undefined) => reach({ ...listening, people: listening.people.map((each) => ({ ...each, preferences: working ? { working } : {} })) }, { tell: ['person/ines', 'channel/log'], by: ['mail', 'webhook'], workingOnly: true }, NIGHT, { news: 'down', urgent: true })
    expect(within(['mon-fri 08:00-16:00'])).toMatchObject({ receivers: [{ name: 'Log' }], passedOver: [{ name: 'Ines', why: 'does not work at this hour' }] })
    expect(within(['daily 22:00-06:00']).receivers.map((each) => each.name)).toEqual(['Ines', 'Log'])
    expect(within(undefined).receivers.map((each) => each.name)).toEqual(['Ines', 'Log'])
  })
})

describe('a rehearsal', () => {
  const said = (change: Partial<Subject> = {}, options: { takenAfter?: number; lasts?: number } = {}) =>
    rehearse(world.routes, listening, { ...subject, ...change }, { lasts: HOUR + MINUTE, ...options }).steps
      .map((step) => `${(step.at - (change.at ?? NIGHT)) / MINUTE} ${step.left ?? step.receivers.map((each) => `${each.name} ${each.means}`).join(', ')}${step.passedOver.map((each) => ` (${each.name} ${each.why})`).join('')}`)
  it('gives each step with names, means, and who is away', () => {
    expect(said()).toEqual(['0 Ines push', '10 Tomas mail', '30 Ines mail (Mael is away)', '60 Ines mail (Mael is away)'])
  })
  it('leaves steps out that wait for a reaction when somebody took it', () => {
    expect(said({}, { takenAfter: 15 * MINUTE })).toEqual(['0 Ines push', '10 Tomas mail', '30 taken'])
  })
  it('goes on at once from a step that reaches nobody', () => {
    expect(said({ at: at('2026-11-17T03:00') })[0]).toBe('0 Mael mail')
    const away = { ...listening, people: listening.people.map((each) => (each.key === 'ines' ? { ...each, off: [{ from: '2026-11-28', to: '2026-11-28' }] } : each)) }
    expect(rehearse(world.routes, away, subject, { lasts: MINUTE }).steps.map((step) => step.receivers.map((each) => each.name))).toEqual([[], ['Tomas']])
  })
  it('tells everyone when the last step of a route reached nobody either', () => {
    expect(said({ importance: 'low', at: at('2026-11-29T12:00') })).toEqual(['0 Log webhook', '0 Ines mail, Ines push, Tomas mail (Office has nobody on call)'])
  })
  it('keeps a short blip silent when the first step waits', () => {
    expect(said({ importance: 'normal', service: 'harbour' }, { lasts: 14 * MINUTE })).toEqual(['0 Log webhook'])
  })
})

describe('the clock of a course', () => {
  const vital = world.routes[0]!
  const run = (moments: number[], facts = () => ({ taken: false, over: false }), route: Route = vital) => {
    let course: Course = beginCourse(route, 0)
    return moments.flatMap((now) => {
      // a restart keeps what was stored and nothing else
      course = JSON.parse(JSON.stringify(course)) as Course
      const done = advance(course, facts(), now)
      course = done.course
      return done.due.map((due) => `${due.step}.${due.round}`)
    })
  }
  const random = (seed: number) => () => ((seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648) / 2_147_483_648)

  it('loses no step and doubles none, however often it is asked and wherever the clock jumps', () => {
    for (let seed = 1; seed <= 200; seed += 1) {
      const next = random(seed)
      const moments: number[] = []
      for (let now = 0; now < 3 * HOUR; now += next() * 2 * MINUTE) {
        moments.push(now)
        if (next() < 0.2) moments.push(now, now - next() * HOUR)
      }
      const due = run(moments)
      expect(new Set(due).size).toBe(due.length)
      expect(due.slice(0, 3)).toEqual(['0.0', '1.0', '2.0'])
      expect(due.filter((each) => each.startsWith('2.')).length).toBeGreaterThanOrEqual(5)
    }
  })
  it('makes up for an absence with each step once, and gives those who hear late their time to react', () => {
    expect(run([0, 5 * HOUR])).toEqual(['0.0', '1.0'])
    expect(run([0, 5 * HOUR, 5 * HOUR + 20 * MINUTE])).toEqual(['0.0', '1.0', '2.0'])
  })
  it('repeats once after an absence, not once for every round that was missed', () => {
    const due = run([0, 10 * MINUTE, 30 * MINUTE, 12 * HOUR])
    expect(due).toEqual(['0.0', '1.0', '2.0', '2.1'])
  })
  it('stops when it is over', () => {
    expect(nextDue(advance(beginCourse(vital, 0), { taken: false, over: true }, DAY).course)).toBeUndefined()
    expect(run([0, DAY], () => ({ taken: false, over: true }))).toEqual([])
  })
  it('goes on with what waits for a reaction when the holder gives it back', () => {
    let taken = true
    const moments = [0, 10 * MINUTE, 31 * MINUTE, 61 * MINUTE]
    const due = run(moments, () => ({ taken, over: false }))
    expect(due).toEqual(['0.0', '1.0', '2.0'])
    taken = false
    expect(run(moments, () => ({ taken, over: false }))).toEqual(['0.0', '1.0', '2.0', '2.1'])
  })
  it('tells a channel once when two routes name it at the same moment', () => {
    const both = [acceptedRoute({ route: 'a', place: 1, then: [{ tell: 'person/ines' }] }), acceptedRoute({ route: 'b', place: 2, then: [{ tell: 'everyone' }] })]
    const { told } = tellDue(both.map((route) => beginCourse(route, NIGHT)), { taken: false, over: false, news: 'down' }, listening, NIGHT)
    const spoken = told.flatMap((each) => each.receivers.map((receiver) => receiver.channel))
    expect([...spoken].sort()).toEqual([11, 12, 31, 41])
    const twice = tellDue([both[0]!, { ...both[0]!, key: 'c' }].map((route) => beginCourse(route, NIGHT)), { taken: false, over: false, news: 'down' }, listening, NIGHT).told
    expect(twice.map((each) => [each.receivers.length, each.isKnown])).toEqual([[2, false], [0, true]])
  })
})

describe('gaps', () => {
  const speak = (moment: Instant) => new Date(moment).toISOString().slice(0, 16)
  it('are found in rotas, routes and people', () => {
    const more = [...world.routes, acceptedRoute({ route: 'late', place: 9, when: { state: 'down' }, then: [{ tell: 'person/ines', by: ['mail'] }, { tell: 'person/ines', unless: 'taken', after: '5m' }] })]
    const listeningTo = { ...listening, people: [...listening.people, { key: 'ada', id: 9, name: 'Ada', off: [] }] }
    const found = findGaps(more, listeningTo, [{ ...subject, name: 'Sailings API' }], NIGHT, speak)
    expect(found.map((gap) => `${gap.kind} ${gap.subject}`)).toEqual(['never-asked late', 'nobody-on-call office', 'same-person late', 'no-channel ada'])
    expect(found[0]!.sentence).toBe('Route 5 is never asked: route 4 takes everything it could take.')
  })
  it('name checks that no route catches, and someone on call who is away', () => {
    const only = world.routes.slice(0, 1)
    const away = { ...listening, people: listening.people.map((each) => ({ ...each, off: [{ from: '2026-11-30', to: '2026-12-02' }] })) }
    const found = findGaps(only, away, [{ ...subject, importance: 'low', name: 'Tides' }], NIGHT, speak)
    expect(found.map((gap) => gap.kind)).toEqual(['no-route', 'away-on-call'])
    expect(found[0]!.sentence).toBe('No route catches Tides: everyone would be told.')
  })
})

describe('what a person wishes', () => {
  const wish = (preferences: object): Listening => ({ ...listening, people: listening.people.map((each) => (each.key === 'ines' ? { ...each, preferences } : each)) })
  const told = (preferences: object, moment: Instant, { by, urgent = false, news = 'down' as const }: { by?: Means[]; urgent?: boolean; news?: 'down' | 'slow' } = {}) => reach(wish(preferences), { tell: ['person/ines'], ...(by ? { by } : {}) }, moment, { news, urgent })
  it('decides the means where the route leaves them open', () => {
    expect(told({ by: { down: ['push'] } }, NIGHT).receivers.map((each) => each.means)).toEqual(['push'])
    expect(told({ by: { down: ['push'] } }, NIGHT, { by: ['mail'] }).receivers.map((each) => each.means)).toEqual(['mail'])
    expect(told({ by: { slow: [] } }, NIGHT, { news: 'slow' })).toEqual({ receivers: [], passedOver: [{ name: 'Ines', why: 'does not want news of what is slow' }] })
    expect(told({ by: { down: [], urgent: ['mail'] } }, NIGHT, { urgent: true }).receivers.map((each) => each.means)).toEqual(['mail'])
    // a means they do not have is no reason for silence
    expect(told({ by: { down: ['sms'] } }, NIGHT).receivers).toHaveLength(2)
  })
  it('holds what is not urgent until quiet hours end, on their own clock, across the change of clocks', () => {
    const quiet = { quiet: ['daily 22:00-07:00'] }
    expect(new Set(told(quiet, NIGHT).receivers.map((each) => each.heldUntil))).toEqual(new Set([at('2026-11-28T07:00')]))
    expect(told(quiet, NIGHT, { urgent: true }).receivers.every((each) => each.heldUntil === undefined && each.passesQuiet)).toBe(true)
    expect(told(quiet, at('2026-11-28T12:00')).receivers.every((each) => each.heldUntil === undefined)).toBe(true)
    expect(told({ ...quiet, zone: 'America/Santiago' }, NIGHT).receivers[0]!.heldUntil).toBe(fromLocal(readLocal('2026-11-28T07:00')!, 'America/Santiago'))
    // clocks go back on 2026-10-25 at 03:00: the night has an hour more
    expect(told(quiet, at('2026-10-24T23:00')).receivers[0]!.heldUntil! - at('2026-10-24T23:00')).toBe(9 * HOUR)
  })
  it('passes over channels that nobody has confirmed, and says so', () => {
    const unconfirmed: Listening = { ...listening, channels: listening.channels.map((each) => (each.person === 'ines' ? { ...each, unconfirmed: true } : each)) }
    expect(reach(unconfirmed, { tell: ['person/ines'] }, NIGHT, { news: 'down', urgent: true }).passedOver).toEqual([{ name: 'Ines', why: 'has not confirmed any channel' }])
    expect(findGaps([acceptedRoute({ route: 'a', place: 1, then: [{ tell: 'person/ines', by: ['push'] }] })], unconfirmed, [], NIGHT, String).map((gap) => gap.sentence)).toEqual([
      'Route 1 tells Ines by push, which is not confirmed.', 'Ines has no channel that works.'])
  })
  it('leaves hours in which nobody would be woken, and these are found', () => {
    const route = [acceptedRoute({ route: 'a', place: 1, then: [{ tell: ['person/ines', 'channel/log'] }] })]
    const [found, ...others] = unreachedHours(route, wish({ quiet: ['sat,sun 00:00-06:00'] }), [{ ...subject, name: 'Sailings API' }, { ...subject, check: 'b', name: 'Tides' }], NIGHT)
    expect(others).toEqual([])
    expect(found).toEqual({ checks: ['Sailings API', 'Tides'], hours: [{ from: NIGHT, to: at('2026-11-28T06:00') }, { from: at('2026-11-29T00:00'), to: at('2026-11-29T06:00') }, { from: at('2026-12-05T00:00'), to: at('2026-12-05T03:00') }] })
    expect(unreachedHours([{ ...route[0]!, urgent: true }], wish({ quiet: ['daily 00:00-23:59'] }), [{ ...subject, name: 'Sailings API' }], NIGHT)).toEqual([])
  })
  it('finds channels that have lost their last messages, when a route needs them', () => {
    const route = [acceptedRoute({ route: 'a', place: 1, then: [{ tell: 'person/ines', by: ['mail'] }] })]
    expect(findGaps(route, listening, [], NIGHT, String, new Map([[11, 3], [12, 9], [41, 9]])).map((gap) => gap.sentence)).toEqual(['Ines by mail has lost the last 3 messages.'])
  })
})

describe('a holder', () => {
  const two = acceptedRoute({ route: 'a', place: 1, then: [{ tell: 'person/ines' }, { tell: 'person/tomas', after: '10m', unless: 'taken' }] })
  const begun = advance(beginCourse(two, 0), { taken: false, over: false }, 0).course
  it('holds off what is to come, once, and not what somebody asks for', () => {
    const held = advance(begun, { taken: true, over: false, heldOffUntil: HOUR }, 20 * MINUTE)
    expect([held.due, nextDue(held.course)]).toEqual([[], HOUR])
    expect(advance(escalate(held.course, 21 * MINUTE), { taken: true, over: false, heldOffUntil: HOUR }, 21 * MINUTE).due.map((each) => [each.step, each.left])).toEqual([[1, undefined]])
    expect(advance(held.course, { taken: false, over: false }, HOUR).due.map((each) => each.step)).toEqual([1])
  })
  it('calls others in beside the routes', () => {
    const course = callIn('called-in-1', 'Called in by Ines', ['person/tomas'], 0)
    expect(tellDue([course], { taken: true, over: false, heldOffUntil: HOUR, news: 'down' }, listening, 0).told.map((each) => each.receivers.map((receiver) => receiver.name))).toEqual([['Tomas']])
  })
})

describe('routing with mistakes', () => {
  const problems = (...changed: RoutingDocument[]) => {
    const read = readRouting([...documents.filter((each) => !changed.some((other) => other.kind === each.kind && other.key === each.key)), ...changed], people, channels)
    return 'problems' in read ? read.problems.map((each) => `${each.subject} ${each.path}: ${each.expected}`) : []
  }
  const route = (then: object[], more: object = {}): RoutingDocument => ({ kind: 'route', key: 'own', document: { route: 'own', place: 7, then, ...more } })
  it('is refused with the document and the place of the mistake', () => {
    expect(problems(route([]))).toEqual(['route own then: at least one step'])
    expect(problems(route([{ tell: 'team/empty' }]))).toEqual(['route own then[0].tell: a team with at least one person'])
    expect(problems(route([{ tell: ['rota/none', 'person/ines'] }]))).toEqual(['route own then[0].tell: the key of a rota that exists'])
    expect(problems(route([{ tell: 'ines' }]))).toEqual(['route own then[0].tell: rota/…, team/…, person/…, channel/… or everyone'])
    expect(problems(route([{ tell: 'everyone', by: ['pigeon'] }]))).toEqual(['route own then[0].by: one or more of push, mail, sms, voice, chat, webhook'])
    expect(problems(route([{ tell: 'everyone', after: 'soon' }]))).toEqual(['route own then[0].after: a duration from 0s to 7d, such as 30s or 5m'])
    expect(problems(route([{ tell: 'everyone' }], { when: { importance: 'huge' } }))).toEqual(['route own when.importance: one or more of low, normal, high, vital'])
  })
  it('includes emptying a team that a route tells', () => {
    expect(problems({ kind: 'team', key: 'ticketing', document: { team: 'ticketing', name: 'Ticketing', people: [] } })).toEqual(['route vital then[2].tell: a team with at least one person'])
  })
})

describe('another order of routes', () => {
  const of = (key: string, place: number, when: object, tell: string): Route => acceptedRoute({ route: key, place, when, then: [{ tell }] })
  it('is said by whom it gives more and whom it gives less', () => {
    const [first, second] = [of('vital', 1, { importance: 'vital' }, 'person/ines'), of('tagged', 2, { tag: 'booking' }, 'person/tomas')]
    const subjects = [{ ...subject, tags: ['booking'] }, { ...subject, tags: [] }, { ...subject, importance: 'low' as const, tags: ['booking'] }]
    const shifted = compareRoutes([first, second], [{ ...first, place: 2 }, { ...second, place: 1 }], listening, subjects)
    expect(shifted).toEqual([{ name: 'Ines', gains: 0, loses: 1 }, { name: 'Tomas', gains: 1, loses: 0 }])
    expect(speakShifts(shifted)).toBe('Would hear: Ines of 1 fewer; Tomas of 1 more.')
    expect(speakShifts(compareRoutes([first, second], [first, second], listening, subjects))).toBe('Nobody would be told of more or of fewer checks.')
  })
  it('leaves contacts outside to the routes that name them', () => {
    const outside: Listening = { ...listening, people: listening.people.map((each) => (each.key === 'tomas' ? { ...each, isOutside: true } : each)) }
    const names = (tell: string) => reach(outside, { tell: [tell] }, NIGHT, { news: 'down', urgent: true }).receivers.map((each) => each.name)
    expect(names('everyone')).not.toContain('Tomas')
    expect(names('person/tomas')).toEqual(['Tomas'])
  })
})
