import { beginCourse } from '../../src/core/routing/course'
import { routesFor, type Subject } from '../../src/core/routing/fits'
import type { Listening } from '../../src/core/routing/reach'
import { rehearse } from '../../src/core/routing/rehearse'
import { acceptedRoute } from '../../src/core/routing/route'
import { tellDue } from '../../src/core/routing/tell'
import { acceptedRota } from '../../src/core/rotas/rota'
import { HOUR } from '../../src/core/units'
import type { Measured } from './measured'

const [ROUTES, CHANGES, PEOPLE, ROTAS] = [50, 1000, 60, 20]
const zone = 'Europe/Oslo'

const routes = Array.from({ length: ROUTES }, (_, index) => acceptedRoute({
  route: `route-${index}`, place: index + 1, when: index === ROUTES - 1 ? {} : { service: `service-${index}`, hours: index % 5 === 0 ? 'mon-fri 08:00-18:00' : 'daily 00:00-23:59' },
  then: [{ tell: `rota/rota-${index % ROTAS}`, by: ['push'] }, { after: '10m', unless: 'taken', tell: 'team/all', by: ['mail'], again: '30m' }]
}))
const people = Array.from({ length: PEOPLE }, (_, index) => ({ key: `person-${index}`, id: index + 1, name: `Person ${index}`, off: [{ from: '2026-12-24', to: '2026-12-26' }] }))
const listening: Listening = {
  zone, people, teams: [{ key: 'all', name: 'All', people: people.map((each) => each.key) }],
  rotas: Array.from({ length: ROTAS }, (_, index) => acceptedRota({ rota: `rota-${index}`, name: `Rota ${index}`, zone, layers: [{ people: people.slice(index, index + 5).map((each) => each.key), from: '2026-01-05T09:00', every: 'week' }] })),
  channels: people.flatMap(({ key, name }, index) => (['mail', 'push'] as const).map((kind, at) => ({ channel: 2 * index + at + 1, key: `${kind}-${key}`, name, kind, person: key, working: true })))
}
const subjectAt = (index: number, at: number): Subject => ({ check: `check-${index}`, kind: 'http', importance: 'normal', tags: [], service: `service-${index % (ROUTES + 10)}`, state: 'down', failing: [], at })

function middle(rounds: number, work: () => void): number {
  const took = Array.from({ length: rounds }, () => {
    const begun = performance.now()
    work()
    return performance.now() - begun
  }).sort((a, b) => a - b)
  return took[Math.floor(rounds / 2)]!
}

/** Who is told of many changes at once, and a rehearsal. */
export function benchRouting(): Measured[] {
  const at = Date.parse('2026-11-28T02:00:00Z')
  let told = 0
  const routing = middle(5, () => {
    told = 0
    for (let index = 0; index < CHANGES; index += 1) {
      const courses = routesFor(routes, subjectAt(index, at), zone).map((route) => beginCourse(route, at))
      told += tellDue(courses, { taken: false, over: false, news: 'down' }, listening, at).told.reduce((sum, each) => sum + each.receivers.length, 0)
    }
  })
  if (told !== CHANGES) throw new Error(`${told} instead of ${CHANGES} were told`)
  const rehearsed = middle(11, () => void rehearse(routes, listening, subjectAt(ROUTES + 5, at), { lasts: 24 * HOUR }))
  return [
    { what: `${CHANGES} changes of state through ${ROUTES} routes, ${ROTAS} rotas`, budget: 'at most 1000 ms', measured: `${Math.round(routing)} ms`, met: routing <= 1000 },
    { what: `rehearsal of 24 hours, ${PEOPLE} people, ${ROUTES} routes`, budget: 'at most 100 ms', measured: `${Math.round(rehearsed)} ms`, met: rehearsed <= 100 }
  ]
}
