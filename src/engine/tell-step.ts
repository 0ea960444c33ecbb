import { speakDuration } from '../core/definitions/duration'
import { incidentMessage, type Message, type MessageFacts } from '../core/messages/message'
import { beginCourse, nextDue } from '../core/routing/course'
import { routesFor, subjectOf } from '../core/routing/fits'
import type { Route } from '../core/routing/route'
import { tellDue, type Told } from '../core/routing/tell'
import { speakLimit } from '../core/sentence/check-sentence'
import type { LocationMemory } from '../core/states/location-memory'
import type { Instant } from '../core/units'
import type { StoredCheck } from '../store/checks'
import { transaction, type Pool, type Queryable } from '../store/database'
import { queueDeliveries, toldChannels } from '../store/deliveries'
import { addEvent, requireIncident, type Incident } from '../store/incidents'
import { note } from '../store/live'
import { coursesOf, incidentsDue, storeCourses, type StoredCourse } from '../store/routing'
import { listMemories } from '../store/states'
import type { Definitions } from './definitions'

type Memories = ReadonlyMap<number, LocationMemory>

/** Tells of an incident that began or became worse: the routes are asked, and their first steps happen in the same transaction. */
export async function tellBeginning(on: Queryable, definitions: Definitions, stored: StoredCheck, incident: Incident, memories: Memories, now: Instant): Promise<void> {
  if (stored.mutedAt !== null) return addEvent(on, incident.id, { at: now, kind: 'muted', title: 'Nobody was told', detail: 'the check is muted' })
  const begun = await coursesOf(on, incident.id)
  const news = incident.trouble
  // what was told of it being slow ends when it is down: the routes for that take over
  const before = begun.filter((each) => each.news !== news).map((each) => ({ ...each, course: { ...each.course, pending: [] } }))
  const failing = troubled(incident, memories).flatMap((id) => definitions.locations.get(id) ?? []).map(({ key, network }) => ({ key, network }))
  const service = stored.serviceId === null ? undefined : definitions.services.get(stored.serviceId)
  const fitting = routesFor(definitions.routing.routes, subjectOf(stored.check, service, { state: news, at: now, failing }), definitions.settings.zone)
  const fresh = fitting.filter((route) => !begun.some((each) => each.news === news && each.course.route.key === route.key)).map((route): StoredCourse => ({ news, course: beginCourse(route, now) }))
  await storeCourses(on, incident.id, before, nextDue)
  await tellSteps(on, definitions, stored, incident, [...begun.filter((each) => each.news === news), ...fresh], memories, now)
}

/** Tells those who were told that it began, unless their route keeps the end to itself. */
export async function tellEnd(on: Queryable, definitions: Definitions, stored: StoredCheck, incident: Incident, memories: Memories, now: Instant): Promise<void> {
  const courses = await coursesOf(on, incident.id)
  await storeCourses(on, incident.id, courses.map((each) => ({ ...each, course: { ...each.course, pending: [] } })), nextDue)
  if (stored.mutedAt !== null) return
  const silent = new Set(courses.filter(({ course }) => !course.route.recovery).map(({ course }) => course.route.key))
  const told = new Map((await toldChannels(on, incident.id)).filter((each) => !silent.has(each.stepKey.split('/')[3] ?? '')).map((each) => [each.channel, each.person]))
  const steps = [...told].map(([channel, person]) => ({ key: `incident/${incident.id}/over/${channel}`, channel, ...(person === null ? {} : { person }), cause: 'It was told that this began' }))
  await queueDeliveries(on, steps, 'over', messageOf('over', definitions, stored, incident, memories, now), incident.id, now)
}

/** Tells the steps of all incidents that have become due. Gives how many incidents there were. */
export async function tellSteadily(pool: Pool, definitions: Definitions, now: Instant): Promise<number> {
  const due = await incidentsDue(pool, now)
  for (const id of due) {
    await transaction(pool, async (on) => {
      const courses = await coursesOf(on, id)
      const incident = await requireIncident(on, id)
      const stored = definitions.checks.get(incident.check)
      if (!stored) return storeCourses(on, id, courses.map((each) => ({ ...each, course: { ...each.course, pending: [] } })), nextDue)
      const memories = new Map((await listMemories(on, [stored.id])).map((each) => [each.location, each.memory]))
      await tellSteps(on, definitions, stored, incident, courses, memories, now)
      await note(on, [{ topic: 'incident', subject: id }], now)
    })
  }
  return due.length
}

