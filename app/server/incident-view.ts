import { blocksOf } from '@/core/ribbons/ribbon'
import { contrastServers } from '@/core/incidents/contrast-servers'
import { HOUR, MINUTE } from '@/core/units'
import { checkById } from '@/store/checks'
import { database } from '@/store/database'
import { listDeliveries } from '@/store/deliveries'
import { listEvents, type Incident } from '@/store/incidents'
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
  const [events, stretches, observations, failed, passedBefore, deliveries, people] = await Promise.all([
    listEvents(database(), incident.id), listStretches(database(), [incident.check], range),
    listObservations(database(), { check: incident.check, from: incident.since, to: until + 1, limit: 5000 }),
    nearestEvidence(database(), incident.check, { from: incident.since, to: until }, incident.trouble !== 'down', 'first'),
    nearestEvidence(database(), incident.check, { from: incident.since - 6 * HOUR, to: incident.since - 1 }, true, 'last'),
    listDeliveries(database(), { incident: incident.id, limit: 500 }), listPeople(database())
  ])
  const bad = incident.trouble === 'down' ? 'fail' : 'slow'
  const kind = bad
  return {
    zone, range, stored, events, people, failed, passedBefore,
    lines: places.map((place) => {
      const own = stretches.filter((stretch) => stretch.location === place.id && stretch.kind === kind)
      return {
        place, blocks: blocksOf(own.map((each) => ({ ...each, to: each.to ?? now })), range, 20_000, () => 1),
        notches: observations.filter((each) => each.location === place.id && each.occasion === 'again' && each.verdict === bad).map((each) => each.at)
      }
    }),
    contrast: contrastServers(observations.filter((each) => each.verdict === bad), observations.filter((each) => each.verdict !== bad)),
    counts: { bad: observations.filter((each) => each.verdict === bad).length, good: observations.filter((each) => each.verdict !== bad).length },
    waiting: deliveries.filter((delivery) => delivery.state === 'waiting' || delivery.state === 'sending').length, told: deliveries.filter((delivery) => delivery.state === 'sent').length
  }
}
