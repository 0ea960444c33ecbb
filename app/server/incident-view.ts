import { speakLength } from '@/core/definitions/duration'
import type { Mark } from '@/core/marks/mark'
import { listMarks, SHORTLY_BEFORE } from '@/store/marks'
import { blocksOf } from '@/core/ribbons/ribbon'
import { contrastServers } from '@/core/incidents/contrast-servers'
import { HOUR, MINUTE } from '@/core/units'
import { checkById } from '@/store/checks'
import { database } from '@/store/database'
import { listDeliveries } from '@/store/deliveries'
import { listEvents, listIncidents, listParts, type Incident, type IncidentEvent } from '@/store/incidents'
import { readRoutingWorld } from '@/store/routing'
import { nextWords } from './next-words'
import { incidentTitle } from '@/core/incidents/incident'
import { locationsOf, outside } from '@/core/places/places'
import { listLocations } from '@/store/locations'
import { listObservations, nearestEvidence } from '@/store/observations'
import { listPeople } from '@/store/people'
import { listStretches } from '@/store/states'
import { settings } from './session'

/** Everything the page of an incident shows. */
export async function incidentView(incident: Incident, now: number) {
  const { zone } = await settings()
  const end = Math.min(now, (incident.endedAt ?? incident.closedAt ?? now) + 10 * MINUTE)
  const range = { from: Math.max(incident.since - 40 * MINUTE, end - 24 * HOUR), to: end }
  const stored = await checkById(database(), incident.check)
  const places = stored ? locationsOf(stored.check.from, await listLocations(database())) : outside(await listLocations(database()))
  const until = incident.endedAt ?? incident.closedAt ?? now
  const [marks, events, stretches, observations, failed, passedBefore, deliveries, people, parts, open, routing] = await Promise.all([
    listMarks(database(), { from: incident.since - SHORTLY_BEFORE, to: until }, { check: incident.check, service: incident.serviceId }), listEvents(database(), incident.id), listStretches(database(), [incident.check], range),
    listObservations(database(), { check: incident.check, from: incident.since, to: until + 1, limit: 5000 }),
    nearestEvidence(database(), incident.check, { from: incident.since, to: until }, incident.trouble !== 'down', 'first'),
    nearestEvidence(database(), incident.check, { from: incident.since - 6 * HOUR, to: incident.since - 1 }, true, 'last'),
    listDeliveries(database(), { incident: incident.id, limit: 500 }), listPeople(database()), listParts(database(), incident.id),
    incident.closedAt === null ? listIncidents(database(), { open: true, limit: 100 }) : [], readRoutingWorld(database())
  ])
  const { listening } = routing
  const bad = ({ down: 'fail', slow: 'slow', warning: 'warn', burn: 'fail' } as const)[incident.trouble]
  const kind = bad
  return {
    parts, next: (await nextWords([incident.id])).get(incident.id),
    others: open.filter((each) => each.id !== incident.id && each.practiceUntil === null).map((each) => ({ id: each.id, name: incidentTitle({ checkName: each.checkName, trouble: each.trouble, more: each.partsOpen }) })),
    callable: [
      ...listening.rotas.map((each) => ({ value: `rota/${each.key}`, label: each.name })), ...listening.teams.map((each) => ({ value: `team/${each.key}`, label: `Everyone in ${each.name}` })),
      ...listening.people.map((each) => ({ value: `person/${each.key}`, label: each.name }))
    ],
    zone, range, stored, events: [...marks.map((mark) => markEvent(mark, incident.since)), ...events].sort((a, b) => a.at - b.at), people, failed, passedBefore,
    lines: places.map((place) => {
      const own = stretches.filter((stretch) => stretch.location === place.id && stretch.kind === kind)
      return {
        place, blocks: blocksOf(own.map((each) => ({ ...each, to: each.to ?? now })), range, 20_000, () => 1),
        notches: observations.filter((each) => each.location === place.id && each.occasion === 'again' && each.verdict === bad).map((each) => each.at)
      }
    }),
    contrast: contrastServers(observations.filter((each) => each.verdict === bad), observations.filter((each) => each.verdict !== bad)),
    waiting: deliveries.filter((delivery) => delivery.state === 'waiting' || delivery.state === 'sending').length, told: deliveries.filter((delivery) => delivery.state === 'sent').length
  }
}

/** A mark in the time before an incident, as a line of what happened. */
function markEvent(mark: Mark, since: number): IncidentEvent {
  const before = mark.at < since ? `${speakLength(since - mark.at)} before` : `${speakLength(mark.at - since)} after it began`
  return { id: -mark.id, at: mark.at, kind: 'mark', person: mark.person, title: mark.title, detail: `${mark.kind}, ${before}${mark.detail === '' ? '' : `; ${mark.detail}`}` }
}
