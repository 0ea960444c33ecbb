import { speakDuration } from '../core/definitions/duration'
import { TROUBLE_WORDS, type Trouble } from '../core/incidents/incident'
import { incidentMessage, type Message, type MessageFacts } from '../core/messages/message'
import { beginCourse, nextDue } from '../core/routing/course'
import { metricsOf, routesFor, subjectOf } from '../core/routing/fits'
import type { Route } from '../core/routing/route'
import { overKey, routeOfKey, stepKey } from '../core/routing/step-key'
import { tellDue, type Told } from '../core/routing/tell'
import { quietUntil } from '../core/people/preferences'
import { speakLimit } from '../core/sentence/check-sentence'
import type { LocationMemory } from '../core/states/location-memory'
import { withMore } from '../core/incidents/together'
import { MINUTE, type Instant } from '../core/units'
import type { StoredCheck } from '../store/checks'
import { transaction, type Pool, type Queryable } from '../store/database'
import { queueDeliveries, rewriteWaiting, toldChannels, type Step } from '../store/deliveries'
import { addEvent, emptied, endIncident, listParts, namesWith, practicesOver, requireIncident, type Incident } from '../store/incidents'
import { note } from '../store/live'
import { coursesOf, incidentsDue, routesToldOf, storeCourses, type StoredCourse } from '../store/routing'
import { nearestEvidence } from '../store/observations'
import { listMemories } from '../store/states'
import type { Definitions } from './definitions'

type Memories = ReadonlyMap<number, LocationMemory>

/** A check and its incident, as messages tell of them. */
interface About {
  stored: StoredCheck
  incident: Incident
  memories: Memories
}

/** Tells of an incident that began or became worse: the routes are asked, and their first steps happen in the same transaction. */
export async function tellBeginning(on: Queryable, definitions: Definitions, stored: StoredCheck, incident: Incident, memories: Memories, now: Instant): Promise<void> {
  if (stored.mutedAt !== null) return addEvent(on, incident.id, { at: now, kind: 'muted', title: 'Nobody was told', detail: 'the check is muted' })
  const begun = await coursesOf(on, incident.id)
  const news = incident.trouble
  // what was told of it being slow ends when it is down: the routes for that take over
  const before = begun.filter((each) => each.news !== news).map((each) => ({ ...each, course: { ...each.course, pending: [] } }))
  const about = { stored, incident, memories }
  const fresh = (await routesNow(on, definitions, about, now)).filter((route) => !begun.some((each) => each.news === news && each.course.route.key === route.key)).map((route): StoredCourse => ({ news, course: beginCourse(route, now) }))
  await storeCourses(on, incident.id, before, nextDue)
  await tellSteps(on, definitions, about, { ...incident, heldOffUntil: null }, [...begun.filter((each) => each.news === news), ...fresh], now)
}

/** Who was told of an incident this short a time ago is not told of each check that joins it. */
const KNOWN_FOR = 2 * MINUTE

/** Tells of a check that joined an incident those whom the routes of the incident did not tell: one cause, one message. */
export async function tellJoining(on: Queryable, definitions: Definitions, stored: StoredCheck, part: Incident, lead: Incident, memories: Memories, now: Instant): Promise<void> {
  const about = { stored, incident: part, memories }
  const begun = await coursesOf(on, lead.id)
  const fresh = (await routesNow(on, definitions, about, now)).filter((route) => !begun.some((each) => each.course.route.key === route.key)).map((route): StoredCourse => ({ news: part.trouble, course: beginCourse(route, now) }))
  const known = fresh.length === 0 ? [] : (await toldChannels(on, lead.id, now - KNOWN_FOR)).map((each) => each.channel)
  await tellSteps(on, definitions, about, lead, fresh, now, known, begun.length)
}

/** Puts everything that joined an incident meanwhile into the first messages about it that have not gone out yet. */
export async function tellTogether(on: Queryable, definitions: Definitions, id: number, now: Instant): Promise<void> {
  const lead = await requireIncident(on, id)
  const about = lead.partsOpen > 0 ? await aboutOf(on, definitions, lead) : undefined
  if (about) await rewriteWaiting(on, id, messageOf(lead.trouble, definitions, about, await namesWith(on, id, NAMED), now, id))
}

