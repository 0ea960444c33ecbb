import type { Pool } from '../store/database'
import { cadence, restReason } from '../core/schedule/running'
import { afterPlannedWork } from '../core/states/location-memory'
import { isSilent, judgeCheck } from '../core/states/check-state'
import type { Turn } from '../core/states/evaluate'
import type { CheckState } from '../core/states/check-state'
import { DAY, type Instant } from '../core/units'
import { transaction, type Queryable } from '../store/database'
import { dropOldEvents, note } from '../store/live'
import { dropOldInbox, judgeNow } from '../store/inbox'
import { keepPartitions } from '../store/migrate'
import { dropOldDeliveries } from '../store/deliveries'
import { dropEndedSessions } from '../store/people'
import { bumpDefinitions } from '../store/locations'
import { dropOldOrders, windowsOf } from '../store/probes'
import { dropOldRollups, dueWindows, rollUp } from '../store/rollups'
import { keptFor } from '../store/settings'
import { closeStretches, listMemories, listStates, lockState, openStretches, storeChanges, storeMemories, storeStates, type StoredState } from '../store/states'
import { dropOldDaySheets, makeDueDaySheets } from '../store/day-sheets'
import { dropOldSheets, makeDueSheets } from '../store/sheets'
import { dropOldDays, packEndedDays } from '../store/tries'
import type { StoredCheck } from '../store/checks'
import type { Definitions } from './definitions'
import { stepIncident } from './incident-step'

/** Turns checks that were paused, resumed or fell silent. What observations decide is not decided here. */
export async function turnSilentAndPaused(pool: Pool, definitions: Definitions, share: (check: number) => boolean, now: Instant): Promise<number[]> {
  const states = await listStates(pool)
  const turned: number[] = []
  for (const stored of definitions.checks.values()) {
    if (!share(stored.id)) continue
    const state = states.get(stored.id)
    if (!state) continue
    const next = stateWithoutObservation(stored, state, definitions, now)
    if (next === undefined || next.to === state.state) continue
    await transaction(pool, (on) => turn(on, definitions, stored, state, next, now))
    turned.push(stored.id)
  }
  return turned
}

/** What the clock and people decide about the state of a check, with the words for it. Undefined leaves it to observations. */
function stateWithoutObservation(stored: StoredCheck, state: StoredState, definitions: Definitions, now: Instant): { to: CheckState; sentence: string } | undefined {
  const { check } = stored
  const rest = restReason(check, { paused: stored.pausedAt !== null, window: definitions.windowOpen(stored), zone: definitions.settings.zone, now })
  if (rest !== undefined) return { to: 'paused', sentence: rest }
  const work = definitions.calendar.workOn(check, now)
  if (work) return { to: 'planned', sentence: work.entry.planned.title }
  if (state.state === 'paused') return { to: 'nodata', sentence: 'waiting for the first observation' }
  if (state.state === 'planned') return { to: 'up', sentence: '' }
  const started = Math.max(stored.createdAt, state.state === 'nodata' ? 0 : state.since)
  const every = cadence(check, definitions.windowOpen(stored))
  return isSilent(state.newest ?? undefined, started, every, check.wait, now) ? { to: 'nodata', sentence: 'no observation has come from any location' } : undefined
}

/** How long packed tries are kept, to play rules on: the longest past a rule is played on, twice. */
const TRIES_KEPT = 70 * DAY

const isTrouble = (state: CheckState) => state === 'down' || state === 'slow'

const CLOSED = ['fail', 'slow', 'warn', 'silent', 'planned'] as const

