import type { Pool } from '../store/database'
import { groupBy } from '../core/group-by'
import type { Observation } from '../core/observation'
import { cadence, restReason } from '../core/schedule/running'
import { evaluate, type Evaluated, type Known } from '../core/states/evaluate'
import { MINUTE, type Instant } from '../core/units'
import { transaction, type Queryable } from '../store/database'
import { fenceShare, readArrivals, removeArrivals, settleRuns } from '../store/engine-work'
import { judgeNow } from '../store/inbox'
import { growIncident, openIncidentOf } from '../store/incidents'
import { note, type LiveTopic } from '../store/live'
import { numberTexts, storeObservations, textsOfAll } from '../store/observations'
import { markDue } from '../store/rollups'
import { closeStretches, endStretch, listMemories, listStates, openStretches, storeChanges, storeMemories, storeStates, touchStates, type LastSeen, type StoredState } from '../store/states'
import type { Definitions } from './definitions'
import { stepIncident } from './incident-step'
import { tellTogether } from './tell-step'
import type { UsualTimes } from './usual-times'

const BATCHES = 40

/** What an engine remembers of the checks of a share while it holds the lease. */
export type ShareMemory = Map<number, Known>

/**
 * Works off the waiting batches of one share in one transaction: observations, evidence, states, stretches,
 * incidents, tries and deliveries come into being together or not at all.
 * @returns how many observations were taken in; undefined when the share belongs to another engine now
 */
export async function evaluateShare(pool: Pool, share: number, engine: string, definitions: Definitions, usual: UsualTimes, remembered: ShareMemory, now: () => Instant): Promise<number | undefined> {
  const waiting = await readArrivals(pool, share, BATCHES)
  if (waiting.ids.length === 0) return 0
  const { zone } = definitions.settings
  waiting.observations = waiting.observations.map((seen) => usual.judged(definitions.checks.get(seen.check), seen, zone))
  const numbers = await numberTexts(pool, textsOfAll(waiting.observations))
  const drafts = new Map<number, Known>()
  const taken = await transaction(pool, async (on) => {
    drafts.clear()
    if (!(await fenceShare(on, share, engine))) return undefined
    const fresh = await storeObservations(on, waiting.observations, numbers)
    await evaluateAll(on, fresh, definitions, usual, remembered, drafts, now())
    await removeArrivals(on, waiting.ids)
    return fresh.length
  })
  if (taken !== undefined) for (const [check, known] of drafts) remembered.set(check, known)
  return taken
}

