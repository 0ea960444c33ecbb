import type { Pool } from 'mysql2/promise'
import { FOLLOW_UP_MOST, followUps } from '../core/incidents/follow-ups'
import { actProblem, type IncidentAct } from '../core/incidents/incident'
import { HemeronError } from '../core/problems'
import { callIn, escalate, nextDue } from '../core/routing/course'
import { DAY, MINUTE, type Instant } from '../core/units'
import { change, row, transaction, type Queryable } from './database'
import { addEvent, endIncident, forgetFacets, joinIncident, listEvents, partIncident, requireIncident, type Incident } from './incidents'
import { note as noteLive } from './live'
import { audit, type Person } from './people'
import { coursesOf, readRoutingWorld, storeCourses } from './routing'

/** What an act needs besides the incident. */
export interface ActDetails {
  /** The number of the person it is handed to. */
  to?: number
  text?: string
  /** Whom to call in: `person/…`, `team/…`, `rota/…`. */
  tell?: string[]
  /** Until when it is held off. */
  until?: Instant
  /** The incident to join. */
  into?: number
}

type Act = (on: Queryable, incident: Incident, person: Person, given: ActDetails & { text: string }, now: Instant) => Promise<void>

const wrong = (path: string, found: string, expected: string) => new HemeronError('bad-document', undefined, [{ path, found, expected }])

const closing = (kind: 'not-real' | 'closed', words: string): Act => async (on, incident, person, { text }, now) => {
  const isReal = kind === 'closed' && !incident.notReal
  await change(on, 'UPDATE incident SET closed_at = COALESCE(closed_at, ?), closed_by = COALESCE(closed_by, ?), not_real = ? WHERE id = ? OR (part_of = ? AND closed_at IS NULL)', [now, person.id, isReal ? 0 : 1, incident.id, incident.id])
  await forgetFacets(on, [incident.id])
  await addEvent(on, incident.id, { at: now, kind, person: person.id, title: `${person.name} ${words}`, detail: text })
}

const turning = (kind: 'follow-up-done' | 'follow-up-open', words: string): Act => async (on, incident, person, { text }, now) => {
  const known = followUps(await listEvents(on, incident.id)).find((each) => each.text === text)
  if (!known) throw wrong('text', `"${text.slice(0, 100)}"`, 'the words of a follow-up of the incident')
  if (known.done === (kind === 'follow-up-done')) throw new HemeronError('wrong-state', known.done ? 'It is done already.' : 'It is open already.')
  await addEvent(on, incident.id, { at: now, kind, person: person.id, title: `${person.name} ${words}`, detail: text })
}

