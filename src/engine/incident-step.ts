import { isWorse, speakPlaces, TROUBLE_WORDS } from '../core/incidents/incident'
import { overWords } from '../core/messages/message'
import type { LocationMemory } from '../core/states/location-memory'
import type { Turn } from '../core/states/evaluate'
import type { Instant } from '../core/units'
import { allNeeds } from '../core/needs/needs'
import { transaction, type Pool, type Queryable } from '../store/database'
import { facetsOf, soughtBy, togetherWith, type FailingCheck } from '../core/incidents/together'
import { addEvent, endIncident, explainedAlone, explainIncident, growIncident, hasOpenWarning, incidentsAsked, joinIncident, listExplained, listLeading, lockTogether, openIncident, openIncidentOf, partIncident, requireIncident, setOwnEnd, settleAsked, storeFacets, type Incident } from '../store/incidents'
import { note } from '../store/live'
import { listObservations } from '../store/observations'
import { listMemories, listStates } from '../store/states'
import type { StoredCheck } from '../store/checks'
import type { Definitions } from './definitions'
import { isToldOf, memoriesOf, tellBeginning, tellEnd, tellJoining } from './tell-step'

const isOutageState = (state: string): state is 'down' | 'slow' => state === 'down' || state === 'slow'

/** Opens, joins, grows or ends the incident of a check after a change of its state, and writes down who has to be told. */
export async function stepIncident(on: Queryable, definitions: Definitions, stored: StoredCheck, turn: Turn, memories: ReadonlyMap<number, LocationMemory>, now: Instant): Promise<number | undefined> {
  if (isOutageState(turn.to)) {
    await lockTogether(on)
    return troubleBegins(on, definitions, stored, turn, turn.to, memories, now)
  }
  if (!isOutageState(turn.from) && turn.to !== 'warning' && !(await hasOpenWarning(on, stored.id))) return undefined
  await lockTogether(on)
  const open = await openIncidentOf(on, stored.id)
  const isWarning = open?.trouble === 'warning'
  // a suspicion leaves a warning as it is
  if (isWarning && (turn.to === 'warning' || turn.to === 'suspect')) return undefined
  const ended = open && (isWarning || isOutageState(turn.from)) ? await troubleEnds(on, definitions, stored, open, turn, now) : undefined
  return turn.to === 'warning' && (ended !== undefined || !open) ? await warningBegins(on, definitions, stored, turn, memories, now) ?? ended : ended
}

/** A warning is an incident only where a route tells of it: it is no outage. */
async function warningBegins(on: Queryable, definitions: Definitions, stored: StoredCheck, turn: Turn, memories: ReadonlyMap<number, LocationMemory>, now: Instant): Promise<number | undefined> {
  const warned = [...memories.values()].filter((memory) => memory.warning)
  const facts = { sentence: turn.judgement.sentence ?? 'a softer limit is passed', reason: turn.judgement.reason ?? null, failing: warned.length, locations: turn.judgement.locations }
  if (stored.mutedAt !== null || !(await isToldOf(on, definitions, stored, 'warning', memories, now))) return undefined
  const id = await openIncident(on, { check: stored.id, trouble: 'warning', openedAt: now, since: turn.since, lastPass: turn.judgement.lastPass ?? null, ...facts })
  await addEvent(on, id, { at: now, kind: 'called-warning', title: 'In warning', detail: `${facts.sentence}; it is no outage` })
  // one certificate, one disk: what a host warns of is one warning, whichever checks see it
  const facets = facetsOf(failingCheck(definitions, stored, turn.since, 'slow', memories, [])).filter((each) => each.kind === 'self' || each.kind === 'host')
  const sought = soughtBy(facets).filter((each) => each.kind === 'host')
  const found = togetherWith({ since: turn.since, ...(turn.judgement.lastPass === undefined ? {} : { lastPass: turn.judgement.lastPass }) }, sought, await listLeading(on, sought, 'warning'))
  if (found) {
    await joinIncident(on, id, found.incident, found.why)
    await addEvent(on, found.incident, { at: now, kind: 'joined', title: `${stored.check.name} warns too`, detail: `${found.why}; it belongs to this incident` })
    await tellJoining(on, definitions, stored, await requireIncident(on, id), await requireIncident(on, found.incident), memories, now)
    return found.incident
  }
  await storeFacets(on, id, facets)
  await tellBeginning(on, definitions, stored, await requireIncident(on, id), memories, now)
  return id
}