/** The routes that tell of it now: of those that fit, the ones that did not tell of this check a short time ago. */
async function routesNow(on: Queryable, definitions: Definitions, about: About, now: Instant): Promise<Route[]> {
  const { routes } = definitions.routing
  const metrics = routes.some((route) => route.when.metric !== undefined) && metricsOf(about.stored.check).length > 0 ? await metricsBeyond(on, about, now) : undefined
  const fitting = fittingRoutes(definitions, about, now, metrics)
  const quiet = new Set<string>()
  for (const route of fitting) {
    if (route.notTwiceIn === undefined) continue
    if (!(await routesToldOf(on, about.stored.id, about.incident.id, now - route.notTwiceIn)).has(route.key)) continue
    quiet.add(route.key)
    await addEvent(on, about.incident.partOf ?? about.incident.id, { at: now, kind: 'quiet', title: `Route ${routes.findIndex((each) => each.key === route.key) + 1} stays quiet`, detail: `it told of ${about.stored.check.name} less than ${speakDuration(route.notTwiceIn)} ago` })
  }
  return fitting.filter((route) => !quiet.has(route.key))
}

/** The numbers that passed a limit in the last try; all that the check looks at when that is not known. */
async function metricsBeyond(on: Queryable, { stored, incident }: About, now: Instant): Promise<string[] | undefined> {
  const last = await nearestEvidence(on, stored.id, { from: Math.min(incident.since, now - MINUTE), to: now }, incident.trouble !== 'down', 'last')
  const beyond = metricsOf(stored.check, (index) => last?.evidence.conditions?.some((each) => each.index === index && each.outcome !== 'held') ?? false)
  return beyond.length > 0 ? beyond : undefined
}

/** Whether any route tells of what is no outage: a warning of a check, or a burn of its service's budget. */
export async function isToldOf(on: Queryable, definitions: Definitions, stored: StoredCheck, trouble: 'warning' | 'burn', memories: Memories, now: Instant): Promise<boolean> {
  if (!definitions.routing.routes.some((route) => route.when.state?.includes(trouble))) return false
  const about = { stored, incident: { trouble, since: now }, memories } as About
  return fittingRoutes(definitions, about, now, await metricsBeyond(on, about, now)).length > 0
}

function fittingRoutes(definitions: Definitions, { stored, incident, memories }: About, now: Instant, metrics?: string[]): Route[] {
  const failing = troubled(incident, memories).flatMap((id) => definitions.locations.get(id) ?? []).map(({ key, network }) => ({ key, network }))
  const service = stored.serviceId === null ? undefined : definitions.services.get(stored.serviceId)
  return routesFor(definitions.routing.routes, subjectOf(stored.check, service, { state: incident.trouble, at: now, failing, ...(metrics ? { metrics } : {}) }), definitions.settings.zone)
}

/** What to tell of an incident: the check that leads it or, when that is well again, the first that still fails. */
async function aboutOf(on: Queryable, definitions: Definitions, lead: Incident): Promise<About | undefined> {
  const told = lead.ownEndedAt === null ? lead : (await listParts(on, lead.id)).find((each) => each.closedAt === null) ?? lead
  const stored = definitions.checks.get(told.check)
  return stored && { stored, incident: told, memories: await memoriesOf(on, definitions, told) }
}

/** What is known of the check of an incident at each location; in a practice outage it fails everywhere. */
export async function memoriesOf(on: Queryable, definitions: Definitions, { check, practiceUntil }: Incident): Promise<Memories> {
  const known = (await listMemories(on, [check])).map((each) => [each.location, each.memory] as const)
  if (practiceUntil === null) return new Map(known)
  const failing: LocationMemory = { lastAt: 0, lastVerdict: 'fail', recent: 'f', failing: true, passesInARow: 0, slow: true, quickInARow: 0, warning: false }
  return new Map((definitions.places.get(check) ?? []).map((location) => [location, failing]))
}

