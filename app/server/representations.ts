import type { Mark } from '@/core/marks/mark'
import { REASONS } from '@/core/reasons/reasons'
import type { Observation } from '@/core/observation'
import type { Halt, StoredCheck } from '@/store/checks'
import type { Delivery } from '@/store/deliveries'
import type { Incident, IncidentEvent } from '@/store/incidents'
import type { StoredState } from '@/store/states'
import type { StoredService } from '@/store/world'

/** A moment as RFC 3339 writes it. */
export const iso = (at: number | null | undefined) => (at == null ? null : new Date(at).toISOString())

/** A check as the API gives it: its definition as it would stand in a file, and beside it what only Hemeron knows. */
export function checkOut(stored: StoredCheck, state: StoredState | undefined) {
  return {
    definition: stored.document,
    version: stored.version,
    effective: stored.settled.document,
    origins: stored.settled.origins,
    ...(stored.broken.length > 0 ? { problems: stored.broken } : {}),
    paused: stored.paused !== null,
    pause: haltOut(stored.paused),
    muted: stored.muted !== null,
    mute: haltOut(stored.muted),
    state: state ? {
      state: state.state, since: iso(state.since), reason: state.reason, sentence: state.sentence, failing: state.failing, suspecting: state.suspecting,
      locations: state.locations, newestObservation: iso(state.newest)
    } : null
  }
}

const haltOut = (halt: Halt | null) => (halt ? { since: iso(halt.at), until: iso(halt.until), reason: halt.reason, by: halt.by } : null)

/** A service as the API gives it. */
export const serviceOut = (service: StoredService) => ({ definition: service.document, version: service.version })

/** An observation as the API gives it; times in milliseconds. */
export function observationOut(observation: Observation, locationKey: string) {
  const { at, certificateEnd, reason, ...rest } = observation
  return {
    ...rest, check: undefined, location: locationKey, at: iso(at), reason: reason ?? null,
    ...(reason ? { reasonText: (REASONS as Record<string, { short: string }>)[reason]?.short ?? reason } : {}),
    ...(certificateEnd === undefined ? {} : { certificateEnd: iso(certificateEnd) })
  }
}

export function incidentOut(incident: Incident, events?: IncidentEvent[], parts?: Incident[]) {
  return {
    id: incident.id, check: incident.checkKey, name: incident.checkName, trouble: incident.trouble, open: incident.closedAt === null, openedAt: iso(incident.openedAt),
    since: iso(incident.since), lastPass: iso(incident.lastPass), endedAt: iso(incident.endedAt), closedAt: iso(incident.closedAt), holder: incident.holderName,
    notReal: incident.notReal, reason: incident.reason, sentence: incident.sentence, failing: incident.failing, locations: incident.locations,
    partOf: incident.partOf, why: incident.partWhy, checks: 1 + incident.parts, practice: incident.practiceUntil !== null, heldOffUntil: iso(incident.heldOffUntil),
    ...(parts ? { parts: parts.map((part) => ({ id: part.id, check: part.checkKey, name: part.checkName, trouble: part.trouble, open: part.closedAt === null, since: iso(part.since), why: part.partWhy, heldBack: part.explainedBy !== null })) } : {}),
    ...(events ? { events: events.map((event) => ({ at: iso(event.at), kind: event.kind, person: event.person, title: event.title, detail: event.detail })) } : {})
  }
}

export function deliveryOut(delivery: Delivery) {
  return { ...delivery, createdAt: iso(delivery.createdAt), dueAt: iso(delivery.dueAt), sentAt: iso(delivery.sentAt) }
}

export const markAsJson = ({ id, at, kind, title, detail, service, check, person }: Mark) => ({ id, at: iso(at), kind, title, detail, service, check, person })