async function troubleEnds(on: Queryable, definitions: Definitions, stored: StoredCheck, open: Incident, turn: Turn, now: Instant): Promise<number> {
  const still = turn.judgement.failing
  const words = open.trouble === 'warning' && turn.to === 'up' ? overWords('warning') : turn.to === 'paused' ? 'was paused' : turn.to === 'planned' ? 'is in planned work' : turn.to === 'nodata' ? 'has no more data' : 'is up again'
  const detail = still > 0 ? { detail: `still failing at ${still} of ${turn.judgement.locations} locations, fewer than the rule needs` } : {}
  const lastFail = open.trouble === 'down' ? turn.lastFail ?? null : null
  const leadId = open.partOf ?? open.id
  if (open.partOf !== null) await endIncident(on, open.id, lastFail, turn.since, now)
  const lead = await requireIncident(on, leadId)
  const isLast = lead.partsOpen === 0 && (open.partOf === null || lead.ownEndedAt !== null)
  await addEvent(on, leadId, { at: now, kind: isLast ? 'over' : 'part-over', title: `${stored.check.name} ${words}`, ...detail })
  if (!isLast) {
    if (open.partOf === null) await setOwnEnd(on, leadId, turn.since)
    return leadId
  }
  if (lead.closedAt !== null) return leadId
  await endIncident(on, leadId, lastFail, turn.since, now)
  const leading = definitions.checks.get(lead.check)
  // who was never told of the beginning is not told of the end
  if (lead.explainedBy === null && leading) await tellEnd(on, definitions, leading, await requireIncident(on, leadId), new Map(), now)
  return leadId
}

async function troubleBegins(on: Queryable, definitions: Definitions, stored: StoredCheck, turn: Turn, trouble: 'down' | 'slow', memories: ReadonlyMap<number, LocationMemory>, now: Instant): Promise<number> {
  const { judgement } = turn
  const facts = {
    trouble, sentence: judgement.sentence ?? trouble, reason: judgement.reason ?? null,
    failing: trouble === 'down' ? judgement.failing : [...memories.values()].filter((memory) => memory.slow).length, locations: judgement.locations
  }
  const open = await openIncidentOf(on, stored.id)
  if (open) return troubleGrows(on, definitions, stored, open, facts, memories, now)
  const id = await openIncident(on, { check: stored.id, openedAt: now, since: turn.since, lastPass: judgement.lastPass ?? null, ...facts })
  const addresses = await writeBeginning(on, definitions, stored, id, turn, trouble, now)
  const explaining = trouble === 'down' ? await explanationOf(on, definitions, stored) : undefined
  if (explaining) return isExplained(on, id, stored, explaining, now)
  const facets = facetsOf(failingCheck(definitions, stored, turn.since, trouble, memories, addresses))
  const sought = soughtBy(facets)
  const found = stored.mutedAt === null ? togetherWith({ since: turn.since, ...(judgement.lastPass === undefined ? {} : { lastPass: judgement.lastPass }) }, sought, await listLeading(on, sought, trouble)) : undefined
  if (found) {
    await joinIncident(on, id, found.incident, found.why)
    await addEvent(on, found.incident, { at: now, kind: 'joined', title: `${stored.check.name} fails too`, detail: `${found.why}; it belongs to this incident` })
    await tellJoining(on, definitions, stored, await requireIncident(on, id), await requireIncident(on, found.incident), memories, now)
    return found.incident
  }
  if (stored.mutedAt === null) await storeFacets(on, id, facets)
  for (const each of await explainedAlone(on, stored.id)) await joinIncident(on, each, id, `it needs ${stored.check.name}`)
  await tellBeginning(on, definitions, stored, await requireIncident(on, id), memories, now)
  return id
}

/** What a needed check explains is kept with it, and nobody is told of it. */
async function isExplained(on: Queryable, id: number, stored: StoredCheck, explaining: StoredCheck, now: Instant): Promise<number> {
  await explainIncident(on, id, explaining.id)
  await addEvent(on, id, { at: now, kind: 'explained', title: `Explained by ${explaining.check.name}`, detail: 'it is needed and fails too; nobody is told of this one while that lasts' })
  const of = await openIncidentOf(on, explaining.id)
  if (!of || of.explainedBy !== null) return id
  const lead = of.partOf ?? of.id
  await joinIncident(on, id, lead, `it needs ${explaining.check.name}`)
  await addEvent(on, lead, { at: now, kind: 'joined', title: `${stored.check.name} fails too`, detail: `it needs ${explaining.check.name}, and is held back: nobody is told of it apart` })
  return lead
}