async function tellSteps(on: Queryable, definitions: Definitions, stored: StoredCheck, incident: Incident, courses: StoredCourse[], memories: Memories, now: Instant): Promise<void> {
  const facts = { taken: incident.holder !== null, over: incident.endedAt !== null || incident.closedAt !== null }
  const after = tellDue(courses.map((each) => each.course), facts, definitions.routing.listening, now)
  await storeCourses(on, incident.id, after.courses.map((course, index) => ({ news: courses[index]!.news, course })), nextDue)
  for (const told of after.told) await tellStep(on, definitions, stored, incident, told, courses.find(({ course }) => course.route.key === told.route)!.course.route, memories, now)
}

async function tellStep(on: Queryable, definitions: Definitions, stored: StoredCheck, incident: Incident, told: Told, route: Route, memories: Memories, now: Instant): Promise<void> {
  const place = definitions.routing.routes.findIndex((each) => each.key === route.key)
  const name = place < 0 ? 'No route fits' : `Route ${place + 1}`
  const step = route.then.length > 1 ? `, step ${told.step + 1}` : ''
  if (told.left) return addEvent(on, incident.id, { at: now, kind: 'left-out', title: `${name}${step} left out`, detail: `${incident.holderName ?? 'someone'} holds it` })
  if (stored.mutedAt !== null) return addEvent(on, incident.id, { at: now, kind: 'muted', title: `${name}${step}: nobody was told`, detail: 'the check is muted' })
  const passedOver = told.passedOver.map((each) => `${each.name} ${each.why}`).join('; ')
  if (told.receivers.length === 0) {
    if (told.isKnown) return
    return addEvent(on, incident.id, { at: now, kind: 'nobody', title: `${name}${step} reaches nobody`, detail: passedOver === '' ? 'no channel is set up' : passedOver })
  }
  if (passedOver !== '') await addEvent(on, incident.id, { at: now, kind: 'passed-over', title: `${name}${step} passes over somebody`, detail: passedOver })
  const cause = `${name}${step}${told.round > 0 ? `, again after ${speakDuration(route.then[told.step]!.again!)}` : ''}`
  const message = messageOf(incident.trouble, definitions, stored, incident, memories, now)
  const steps = told.receivers.map((each) => ({
    key: `incident/${incident.id}/${incident.trouble}/${route.key}/${told.step}/${told.round}/${each.channel}`, channel: each.channel, ...(each.person === undefined ? {} : { person: each.person }), cause
  }))
  await queueDeliveries(on, steps, incident.trouble, later(message, told, incident, route, cause), incident.id, now)
}

/** A later step says that it is one: what was told before has not helped yet. */
function later(message: Message, { step, round }: Told, incident: Incident, route: Route, cause: string): Message {
  const why = `You are told by: ${cause.toLowerCase()}.`
  const urgent = message.urgent || route.urgent
  if (step === 0 && round === 0) return { ...message, urgent, lines: [...message.lines, why] }
  const state = incident.holderName === null ? 'Nobody has taken it yet.' : `${incident.holderName} holds it.`
  return { ...message, urgent, subject: `Still ${incident.trouble}: ${incident.checkName}`, lines: [...message.lines, state, why] }
}

const troubled = ({ trouble }: Pick<Incident, 'trouble'>, memories: Memories) => [...memories].filter(([, memory]) => (trouble === 'down' ? memory.failing : memory.slow)).map(([location]) => location)

function messageOf(news: 'down' | 'slow' | 'over', definitions: Definitions, stored: StoredCheck, incident: Incident, memories: Memories, now: Instant): Message {
  const { settings } = definitions
  return incidentMessage(news, messageFacts(definitions, stored, incident, memories), settings.zone, now, settings.address || undefined)
}

function messageFacts(definitions: Definitions, stored: StoredCheck, incident: Incident, memories: Memories): MessageFacts {
  const service = stored.serviceId === null ? undefined : definitions.services.get(stored.serviceId)
  return {
    incident: incident.id, checkName: stored.check.name, trouble: incident.trouble, sentence: incident.sentence, since: incident.since,
    ...(incident.lastPass === null ? {} : { lastPass: incident.lastPass }), ...(incident.endedAt === null ? {} : { endedAt: incident.endedAt }),
    ...(incident.lastFail === null ? {} : { lastFail: incident.lastFail }),
    failing: incident.failing, locations: incident.locations,
    ...(service ? { service: `${service.name}, ${service.stage}` } : {}),
    target: stored.address,
    places: troubled(incident, memories).map((location) => definitions.locations.get(location)?.place ?? '').filter((place) => place !== ''),
    measured: incident.trouble === 'slow' && stored.check.slow ? { limit: speakLimit(stored.check.slow) } : {}
  }
}
