import { speakService } from '@/core/definitions/service'
import { hasWhy } from '@/core/incidents/incident'
import { draftSummary } from '@/core/incidents/summary'
import { MINUTE, SECOND } from '@/core/units'
import { database } from '@/store/database'
import { listDeliveries } from '@/store/deliveries'
import { listEvents, listParts, requireIncident } from '@/store/incidents'
import { listServices } from '@/store/world'
import { whyOf } from './find-out'
import { settings } from './session'

/** The drafted summary of an incident, in Markdown. Throws not-found. */
export async function incidentSummary(id: number, now: number): Promise<string> {
  const incident = await requireIncident(database(), id)
  const { zone } = await settings()
  const [events, parts, deliveries, services] = await Promise.all([listEvents(database(), id), listParts(database(), id), listDeliveries(database(), { incident: id, limit: 2000 }), listServices(database())])
  const stretch = { from: incident.since - SECOND, to: Math.ceil((incident.endedAt ?? incident.closedAt ?? now) / MINUTE) * MINUTE }
  const why = incident.practiceUntil === null && hasWhy(incident.trouble) ? await whyOf(incident, parts.map((each) => each.checkKey), stretch, now) : undefined
  const service = services.find((each) => each.id === incident.serviceId)
  const given = { lastPass: incident.lastPass, lastFail: incident.lastFail, endedAt: incident.endedAt, takenAt: incident.takenAt, closedAt: incident.closedAt, holder: incident.holderName }
  return draftSummary({
    id, checkName: incident.checkName, trouble: incident.trouble, sentence: incident.sentence, since: incident.since, failing: incident.failing, locations: incident.locations, openedAt: incident.openedAt, notReal: incident.notReal,
    ...(Object.fromEntries(Object.entries(given).filter(([, value]) => value !== null)) as object), ...(service ? { service: speakService(service) } : {}),
    parts: parts.map((each) => ({ name: each.checkName, why: each.partWhy ?? '' })), ...(why && why.verdict.outcome !== 'few' ? { verdict: why.words } : {}), events, messages: deliveries.filter((each) => each.state === 'sent').length
  }, zone, now)
}