async function troubleGrows(on: Queryable, definitions: Definitions, stored: StoredCheck, open: Incident, facts: Pick<Incident, 'sentence' | 'reason' | 'failing' | 'locations'> & { trouble: 'down' | 'slow' }, memories: ReadonlyMap<number, LocationMemory>, now: Instant): Promise<number> {
  const worse = isWorse(facts.trouble, open.trouble)
  await growIncident(on, open.id, { ...facts, trouble: worse ? facts.trouble : open.trouble })
  if (open.ownEndedAt !== null) {
    await setOwnEnd(on, open.id, null)
    await addEvent(on, open.id, { at: now, kind: 'joined', title: `${stored.check.name} fails again`, detail: facts.sentence })
  }
  if (!worse) return open.partOf ?? open.id
  const detail = `it was ${TROUBLE_WORDS[open.trouble]} before; it ${facts.trouble === 'down' ? 'fails' : 'is slow'} ${speakPlaces(facts.failing, facts.locations)}`
  const lead = open.partOf === null ? undefined : await requireIncident(on, open.partOf)
  if (lead?.trouble === 'slow') {
    await addEvent(on, lead.id, { at: now, kind: 'parted', title: `${stored.check.name} is down now`, detail: 'it is an incident of its own from here' })
    await partIncident(on, open.id, false)
  }
  await addEvent(on, open.id, { at: now, kind: `called-${facts.trouble}`, title: `Called ${facts.trouble}`, detail })
  const grown = await requireIncident(on, open.id)
  if (lead?.trouble === 'down') await tellJoining(on, definitions, stored, grown, lead, memories, now)
  else if (open.explainedBy === null) await tellBeginning(on, definitions, stored, grown, memories, now)
  return grown.partOf ?? grown.id
}

function failingCheck(definitions: Definitions, stored: StoredCheck, since: Instant, trouble: 'down' | 'slow', memories: ReadonlyMap<number, LocationMemory>, addresses: string[]): FailingCheck {
  const locations = (definitions.places.get(stored.id) ?? []).flatMap((id) => definitions.locations.get(id) ?? [])
  const service = stored.serviceId === null ? undefined : definitions.services.get(stored.serviceId)
  return {
    key: stored.check.key, name: stored.check.name, target: stored.check.isInside ? '' : stored.address, addresses,
    needs: neededBy(definitions, stored).map(({ check }) => ({ key: check.key, name: check.name })),
    ...(service ? { service: { key: service.key, name: service.name } } : {}),
    failing: locations.filter(({ id }) => (trouble === 'down' ? memories.get(id)?.failing : memories.get(id)?.slow)).map(({ key, place, network }) => ({ key, place, network })),
    passing: locations.filter(({ id }) => (memories.get(id)?.lastPassAt ?? 0) >= since && memories.get(id)?.lastVerdict !== 'fail').map(({ key, network }) => ({ key, network }))
  }
}

/** What Hemeron saw and did before there was an incident: the first failure, the tries that followed, the decision. Gives the addresses that were used. */
async function writeBeginning(on: Queryable, definitions: Definitions, stored: StoredCheck, id: number, turn: Turn, trouble: 'down' | 'slow', now: Instant): Promise<string[]> {
  const name = (location: number) => definitions.locations.get(location)?.place ?? 'a removed location'
  const seen = (await listObservations(on, { check: stored.id, from: turn.since, to: turn.at + 1, limit: 500 })).reverse()
  const first = seen.find((each) => each.verdict === (trouble === 'down' ? 'fail' : 'slow'))
  if (first) await addEvent(on, id, { at: first.at, kind: 'first-failure', title: trouble === 'down' ? `First failure at ${name(first.location)}` : `First slow at ${name(first.location)}`, detail: first.sentence ?? '' })
  const again = seen.filter((each) => each.occasion === 'again')
  if (trouble === 'down' && again.length > 0) {
    const failed = [...new Set(again.filter((each) => each.verdict === 'fail').map((each) => name(each.location)))]
    const passed = [...new Set(again.filter((each) => each.verdict !== 'fail').map((each) => name(each.location)))].filter((place) => !failed.includes(place))
    const places = new Set(again.map((each) => each.location)).size
    await addEvent(on, id, {
      at: again[0]!.at, kind: 'tried-again', title: `Tried again from ${places} ${places === 1 ? 'location' : 'locations'}`,
      detail: [failed.length > 0 ? `${failed.join(', ')} ${failed.length === 1 ? 'fails' : 'fail'}` : '', passed.length > 0 ? `${passed.join(', ')} ${passed.length === 1 ? 'passes' : 'pass'}` : ''].filter((part) => part !== '').join('; ')
    })
  }
  const rule = stored.check.down
  await addEvent(on, id, trouble === 'down'
    ? { at: now, kind: 'called-down', title: 'Called down', detail: `${rule.tries}${rule.of ? ` of the last ${rule.of}` : ''} ${rule.tries === 1 ? 'try' : 'tries'} failed ${speakPlaces(turn.judgement.failing, turn.judgement.locations)}` }
    : { at: now, kind: 'called-slow', title: 'Called slow', detail: turn.judgement.sentence ?? '' })
  return [...new Set(seen.filter((each) => each.verdict === (trouble === 'down' ? 'fail' : 'slow')).flatMap((each) => each.address ?? []))]
}