const ACTS: Record<IncidentAct, Act> = {
  take: async (on, incident, person, _, now) => {
    await change(on, 'UPDATE incident SET holder_id = ?, taken_at = COALESCE(taken_at, ?) WHERE id = ?', [person.id, now, incident.id])
    await addEvent(on, incident.id, { at: now, kind: 'taken', person: person.id, title: `${person.name} took it`, ...(incident.holderName ? { detail: `from ${incident.holderName}` } : {}) })
  },
  'hand-over': async (on, incident, person, { to, text }, now) => {
    const next = await row<{ name: string }>(on, 'SELECT name FROM person WHERE id = ?', [to ?? 0])
    if (!next) throw wrong('to', String(to ?? 'nothing'), 'the number of a person')
    await change(on, 'UPDATE incident SET holder_id = ?, taken_at = COALESCE(taken_at, ?) WHERE id = ?', [to, now, incident.id])
    await addEvent(on, incident.id, { at: now, kind: 'handed-over', person: person.id, title: `${person.name} handed it to ${next.name}`, detail: text })
  },
  note: async (on, incident, person, { text }, now) => {
    if (text === '' || text.length > 4000) throw wrong('text', `${text.length} characters`, '1 to 4000 characters')
    await addEvent(on, incident.id, { at: now, kind: 'note', person: person.id, title: person.name, detail: text })
  },
  'follow-up': async (on, incident, person, { text }, now) => {
    if (text === '' || text.length > FOLLOW_UP_MOST || text.includes('\n')) throw wrong('text', `${text.length} characters`, `one line of 1 to ${FOLLOW_UP_MOST} characters`)
    if (followUps(await listEvents(on, incident.id)).some((each) => each.text === text)) throw wrong('text', `"${text.slice(0, 100)}"`, 'a follow-up that is not there already')
    await addEvent(on, incident.id, { at: now, kind: 'follow-up', person: person.id, title: `${person.name} added a follow-up`, detail: text })
  },
  'follow-up-done': turning('follow-up-done', 'has done a follow-up'),
  'follow-up-open': turning('follow-up-open', 'opened a follow-up again'),
  'not-real': closing('not-real', 'marked it as not real'),
  close: async (on, incident, person, given, now) => {
    // the engine ends a practice outage, and tells those who were told of it
    if (incident.practiceUntil !== null) await change(on, 'UPDATE incident SET practice_until = ? WHERE id = ?', [now, incident.id])
    else await closing('closed', 'closed it')(on, incident, person, given, now)
  },
  'hold-off': async (on, incident, person, { until, text }, now) => {
    if (until === undefined || until < now + MINUTE / 2 || until > now + 7 * DAY) throw wrong('until', until === undefined ? 'nothing' : new Date(until).toISOString(), 'a moment from half a minute to 7 days ahead')
    await change(on, 'UPDATE incident SET held_off_until = ? WHERE id = ?', [until, incident.id])
    await addEvent(on, incident.id, { at: now, kind: 'held-off', person: person.id, title: `${person.name} holds it off for ${Math.round((until - now) / MINUTE)} min`, detail: text === '' ? 'nobody else is told before, unless it becomes worse' : text })
  },
  escalate: async (on, incident, person, { text }, now) => {
    const courses = await coursesOf(on, incident.id)
    if (courses.every(({ course }) => course.pending.every((each) => each.round > 0))) throw new HemeronError('wrong-state', 'No further step is left: everyone the routes name was told.')
    await storeCourses(on, incident.id, courses.map((each) => ({ ...each, course: escalate(each.course, now) })), nextDue)
    await addEvent(on, incident.id, { at: now, kind: 'escalated', person: person.id, title: `${person.name} asked for the next step now`, detail: text })
  },
  'call-in': async (on, incident, person, { tell, text }, now) => {
    const { listening } = await readRoutingWorld(on)
    const named = (tell ?? []).map((each) => {
      const [kind, key] = each.split('/')
      const among = kind === 'person' ? listening.people : kind === 'team' ? listening.teams : kind === 'rota' ? listening.rotas : []
      const found = among.find((other) => other.key === key)
      if (!found) throw wrong('tell', `"${each.slice(0, 100)}"`, 'person/…, team/… or rota/… of one that exists')
      return found.name
    })
    if (named.length === 0) throw wrong('tell', 'nobody', 'whom to call in')
    const courses = await coursesOf(on, incident.id)
    const count = courses.filter(({ course }) => course.route.key.startsWith('called-in-')).length
    await storeCourses(on, incident.id, [{ news: incident.trouble, course: callIn(`called-in-${count + 1}`, `Called in by ${person.name}${text === '' ? '' : `: ${text.slice(0, 200)}`}`, tell!, now) }], nextDue, courses.length)
    await addEvent(on, incident.id, { at: now, kind: 'called-in', person: person.id, title: `${person.name} called in ${named.join(', ')}`, detail: text })
  },
  join: async (on, incident, person, { into }, now) => {
    const lead = await requireIncident(on, into ?? 0).catch(() => { throw wrong('into', String(into ?? 'nothing'), 'the number of an open incident') })
    if (lead.id === incident.id || lead.closedAt !== null || lead.partOf !== null || lead.practiceUntil !== null) throw wrong('into', String(lead.id), 'the number of another open incident')
    if (lead.trouble === 'slow' && incident.trouble === 'down') throw new HemeronError('wrong-state', 'What is down cannot be part of what is slow. Join the slow one to this one.')
    await joinIncident(on, incident.id, lead.id, `joined by ${person.name}`)
    // routes that run for both go on once
    await change(on, 'UPDATE IGNORE incident_course SET incident_id = ? WHERE incident_id = ?', [lead.id, incident.id])
    await change(on, 'DELETE FROM incident_course WHERE incident_id = ?', [incident.id])
    await change(on, 'UPDATE delivery SET incident_id = ? WHERE incident_id = ?', [lead.id, incident.id])
    if (incident.ownEndedAt !== null) await endIncident(on, incident.id, incident.lastFail, incident.ownEndedAt, now)
    if (incident.holder !== null && lead.holder === null) await change(on, 'UPDATE incident SET holder_id = ?, taken_at = ? WHERE id = ?', [incident.holder, incident.takenAt, lead.id])
    await addEvent(on, lead.id, { at: now, kind: 'joined', person: person.id, title: `${person.name} joined ${incident.checkName} to it` })
    await addEvent(on, incident.id, { at: now, kind: 'joined', person: person.id, title: `${person.name} joined it to ${lead.checkName}` })
  },
  /** The part becomes an incident of its own, and the routes are asked about it. */
  'take-out': async (on, part, person, _, now) => {
    if (part.partOf === null) throw new HemeronError('wrong-state', 'This check leads the incident. Take the others out of it instead.')
    await addEvent(on, part.partOf, { at: now, kind: 'parted', person: person.id, title: `${person.name} took ${part.checkName} out of it` })
    await addEvent(on, part.id, { at: now, kind: 'parted', person: person.id, title: `${person.name} took it out of another incident` })
    await partIncident(on, part.id, true)
  }
}

/**
 * Acts on an incident as a person. What is done to a part of an incident is done to the incident, except taking it out.
 * Throws wrong-state, bad-document or not-found.
 */
export async function actOnIncident(pool: Pool, id: number, act: IncidentAct, person: Person, given: ActDetails, now: Instant): Promise<Incident> {
  const acted = await transaction(pool, async (on) => {
    const asked = await requireIncident(on, id)
    const whole = act === 'take-out' ? id : asked.partOf ?? id
    await row(on, 'SELECT id FROM incident WHERE id = ? FOR UPDATE', [whole])
    const incident = await requireIncident(on, whole)
    const problem = actProblem(act, incident, person.id)
    if (problem) throw new HemeronError('wrong-state', problem)
    const details = { ...given, text: given.text?.trim() ?? '' }
    await ACTS[act](on, incident, person, details, now)
    await audit(on, person.id, `incident ${act}`, String(whole), undefined, details, now)
    await noteLive(on, [whole, ...(details.into === undefined ? [] : [details.into]), ...(incident.partOf === null ? [] : [incident.partOf])].map((subject) => ({ topic: 'incident', subject })), now)
    return act === 'join' ? details.into! : whole
  })
  return requireIncident(pool, acted)
}