async function evaluateAll(on: Queryable, fresh: Observation[], definitions: Definitions, usual: UsualTimes, remembered: ShareMemory, drafts: Map<number, Known>, now: Instant): Promise<void> {
  const news = groupBy(fresh, (each) => each.check)
  const checks = [...news.keys()].filter((check) => definitions.checks.has(check))
  await recall(on, checks.filter((check) => !remembered.has(check)), remembered)
  const evaluated = checks.map((check) => {
    const stored = definitions.checks.get(check)!
    const rest = restReason(stored.check, { paused: stored.pausedAt !== null, window: definitions.windowOpen(stored), zone: definitions.settings.zone, now })
    const held = rest !== undefined || definitions.calendar.workOn(stored.check, now) !== undefined
    const every = cadence(stored.check, definitions.windowOpen(stored))
    const quick = usual.quick(stored, definitions.settings.zone)
    const result = evaluate({ rule: stored.check, every, locations: definitions.places.get(check) ?? [], held, inTurn: stored.check.turns === 'in-turn', ...(quick ? { quick } : {}) }, remembered.get(check)!, news.get(check)!, now)
    drafts.set(check, result.known)
    return { check, stored, result, observations: news.get(check)! }
  })
  await storeMemories(on, evaluated.flatMap(({ check, result, observations }) => [...result.touched].map((location) => ({
    check, location, memory: result.known.memories.get(location)!, last: lastSeen(observations, location)
  }))))
  // what holds a check is said by whoever put it there; observations only say that it was seen
  const isHeld = (state: string) => state === 'planned' || state === 'paused'
  await storeStates(on, evaluated.filter(({ result }) => !isHeld(result.known.state)).map(({ check, result }) => stateRow(check, result)))
  await touchStates(on, evaluated.filter(({ result }) => isHeld(result.known.state)).map(({ check, result }) => ({ check, newest: result.known.newest ?? now })))
  await closeStretches(on, evaluated.flatMap(({ check, result }) => result.closed.map((each) => ({ check, ...each }))))
  await openStretches(on, evaluated.flatMap(({ check, result }) => result.opened.map((each) => ({ check, ...each }))))
  await closeAgain(on, evaluated)
  await storeChanges(on, evaluated.flatMap(({ check, result }) => result.turns.map((turn) => ({
    check, decided: now, since: turn.since, lastPass: turn.judgement.lastPass ?? null, from: turn.from, to: turn.to,
    reason: turn.judgement.reason ?? null, sentence: turn.judgement.sentence ?? null, failing: turn.judgement.failing, locations: turn.judgement.locations
  }))))
  await settleRuns(on, fresh.filter((each) => each.occasion !== 'scheduled'), evaluated.flatMap(({ check, result }) => result.wanted.map((each) => ({ check, ...each }))))
  const events: { topic: LiveTopic; subject: number }[] = checks.map((check) => ({ topic: 'check', subject: check }))
  const touched = new Set<number>()
  for (const { check, stored, result } of evaluated) {
    for (const turn of result.turns) {
      events.push({ topic: 'state', subject: check })
      await judgeNow(on, definitions.judges.get(stored.check.key) ?? [], now)
      const incident = await stepIncident(on, definitions, stored, turn, result.known.memories, now)
      if (incident !== undefined) touched.add(incident)
    }
    if (result.turns.length === 0 && result.judgement.down) await growWhileDown(on, check, result)
  }
  for (const incident of touched) await tellTogether(on, definitions, incident, now)
  events.push(...[...touched].map((subject) => ({ topic: 'incident' as const, subject })))
  await markDue(on, fresh.map((each) => ({ check: each.check, at: Math.floor(each.at / (5 * MINUTE)) * 5 * MINUTE })).filter(uniqueWindow()))
  await note(on, events, now)
}

function uniqueWindow() {
  const seen = new Set<string>()
  return ({ check, at }: { check: number; at: Instant }) => {
    const key = `${check}/${at}`
    return !seen.has(key) && Boolean(seen.add(key))
  }
}

async function recall(on: Queryable, checks: number[], remembered: ShareMemory): Promise<void> {
  if (checks.length === 0) return
  const states = await listStates(on, checks)
  const memories = await listMemories(on, checks)
  for (const check of checks) {
    const state = states.get(check)
    remembered.set(check, {
      state: state?.state ?? 'nodata', since: state?.since ?? 0, ...(state?.newest == null ? {} : { newest: state.newest }),
      memories: new Map(memories.filter((each) => each.check === check).map((each) => [each.location, each.memory]))
    })
  }
}

/** A stretch that opened and closed within one batch was not there yet when its end was written. */
async function closeAgain(on: Queryable, evaluated: { check: number; result: Evaluated }[]): Promise<void> {
  for (const { check, result } of evaluated) {
    for (const opened of result.opened) {
      const end = result.closed.find((closed) => closed.location === opened.location && closed.kind === opened.kind && closed.to > opened.from)
      if (end) await endStretch(on, { check, ...opened }, end.to)
    }
  }
}

async function growWhileDown(on: Queryable, check: number, result: Evaluated): Promise<void> {
  const open = await openIncidentOf(on, check)
  if (!open || result.judgement.failing <= open.failing) return
  await growIncident(on, open.id, { trouble: open.trouble, failing: result.judgement.failing, locations: result.judgement.locations, sentence: open.sentence, reason: open.reason })
}

function stateRow(check: number, { known, judgement }: Evaluated): StoredState {
  return {
    check, state: known.state, since: known.since, lastPass: judgement.lastPass ?? null, reason: judgement.reason ?? null, sentence: judgement.sentence ?? null,
    failing: judgement.failing, suspecting: judgement.suspecting, locations: judgement.locations, newest: known.newest ?? null
  }
}

function lastSeen(observations: Observation[], location: number): LastSeen {
  const last = observations.filter((each) => each.location === location).reduce((newest, each) => (each.at > newest.at ? each : newest))
  const { at, verdict, reason, sentence, status, server, phases, total, certificateEnd, readings } = last
  return { at, verdict, reason, sentence, status, server, phases, total, certificateEnd, readings }
}