/** Ends what no state of a check ends: practice outages whose time is over, and incidents of which the last check is gone. */
export async function endOthers(pool: Pool, definitions: Definitions, now: Instant): Promise<void> {
  const practices = new Set(await practicesOver(pool, now))
  for (const id of [...practices, ...await emptied(pool)]) {
    await transaction(pool, async (on) => {
      const incident = await requireIncident(on, id)
      await endIncident(on, id, now, now, now)
      await addEvent(on, id, { at: now, kind: 'over', title: practices.has(id) ? 'The practice outage is over' : 'No check fails any more' })
      const stored = definitions.checks.get(incident.check)
      if (stored) await tellEnd(on, definitions, stored, await requireIncident(on, id), await memoriesOf(on, definitions, incident), now)
      await note(on, [{ topic: 'incident', subject: id }], now)
    })
  }
}

/** Tells those who were told that it began, unless their route keeps the end to itself. */
export async function tellEnd(on: Queryable, definitions: Definitions, stored: StoredCheck, incident: Incident, memories: Memories, now: Instant): Promise<void> {
  const courses = await coursesOf(on, incident.id)
  await storeCourses(on, incident.id, courses.map((each) => ({ ...each, course: { ...each.course, pending: [] } })), nextDue)
  if (stored.mutedAt !== null) return
  const silent = new Set(courses.filter(({ course }) => !course.route.recovery).map(({ course }) => course.route.key))
  const urgent = courses.some(({ course }) => course.route.urgent)
  const told = new Map((await toldChannels(on, incident.id)).filter((each) => !silent.has(routeOfKey(each.stepKey) ?? '')).map((each) => [each.channel, each]))
  const steps = [...told.values()].flatMap(({ channel, person, kind }): Step[] => {
    const wishes = definitions.routing.listening.people.find((each) => each.id === person)?.preferences
    if (wishes?.by?.over && !wishes.by.over.includes(kind)) return []
    const heldUntil = urgent || !wishes ? undefined : quietUntil(wishes, now, definitions.settings.zone)
    return [{ key: overKey(incident.id, channel), channel, ...(person === null ? {} : { person }), ...(heldUntil === undefined ? {} : { heldUntil }), cause: 'It was told that this began' }]
  })
  await queueDeliveries(on, steps, 'over', messageOf('over', definitions, { stored, incident, memories }, await namesWith(on, incident.id, NAMED, false), now), incident.id, now)
}

/** Tells the steps of all incidents that have become due. Gives how many incidents there were. */
export async function tellSteadily(pool: Pool, definitions: Definitions, now: Instant): Promise<number> {
  const due = await incidentsDue(pool, now)
  for (const id of due) {
    await transaction(pool, async (on) => {
      const courses = await coursesOf(on, id)
      const incident = await requireIncident(on, id)
      const about = await aboutOf(on, definitions, incident)
      if (!about) return storeCourses(on, id, courses.map((each) => ({ ...each, course: { ...each.course, pending: [] } })), nextDue)
      await tellSteps(on, definitions, about, incident, courses, now)
      await note(on, [{ topic: 'incident', subject: id }], now)
    })
  }
  return due.length
}

/** How many names of checks a message says. */
const NAMED = 5

/** Brings courses of the incident `lead` up to now, and tells of `about`: the check that leads it or one that joined. */
async function tellSteps(on: Queryable, definitions: Definitions, about: About, lead: Incident, courses: StoredCourse[], now: Instant, known: number[] = [], position = 0): Promise<void> {
  const facts = { taken: lead.holder !== null, over: lead.closedAt !== null, news: about.incident.trouble, ...(lead.heldOffUntil === null ? {} : { heldOffUntil: lead.heldOffUntil }) }
  const after = tellDue(courses.map((each) => each.course), facts, definitions.routing.listening, now, known)
  await storeCourses(on, lead.id, after.courses.map((course, index) => ({ news: courses[index]!.news, course })), nextDue, position)
  if (after.told.length === 0) return
  const others = about.incident.id === lead.id || lead.ownEndedAt !== null ? await namesWith(on, lead.id, NAMED) : { names: [lead.checkName], why: about.incident.partWhy, more: lead.partsOpen - 1 }
  const message = messageOf(about.incident.trouble, definitions, about, { ...others, names: others.names.filter((name) => name !== about.stored.check.name) }, now, lead.id)
  for (const told of after.told) await tellStep(on, definitions, about.stored, lead, told, courses.find(({ course }) => course.route.key === told.route)!, message, now)
}