async function turn(on: Queryable, definitions: Definitions, stored: StoredCheck, state: StoredState, wanted: { to: CheckState; sentence: string }, now: Instant): Promise<void> {
  // an observation may have changed the state since it was looked at
  if ((await lockState(on, stored.id)) !== state.state) return
  const remembered = await listMemories(on, [stored.id])
  const ends = state.state === 'planned' && wanted.to === 'up'
  const kept = remembered.map((each) => ({ ...each, memory: ends ? afterPlannedWork(each.memory) : each.memory }))
  if (ends) await storeMemories(on, kept)
  const memories = new Map(kept.map((each) => [each.location, each.memory]))
  const places = definitions.places.get(stored.id) ?? []
  const judged = judgeCheck(places.map((place) => memories.get(place)), stored.check)
  // after planned work the check is what it was seen to be while that was on
  const to = ends ? judged.state : wanted.to
  const sentence = to === wanted.to ? wanted.sentence : judged.sentence ?? ''
  const judgement = { ...judged, state: to }
  const since = to === 'nodata' && state.newest !== null && state.state !== 'paused' ? Math.max(state.since, state.newest) : now
  const change: Turn = { from: state.state, to, since, at: now, judgement }
  await storeChanges(on, [{ check: stored.id, decided: now, since, lastPass: null, from: state.state, to, reason: isTrouble(to) ? judged.reason ?? null : null, sentence, failing: isTrouble(to) ? judged.failing : 0, locations: places.length }])
  await storeStates(on, [{ ...state, state: to, since, lastPass: null, reason: isTrouble(to) ? judged.reason ?? null : null, sentence, failing: isTrouble(to) ? judged.failing : 0, suspecting: 0 }])
  await closeStretches(on, CLOSED.map((kind) => ({ check: stored.id, kind, to: since })))
  const kind = to === 'nodata' ? 'silent' as const : to === 'planned' ? 'planned' as const : undefined
  if (kind) await openStretches(on, places.map((location) => ({ check: stored.id, location, kind, from: since })))
  const incident = await stepIncident(on, definitions, stored, change, to === 'down' || to === 'slow' || to === 'warning' ? memories : new Map(), now)
  await judgeNow(on, definitions.judges.get(stored.check.key) ?? [], now)
  await note(on, [{ topic: 'state', subject: stored.id }, ...(incident === undefined ? [] : [{ topic: 'incident' as const, subject: incident }])], now)
}

/** Tells probes when a release window opens or closes by the clock. Gives which are open, to be given the next time. */
export async function followWindows(pool: Pool, definitions: Definitions, before: string, now: Instant): Promise<string> {
  const isOpen = await windowsOf(pool, now)
  const open = [...definitions.checks.values()].filter((stored) => stored.check.window !== undefined && isOpen(stored)).map((stored) => stored.id).join()
  if (open !== before) await bumpDefinitions(pool)
  return open
}

/** Rolls up windows that have ended. Gives how many there were. */
export async function rollUpDue(pool: Pool, now: Instant): Promise<number> {
  const due = await dueWindows(pool, now, 200)
  if (due.length > 0) await transaction(pool, (on) => rollUp(on, due))
  return due.length
}

/** Makes what questions read: the sheets of ten minutes and of days that ended or changed. Gives how many there were. */
export const makeSheets = async (pool: Pool, now: Instant): Promise<number> => (await makeDueSheets(pool, now)) + (await makeDueDaySheets(pool, now))

/** Makes partitions ahead, drops what is past its retention and orders nobody answers. */
export async function tidy(pool: Pool, definitions: Definitions, now: Instant): Promise<void> {
  const { keep } = definitions.settings
  await keepPartitions(pool, now, { observation: keptFor(keep.observation), evidence: keptFor(keep.evidence) })
  await dropOldSheets(pool, now - keptFor(keep.observation))
  await dropOldOrders(pool, now)
  await dropOldEvents(pool, now - 10 * 60_000)
  await dropOldDeliveries(pool, now - keep.delivery * DAY)
  await dropOldInbox(pool, now)
  await dropEndedSessions(pool, now)
  for (const { id, createdAt } of definitions.checks.values()) await packEndedDays(pool, id, createdAt, now)
  await dropOldDays(pool, now - TRIES_KEPT)
  await dropOldRollups(pool, '5m', now - keep.rollup5m * DAY)
  await dropOldRollups(pool, '1h', now - keep.rollup1h * DAY)
  await dropOldRollups(pool, '1d', now - keep.rollup1d * DAY)
  await dropOldDaySheets(pool, now - keep.rollup1d * DAY)
}
