import { readTakeToken } from '@/core/messages/take-link'
import { database } from '@/store/database'
import { linkedDelivery, spendLink, type LinkedDelivery } from '@/store/delivering'
import { actOnIncident } from '@/store/incident-acts'
import { requireIncident, type Incident } from '@/store/incidents'
import { listPeople, roleReaches, type Person } from '@/store/people'
import { settings } from './session'

/** What a link from a message leads to, or why it does not count. */
export type Linked = { wrong: string } | { delivery: LinkedDelivery; person: Person; incident: Incident }

/** Reads the link of a message. */
export async function readLink(token: string, now: number): Promise<Linked> {
  const read = readTakeToken(token, (await settings()).linkKey, now)
  if ('wrong' in read) return { wrong: read.wrong === 'too-late' ? 'This link counted for a day, and that is over.' : 'This link is not one of ours.' }
  const delivery = await linkedDelivery(database(), read.delivery)
  const person = (await listPeople(database())).find((each) => each.id === delivery?.person)
  const told = delivery?.incident == null ? undefined : await requireIncident(database(), delivery.incident).catch(() => undefined)
  if (!delivery || !person || !told) return { wrong: 'What this link was about is gone.' }
  return { delivery, person, incident: told.partOf === null ? told : await requireIncident(database(), told.partOf) }
}

/** Takes the incident of a link as the person it was sent to. Gives a sentence for what happened. */
export async function takeByLink(linked: Exclude<Linked, { wrong: string }>, now: number): Promise<string> {
  const { delivery, person, incident } = linked
  if (!roleReaches(person, 'responder')) return `${person.name} may look, but not take incidents.`
  if (incident.closedAt !== null) return 'It is over already.'
  if (incident.holder === person.id) return 'You hold it already.'
  if (!(await spendLink(database(), delivery.id, now))) return incident.holderName === null ? 'This link was used before.' : `This link was used before. ${incident.holderName} holds it.`
  await actOnIncident(database(), incident.id, 'take', person, {}, now)
  return 'You hold it now.'
}
