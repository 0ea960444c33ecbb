import { speakPlaces } from '../core/incidents/incident'
import type { LocationMemory } from '../core/states/location-memory'
import type { Turn } from '../core/states/evaluate'
import type { Instant } from '../core/units'
import { allNeeds } from '../core/needs/needs'
import { transaction, type Pool, type Queryable } from '../store/database'
import { addEvent, endIncident, explainIncident, growIncident, listExplained, openIncident, openIncidentOf, requireIncident } from '../store/incidents'
import { listObservations } from '../store/observations'
import { listMemories, listStates } from '../store/states'
import type { StoredCheck } from '../store/checks'
import type { Definitions } from './definitions'
import { tellBeginning, tellEnd } from './tell-step'

const isTrouble = (state: string): state is 'down' | 'slow' => state === 'down' || state === 'slow'

/** Opens, grows or ends the incident of a check after a change of its state, and writes down who has to be told. */
export async function stepIncident(on: Queryable, definitions: Definitions, stored: StoredCheck, turn: Turn, memories: ReadonlyMap<number, LocationMemory>, now: Instant): Promise<number | undefined> {
  if (isTrouble(turn.to)) return troubleBegins(on, definitions, stored, turn, turn.to, memories, now)
  if (!isTrouble(turn.from)) return undefined
  const open = await openIncidentOf(on, stored.id)
  if (!open) return undefined
  const still = turn.judgement.failing
  const title = turn.to === 'paused' ? 'The check was paused' : turn.to === 'planned' ? 'Planned work began' : turn.to === 'nodata' ? 'No more data' : 'Up again'
  await endIncident(on, open.id, open.trouble === 'down' ? turn.lastFail ?? null : null, turn.since, now)
  await addEvent(on, open.id, { at: now, kind: 'over', title, ...(still > 0 ? { detail: `still failing at ${still} of ${turn.judgement.locations} locations, fewer than the rule needs` } : {}) })
  // who was never told of the beginning is not told of the end
  if (open.explainedBy === null) await tellEnd(on, definitions, stored, await requireIncident(on, open.id), memories, now)
  return open.id
}

async function troubleBegins(on: Queryable, definitions: Definitions, stored: StoredCheck, turn: Turn, trouble: 'down' | 'slow', memories: ReadonlyMap<number, LocationMemory>, now: Instant): Promise<number> {
  const { judgement } = turn
  const facts = {
    trouble, sentence: judgement.sentence ?? trouble, reason: judgement.reason ?? null,
    failing: trouble === 'down' ? judgement.failing : [...memories.values()].filter((memory) => memory.slow).length, locations: judgement.locations
  }
  const open = await openIncidentOf(on, stored.id)
  if (open) {
    const worse = open.trouble === 'slow' && trouble === 'down'
    await growIncident(on, open.id, { ...facts, trouble: worse ? 'down' : open.trouble })
    if (worse) {
      await addEvent(on, open.id, { at: now, kind: 'called-down', title: 'Called down', detail: `it was slow before; it fails ${speakPlaces(facts.failing, facts.locations)}` })
      await tellBeginning(on, definitions, stored, await requireIncident(on, open.id), memories, now)
    }
    return open.id
  }
  const id = await openIncident(on, { check: stored.id, openedAt: now, since: turn.since, lastPass: judgement.lastPass ?? null, ...facts })
  await writeBeginning(on, definitions, stored, id, turn, trouble, now)
  const explaining = trouble === 'down' ? await explanationOf(on, definitions, stored) : undefined
  if (explaining) {
    await explainIncident(on, id, explaining.id)
    await addEvent(on, id, { at: now, kind: 'explained', title: `Explained by ${explaining.check.name}`, detail: 'it is needed and fails too; nobody is told of this one while that lasts' })
    return id
  }
  await tellBeginning(on, definitions, stored, await requireIncident(on, id), memories, now)
  return id
}

/** What Hemeron saw and did before there was an incident: the first failure, the tries that followed, the decision. */
async function writeBeginning(on: Queryable, definitions: Definitions, stored: StoredCheck, id: number, turn: Turn, trouble: 'down' | 'slow', now: Instant): Promise<void> {
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
}

/** The nearest check that this one needs and that fails too, or is under suspicion. */
async function explanationOf(on: Queryable, definitions: Definitions, stored: StoredCheck): Promise<StoredCheck | undefined> {
  if (stored.check.needs.length === 0) return undefined
  const byKey = new Map([...definitions.checks.values()].map((each) => [each.check.key, each]))
  const needed = allNeeds(stored.check.key, new Map([...byKey].map(([key, { check }]) => [key, check.needs]))).flatMap((key) => byKey.get(key) ?? [])
  const states = await listStates(on, needed.map((each) => each.id))
  return needed.find((each) => ['down', 'suspect'].includes(states.get(each.id)?.state ?? ''))
}

/** Tells of incidents whose explanation is over while they last: what was needed works again, and this still does not. */
export async function tellUnexplained(pool: Pool, definitions: Definitions, share: (check: number) => boolean, now: Instant): Promise<void> {
  for (const incident of await listExplained(pool)) {
    const stored = definitions.checks.get(incident.check)
    if (!stored || !share(incident.check)) continue
    await transaction(pool, async (on) => {
      const explaining = await explanationOf(on, definitions, stored)
      if (explaining?.id === incident.explainedBy) return
      await explainIncident(on, incident.id, explaining?.id ?? null)
      if (explaining || incident.endedAt !== null) return
      await addEvent(on, incident.id, { at: now, kind: 'unexplained', title: 'No longer explained', detail: 'what it needs works again; this check still fails' })
      const memories = new Map((await listMemories(on, [stored.id])).map((each) => [each.location, each.memory]))
      await tellBeginning(on, definitions, stored, await requireIncident(on, incident.id), memories, now)
    })
  }
}