/** The checks that a check needs, nearest first. */
function neededBy(definitions: Definitions, stored: StoredCheck): StoredCheck[] {
  if (stored.check.needs.length === 0) return []
  const byKey = new Map([...definitions.checks.values()].map((each) => [each.check.key, each]))
  return allNeeds(stored.check.key, new Map([...byKey].map(([key, { check }]) => [key, check.needs]))).flatMap((key) => byKey.get(key) ?? [])
}

/** The nearest check that this one needs and that fails too, or is under suspicion. */
async function explanationOf(on: Queryable, definitions: Definitions, stored: StoredCheck): Promise<StoredCheck | undefined> {
  const needed = neededBy(definitions, stored)
  if (needed.length === 0) return undefined
  const states = await listStates(on, needed.map((each) => each.id))
  return needed.find((each) => ['down', 'suspect'].includes(states.get(each.id)?.state ?? ''))
}

/** Whether a check has failed again after all it needs was well: until its next try nobody can know. */
async function failedSince(on: Queryable, definitions: Definitions, stored: StoredCheck): Promise<boolean> {
  const needed = await listStates(on, neededBy(definitions, stored).map((each) => each.id))
  const wellSince = Math.max(0, ...[...needed.values()].map((each) => each.since))
  return (await listMemories(on, [stored.id])).some(({ memory }) => (memory.lastFailAt ?? 0) > wellSince)
}

/** Tells of incidents whose explanation is over while they last: what was needed works again, and this still does not. */
export async function tellUnexplained(pool: Pool, definitions: Definitions, share: (check: number) => boolean, now: Instant): Promise<void> {
  for (const incident of await listExplained(pool)) {
    const stored = definitions.checks.get(incident.check)
    if (!stored || !share(incident.check)) continue
    await transaction(pool, async (on) => {
      await lockTogether(on)
      const explaining = await explanationOf(on, definitions, stored)
      if (explaining?.id === incident.explainedBy || (!explaining && !(await failedSince(on, definitions, stored)))) return
      if (incident.partOf !== null && !explaining) {
        await addEvent(on, incident.partOf, { at: now, kind: 'parted', title: `${stored.check.name} is an incident of its own now`, detail: 'what it needs works again, and it still fails' })
        await partIncident(on, incident.id, false)
      } else await explainIncident(on, incident.id, explaining?.id ?? null)
      if (explaining || incident.endedAt !== null) return
      await addEvent(on, incident.id, { at: now, kind: 'unexplained', title: 'No longer explained', detail: 'what it needs works again; this check still fails' })
      await tellAgain(on, definitions, incident.id, now)
    })
  }
}

/** Asks the routes about incidents that were taken out of another one. */
export async function tellAsked(pool: Pool, definitions: Definitions, now: Instant): Promise<void> {
  for (const id of await incidentsAsked(pool)) {
    await transaction(pool, async (on) => {
      await settleAsked(on, id)
      await tellAgain(on, definitions, id, now)
      await note(on, [{ topic: 'incident', subject: id }], now)
    })
  }
}

async function tellAgain(on: Queryable, definitions: Definitions, id: number, now: Instant): Promise<void> {
  const incident = await requireIncident(on, id)
  const stored = definitions.checks.get(incident.check)
  if (!stored || incident.closedAt !== null) return
  await tellBeginning(on, definitions, stored, incident, await memoriesOf(on, definitions, incident), now)
}