async function tellStep(on: Queryable, definitions: Definitions, stored: StoredCheck, lead: Incident, told: Told, { news, course: { route } }: StoredCourse, message: Message, now: Instant): Promise<void> {
  const place = definitions.routing.routes.findIndex((each) => each.key === route.key)
  const name = route.title ?? (place < 0 ? 'No route fits' : `Route ${place + 1}`)
  const step = route.then.length > 1 ? `, step ${told.step + 1}` : ''
  if (told.left) return addEvent(on, lead.id, { at: now, kind: 'left-out', title: `${name}${step} left out`, detail: `${lead.holderName ?? 'someone'} holds it` })
  if (stored.mutedAt !== null) return addEvent(on, lead.id, { at: now, kind: 'muted', title: `${name}${step}: nobody was told`, detail: 'the check is muted' })
  const passedOver = told.passedOver.map((each) => `${each.name} ${each.why}`).join('; ')
  if (told.receivers.length === 0) {
    if (told.isKnown) return
    return addEvent(on, lead.id, { at: now, kind: 'nobody', title: `${name}${step} reaches nobody`, detail: passedOver === '' ? 'no channel is set up' : passedOver })
  }
  if (passedOver !== '') await addEvent(on, lead.id, { at: now, kind: 'passed-over', title: `${name}${step} passes over somebody`, detail: passedOver })
  const cause = `${name}${step}${told.round > 0 ? `, again after ${speakDuration(route.then[told.step]!.again!)}` : ''}`
  const steps = told.receivers.map(({ channel, person, heldUntil }) => ({ key: stepKey(lead.id, news, route.key, told.step, told.round, channel), channel, ...(person === undefined ? {} : { person }), ...(heldUntil === undefined ? {} : { heldUntil }), cause }))
  await queueDeliveries(on, steps, lead.trouble, later(message, told, lead, route, cause), lead.id, now)
}

/** A later step says that it is one: what was told before has not helped yet. */
function later(message: Message, { step, round }: Told, incident: Incident, route: Route, cause: string): Message {
  const why = route.title === undefined ? `You are told by: ${cause.toLowerCase()}.` : `${route.title}.`
  const urgent = message.urgent || route.urgent
  if (step === 0 && round === 0) return { ...message, urgent, first: true, lines: [...message.lines, why] }
  const state = incident.holderName === null ? 'Nobody has taken it yet.' : `${incident.holderName} holds it.`
  return { ...message, urgent, subject: `${message.facts.practice ? 'Practice: ' : ''}Still ${TROUBLE_WORDS[incident.trouble]}: ${withMore(String(message.facts.check), incident.partsOpen)}`, lines: [...message.lines, state, why] }
}

const troubled = ({ trouble }: Pick<Incident, 'trouble'>, memories: Memories) => [...memories].filter(([, memory]) => (trouble === 'down' ? memory.failing : trouble === 'slow' ? memory.slow : trouble === 'warning' ? memory.warning : false)).map(([location]) => location)

function messageOf(news: Trouble | 'over', definitions: Definitions, about: About, others: MessageFacts['with'], now: Instant, lead = about.incident.id): Message {
  const { settings } = definitions
  return incidentMessage(news, { ...messageFacts(definitions, about), incident: lead, ...(others ? { with: others } : {}) }, settings.zone, now, settings.address || undefined)
}

function messageFacts(definitions: Definitions, { stored, incident, memories }: About): MessageFacts {
  const service = stored.serviceId === null ? undefined : definitions.services.get(stored.serviceId)
  return {
    incident: incident.id, checkName: incident.trouble === 'burn' ? incident.checkName : stored.check.name, trouble: incident.trouble, sentence: incident.sentence, since: incident.since,
    ...(incident.lastPass === null ? {} : { lastPass: incident.lastPass }), ...(incident.endedAt === null ? {} : { endedAt: incident.endedAt }),
    ...(incident.lastFail === null ? {} : { lastFail: incident.lastFail }), ...(incident.practiceUntil === null ? {} : { practice: true }),
    failing: incident.failing, locations: incident.locations,
    ...(service ? { service: `${service.name}, ${service.stage}` } : {}),
    target: stored.address,
    places: troubled(incident, memories).map((location) => definitions.locations.get(location)?.place ?? '').filter((place) => place !== ''),
    measured: incident.trouble === 'slow' && stored.check.slow ? { limit: speakLimit(stored.check.slow) } : {}
  }
}
